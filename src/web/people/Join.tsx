import { Link, useLocation, useNavigate } from "react-router";
import { Trouble } from "../parts/Trouble.tsx";
import { Waiting } from "../parts/Waiting.tsx";
import { troubleOf, useInvitationQuery, useJoinMutation } from "../store/api.ts";

/** An invitation, opened by somebody who is signed in: they become a student, or have no use for it. */
export function Join() {
  const secret = useLocation().hash.slice(1);
  const { data, error } = useInvitationQuery(secret);
  const [join, joining] = useJoinMutation();
  const navigate = useNavigate();
  const trouble = joining.error ?? (data ? undefined : error);
  return (
    <div className="mx-auto mt-12 flex max-w-md flex-col gap-4 px-4 text-lg">
      <h1 className="text-3xl font-bold">You are invited</h1>
      {!data && error === undefined && <Waiting says="Looking at the invitation" />}
      {trouble !== undefined && <Trouble {...troubleOf(trouble)} />}
      {data && !data.asStudent && <p>This invitation is for an account, and you have one. Give it to whom it is for.</p>}
      {data?.asStudent && (
        <>
          <p>
            <b>{data.by}</b> would like to teach you here, and to give you passages. What you practise {data.by} sees only if you let them, in Setup.
          </p>
          <button
            type="button"
            className="btn btn-primary btn-lg"
            disabled={joining.isLoading}
            onClick={() => void join(secret).then((done) => done.error === undefined && navigate("/setup", { replace: true }))}
          >
            Become a student of {data.by}
          </button>
        </>
      )}
      <Link className="link" to="/">
        To the shelf
      </Link>
    </div>
  );
}
