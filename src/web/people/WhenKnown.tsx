import { Fragment, useEffect } from "react";
import { useDispatch } from "react-redux";
import { Navigate, useLocation } from "react-router";
import { Waiting } from "../parts/Waiting.tsx";
import { useMeQuery } from "../store/api.ts";
import { sendDrafts } from "../store/drafts-outbox.ts";
import { sendWaiting } from "../store/practice-outbox.ts";
import type { Dispatch } from "../store/root.ts";
import { useChanges } from "../store/use-changes.ts";
import { setOwner } from "../store/whose.ts";
import { Join } from "./Join.tsx";
import { Invitation, SignIn } from "./SignIn.tsx";

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
  if (isLoading) return <Waiting says="Opening" />;
  if (isOut) return pathname === "/invitation" ? <Invitation /> : <SignIn />;
  // The first page of whoever just made an account is not the invitation that they have taken.
  if (pathname === "/invitation") return data?.login && location.hash ? <Join /> : <Navigate to="/" replace />;
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
