import { Router } from "express";
import type { Told } from "../../api/wire.ts";
import { Refusal } from "../problems.ts";
import type { Services } from "../services.ts";

/** A line goes over the connection at least so often, in ms, so that no proxy takes it for dead. */
const BREATH_MS = 15_000;
/** A stream ends after so many ms, and the page comes again. */
const LONGEST_MS = 15 * 60 * 1000;
/** A page that was cut off comes again after so many ms. */
const COME_AGAIN_MS = 1_000;

/** What changes, as it does: server-sent events. The first one says that anything may have, so that nothing is lost on the way. */
export function changeRoutes({ hear, onEnd }: Pick<Services, "hear" | "onEnd">): Router {
  const router = Router();
  router.get("/changes", (request, response) => {
    let tell = (_change: Told): void => {};
    const stop = hear((change) => tell(change));
    if (!stop) throw new Refusal({ status: 429, title: "Too many pages", detail: "Close some of them: this one does not hear what the others change." });
    response.set({ "Content-Type": "text/event-stream", "X-Accel-Buffering": "no" });
    response.write(`retry: ${COME_AGAIN_MS}\n\n`);
    tell = (change) => void response.write(`data: ${JSON.stringify(change)}\n\n`);
    const stay = onEnd(() => response.end());
    tell({ what: "anything" });
    // Whoever is not signed in any more does not come again.
    const last = setTimeout(() => response.end(), LONGEST_MS);
    const breath = setInterval(() => response.write(":\n\n"), BREATH_MS);
    request.on("close", () => {
      clearInterval(breath);
      clearTimeout(last);
      stop();
      stay();
    });
  });
  return router;
}
