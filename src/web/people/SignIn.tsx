import { useEffect, useState } from "react";
import { Link, useLocation, useNavigate } from "react-router";
import { newAccount } from "../../api/wire.ts";
import { PassphraseField } from "../parts/PassphraseField.tsx";
import { Trouble } from "../parts/Trouble.tsx";
import { troubleOf, useAcceptMutation, useSignInMutation } from "../store/api.ts";

/** Where somebody signs in. */
export function SignIn() {
  const [signIn, { error, isLoading }] = useSignInMutation();
  return (
    <Form title="Sign in" action={isLoading ? "Signing in …" : "Sign in"} isBusy={isLoading} error={error} onSend={signIn} passphrase="current-password">
      <p className="quiet">No account? Who runs this server, or somebody who has one here, can invite you.</p>
    </Form>
  );
}

/** Where somebody who was invited makes their account; the invitation is what follows # in the address. */
export function Invitation() {
  const [accept, { error, isLoading }] = useAcceptMutation();
  const secret = useLocation().hash.slice(1);
  const navigate = useNavigate();
  return (
    <Form
      title="You are invited"
      lead="Choose the name you sign in with, and a passphrase: at least 12 characters, a few words that do not go together."
      action={isLoading ? "Making your account …" : "Make my account"}
      isBusy={isLoading}
      error={error}
      passphrase="new-password"
      check={(typed) => newAccount.safeParse(typed).error?.issues[0]?.message ?? null}
      onSend={async (typed) => {
        if (!(await accept({ secret, ...typed })).error) navigate("/", { replace: true });
      }}
    >
      <p className="quiet">
        You have an account already?{" "}
        <Link className="link" to="/">
          Sign in
        </Link>
      </p>
    </Form>
  );
}

interface Typed {
  name: string;
  passphrase: string;
}

function Form(props: {
  title: string;
  lead?: string;
  action: string;
  isBusy: boolean;
  error: unknown;
  passphrase: "current-password" | "new-password";
  /** What is wrong with what was typed; null where nothing is. */
  check?(typed: Typed): string | null;
  onSend(typed: Typed): unknown;
  children: React.ReactNode;
}) {
  const { title, lead, action, isBusy, error, passphrase: kind, check, onSend, children } = props;
  const [typed, setTyped] = useState<Typed>({ name: "", passphrase: "" });
  const [wrong, setWrong] = useState<string | null>(null);
  useEffect(() => {
    document.title = `${title} · Rest Hand`;
  }, [title]);
  const field = (change: Partial<Typed>) => {
    setWrong(null);
    setTyped({ ...typed, ...change });
  };
  return (
    <form
      className="mx-auto mt-12 flex max-w-md flex-col gap-4 px-4 text-lg"
      onSubmit={(event) => {
        event.preventDefault();
        const says = check?.(typed) ?? null;
        setWrong(says);
        if (says === null) void onSend(typed);
      }}
    >
      <h1 className="text-3xl font-bold">{title}</h1>
      {lead && <p>{lead}</p>}
      <label className="flex flex-col gap-1">
        <span className="font-bold">Name</span>
        <input
          className="input input-lg w-full"
          value={typed.name}
          autoComplete="username"
          // biome-ignore lint/a11y/noAutofocus: there is nothing else to do here
          autoFocus
          required
          maxLength={60}
          onChange={(event) => field({ name: event.target.value })}
        />
      </label>
      <PassphraseField label="Passphrase" kind={kind} value={typed.passphrase} size="large" onChange={(passphrase) => field({ passphrase })} />
      {wrong !== null && <Trouble title={wrong} />}
      {wrong === null && error !== undefined && <Trouble {...troubleOf(error)} />}
      <button type="submit" className="btn btn-primary btn-lg" disabled={isBusy}>
        {action}
      </button>
      {children}
    </form>
  );
}
