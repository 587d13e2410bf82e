import { Fragment, lazy, useEffect } from "react";
import { useDispatch } from "react-redux";
import { Navigate, useLocation } from "react-router";
import { Arriving } from "../parts/Arriving.tsx";
import { Waiting } from "../parts/Waiting.tsx";
import { useMeQuery } from "../store/api.ts";
import { sendDrafts } from "../store/drafts-outbox.ts";
import { sendWaiting } from "../store/practice-outbox.ts";
import type { Dispatch } from "../store/root.ts";
import { useChanges } from "../store/use-changes.ts";
import { setOwner } from "../store/whose.ts";

// Only where somebody has to say who they are.
const Join = lazy(() => import("./Join.tsx").then((m) => ({ default: m.Join })));
const Invitation = lazy(() => import("./SignIn.tsx").then((m) => ({ default: m.Invitation })));
const SignIn = lazy(() => import("./SignIn.tsx").then((m) => ({ default: m.SignIn })));

/** Holds the places back until it is known whose they are. A server that is away holds nothing back: what this browser keeps is theirs who were here last. */
export function WhenKnown({ children }: { children: React.ReactNode }) {
  const { data, isLoading } = useMeQuery();
  const { pathname } = useLocation();
  const isOut = data?.login === true && data.person === null;
  const person = data?.person?.id ?? null;
  if (data && !isOut) setOwner(person);
  const dispatch = useDispatch<Dispatch>();
  useEffect(() => {
    if (isLoading || isOut) return;
    // What was practised or changed while the server was away, or while nobody was signed in.
    const send = () => {
      void dispatch(sendWaiting());
      void dispatch(sendDrafts());
    };
    send();
    addEventListener("online", send);
    return () => removeEventListener("online", send);
  }, [isLoading, isOut, dispatch]);
  const opening = <Waiting says="Opening" />;
  if (isLoading) return opening;
  if (isOut) return <Arriving waiting={opening}>{pathname === "/invitation" ? <Invitation /> : <SignIn />}</Arriving>;
  // The first page of whoever just made an account is not the invitation that they have taken.
  if (pathname === "/invitation")
    return data?.login && location.hash ? (
      <Arriving waiting={opening}>
        <Join />
      </Arriving>
    ) : (
      <Navigate to="/" replace />
    );
  // Whatever a place remembers is that of one person.
  return (
    <Fragment key={person}>
      <Listening />
      {children}
    </Fragment>
  );
}

function Listening() {
  useChanges();
  return null;
}
