import { useCallback, useEffect, useRef } from "react";
import { useDispatch } from "react-redux";
import type { PracticeSession } from "../../core/practice/record.ts";
import { putOut, sendWaiting } from "../store/practice-outbox.ts";
import type { Dispatch } from "../store/root.ts";

/** The server gets a session when nothing more was tried for so long, in ms; this browser has it at once. */
const SEND_AFTER_MS = 1000;

/** Brings sessions into the log; says false where this browser has no room to keep one on its way. */
export function useLog(): (session: PracticeSession) => boolean {
  const dispatch = useDispatch<Dispatch>();
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const send = useCallback(() => {
    clearTimeout(timer.current);
    void dispatch(sendWaiting());
  }, [dispatch]);
  useEffect(() => send, [send]);
  return useCallback(
    (session) => {
      clearTimeout(timer.current);
      timer.current = setTimeout(send, SEND_AFTER_MS);
      return putOut(session);
    },
    [send],
  );
}
