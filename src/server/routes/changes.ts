import { Router } from "express";
import type { Told } from "../../api/wire.ts";
import type { Services } from "../services.ts";

/** A line goes over the connection at least so often, in ms, so that no proxy takes it for dead. */
const BREATH_MS = 15_000;
/** A page that was cut off comes again after so many ms. */
const COME_AGAIN_MS = 1_000;

/** What changes, as it does: server-sent events. The first one says that anything may have, so that nothing is lost on the way. */
export function changeRoutes({ hear, onEnd }: Pick<Services, "hear" | "onEnd">): Router {
  const router = Router();
  router.get("/changes", (request, response) => {
    response.set({ "Content-Type": "text/event-stream", "X-Accel-Buffering": "no" });
    response.write(`retry: ${COME_AGAIN_MS}\n\n`);
    const tell = (change: Told) => void response.write(`data: ${JSON.stringify(change)}\n\n`);
    const stop = hear(tell);
    const stay = onEnd(() => response.end());
    tell({ what: "anything" });
    const breath = setInterval(() => response.write(":\n\n"), BREATH_MS);
    request.on("close", () => {
      clearInterval(breath);
      stop();
      stay();
    });
  });
  return router;
}
