import { format, formatDistanceToNow } from "date-fns";
import { Download, LogOut } from "lucide-react";
import { useState } from "react";
import { useDispatch } from "react-redux";
import { type Person, passphraseSchema } from "../../api/wire.ts";
import { CopyAddress } from "../parts/CopyAddress.tsx";
import { Dialog } from "../parts/Dialog.tsx";
import { PassphraseField } from "../parts/PassphraseField.tsx";
import { Trouble } from "../parts/Trouble.tsx";
import {
  api,
  troubleOf,
  useChangePassphraseMutation,
  useDeleteAccountMutation,
  useEndSignInsMutation,
  useInvitationsQuery,
  useInviteMutation,
  useSignInsQuery,
  useSignOutMutation,
  useWithdrawMutation,
} from "../store/api.ts";
import { unsavedIds } from "../store/drafts.ts";
import { notify } from "../store/notices-slice.ts";
import { hasWaiting } from "../store/practice-outbox.ts";
import type { Dispatch } from "../store/root.ts";
import { forgetHere } from "../store/whose.ts";
import { Teachers } from "./Teachers.tsx";

/** The account of who is signed in: where, with which passphrase, whom they invited, and its end. */
export function Account({ person }: { person: Person }) {
  const [signOut, signingOut] = useSignOutMutation();
  const [asked, setAsked] = useState<"passphrase" | "delete" | "unsaved" | null>(null);
  const dispatch = useDispatch<Dispatch>();
  const leave = async () => {
    const { error } = await signOut();
    if (error) return;
    if (!isBehind()) forgetHere();
    dispatch(api.util.resetApiState());
  };
  return (
    <section aria-label="Account">
      <div className="mb-2 flex flex-wrap items-center gap-3">
        <h2 className="mr-auto text-2xl font-bold">Account</h2>
        <button type="button" className="btn btn-sm" disabled={signingOut.isLoading} onClick={() => (isBehind() ? setAsked("unsaved") : void leave())}>
          <LogOut size={16} aria-hidden /> Sign out
        </button>
      </div>
      {signingOut.error !== undefined && <Trouble {...troubleOf(signingOut.error)} />}
      <p className="text-lg">
        Signed in as <b>{person.name}</b>.
      </p>
      <div className="mt-2 mb-6 flex flex-wrap gap-2">
        <button type="button" className="btn btn-sm" onClick={() => setAsked("passphrase")}>
          Change the passphrase
        </button>
        <a className="btn btn-sm" href="/api/backup?recordings" download>
          <Download size={16} aria-hidden /> Everything of mine (zip)
        </a>
        <button type="button" className="btn btn-sm btn-ghost" onClick={() => setAsked("delete")}>
          Delete this account
        </button>
      </div>
      <Teachers />
      <Places />
      {person.mayInvite && <Invitations />}
      {asked === "passphrase" && <ChangePassphrase name={person.name} onClose={() => setAsked(null)} />}
      {asked === "delete" && <DeleteAccount onClose={() => setAsked(null)} />}
      {asked === "unsaved" && (
        <Dialog title="Sign out?" onClose={() => setAsked(null)}>
          <p className="mb-4">Something you did has not reached the server yet. It stays in this browser, for when you sign in here again.</p>
          <button type="button" className="btn btn-primary" onClick={() => void leave()}>
            Sign out all the same
          </button>
        </Dialog>
      )}
    </section>
  );
}

/** Whether this browser keeps something that the library lacks. */
function isBehind(): boolean {
  return unsavedIds().length > 0 || hasWaiting();
}

/** Where somebody is signed in. */
function Places() {
  const { data, error } = useSignInsQuery();
  const [end] = useEndSignInsMutation();
  const others = data?.filter(({ isHere }) => !isHere) ?? [];
  return (
    <div className="mb-6">
      <div className="mb-1 flex flex-wrap items-center gap-3">
        <h3 className="mr-auto text-lg font-bold">Where you are signed in</h3>
        {others.length > 0 && (
          <button type="button" className="btn btn-sm" onClick={() => void end(undefined)}>
            Sign out everywhere else
          </button>
        )}
      </div>
      {error !== undefined && data === undefined && <Trouble {...troubleOf(error)} />}
      <ul className="divide-y divide-base-300">
        {data?.map(({ id, agent, seenAt, isHere }) => (
          <li key={id} className="flex flex-wrap items-center gap-3 py-2">
            <span className="mr-auto min-w-0 break-words">
              {browserOf(agent)}
              <span className="quiet"> {isHere ? "this one" : `last here ${formatDistanceToNow(seenAt, { addSuffix: true })}`}</span>
            </span>
            {!isHere && (
              <button type="button" className="btn btn-sm btn-ghost" onClick={() => void end(id)} aria-label={`Sign out ${browserOf(agent)}`}>
                Sign out
              </button>
            )}
          </li>
        ))}
      </ul>
    </div>
  );
}

const SYSTEMS = ["Android", "iPhone", "iPad", "Windows", "Macintosh", "CrOS", "Linux"] as const;

/** On what a browser runs, as far as it says so. */
function browserOf(agent: string): string {
  const system = SYSTEMS.find((name) => agent.includes(name));
  return system ? `A browser on ${system === "CrOS" ? "a Chromebook" : system}` : "A browser";
}

function Invitations() {
  const { data } = useInvitationsQuery();
  const [invite, made] = useInviteMutation();
  const [withdraw] = useWithdrawMutation();
  const [note, setNote] = useState("");
  const [asStudent, setAsStudent] = useState(false);
  const address = made.data && `${location.origin}/invitation#${made.data.secret}`;
  return (
    <div>
      <h3 className="mb-1 text-lg font-bold">Invitations</h3>
      <form
        className="flex flex-wrap items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          void invite({ note: note.trim(), asStudent }).then(() => setNote(""));
        }}
      >
        <label className="flex min-w-0 flex-col gap-1">
          <span>For whom</span>
          <input className="input" value={note} required maxLength={100} onChange={(event) => setNote(event.target.value)} />
        </label>
        <label className="flex items-center gap-2 py-2">
          <input type="checkbox" className="checkbox checkbox-sm" checked={asStudent} onChange={({ target }) => setAsStudent(target.checked)} />
          as my student
        </label>
        <button type="submit" className="btn" disabled={made.isLoading}>
          Invite
        </button>
      </form>
      {made.error !== undefined && <Trouble {...troubleOf(made.error)} />}
      {address && <CopyAddress address={address} says="Send this address; it is shown this once, and works once, for 14 days:" />}
      <ul className="mt-2 divide-y divide-base-300">
        {data?.map((one) => (
          <li key={one.id} className="flex flex-wrap items-center gap-3 py-2">
            <span className="mr-auto min-w-0 break-words">
              {one.note}{" "}
              <span className="quiet">
                {one.asStudent ? "as your student, " : ""}can be taken until {format(one.expiresAt, "d MMMM")}
              </span>
            </span>
            <button type="button" className="btn btn-sm btn-ghost" onClick={() => void withdraw(one.id)} aria-label={`Withdraw the invitation for ${one.note}`}>
              Withdraw
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}

function ChangePassphrase({ name, onClose }: { name: string; onClose(): void }) {
  const [change, { error, isLoading }] = useChangePassphraseMutation();
  const [now, setNow] = useState("");
  const [next, setNext] = useState("");
  const [wrong, setWrong] = useState<string | null>(null);
  const dispatch = useDispatch<Dispatch>();
  return (
    <Dialog title="Change the passphrase" onClose={onClose}>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          const says = passphraseSchema.safeParse(next).error?.issues[0]?.message ?? null;
          setWrong(says);
          if (says !== null) return;
          void change({ now, passphrase: next }).then(({ error: failed }) => {
            if (failed) return;
            dispatch(notify({ says: "You have another passphrase. Everywhere else you are signed out." }));
            onClose();
          });
        }}
      >
        <input type="text" className="hidden" autoComplete="username" value={name} readOnly />
        <PassphraseField label="The one you have" kind="current-password" value={now} onChange={setNow} isFirst />
        <PassphraseField label="The new one" kind="new-password" value={next} onChange={setNext} />
        {wrong !== null && <Trouble title={wrong} />}
        {wrong === null && error !== undefined && <Trouble {...troubleOf(error)} />}
        <button type="submit" className="btn btn-primary self-start" disabled={isLoading}>
          Change it
        </button>
      </form>
    </Dialog>
  );
}

function DeleteAccount({ onClose }: { onClose(): void }) {
  const [remove, { error, isLoading }] = useDeleteAccountMutation();
  const [passphrase, setPassphrase] = useState("");
  const dispatch = useDispatch<Dispatch>();
  return (
    <Dialog title="Delete this account" onClose={onClose}>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          void remove({ passphrase }).then(({ error: failed }) => {
            if (failed) return;
            forgetHere();
            dispatch(api.util.resetApiState());
          });
        }}
      >
        <p>
          Your passages, your log, your takes and recordings, and the backups kept on this server go with it, for good. Take everything of yours as a zip first
          if you want to keep it: another Rest Hand reads it.
        </p>
        <PassphraseField label="Your passphrase" kind="current-password" value={passphrase} onChange={setPassphrase} isFirst />
        {error !== undefined && <Trouble {...troubleOf(error)} />}
        <button type="submit" className="btn btn-neutral self-start" disabled={isLoading}>
          Delete everything of mine
        </button>
      </form>
    </Dialog>
  );
}
