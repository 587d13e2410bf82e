import { useEffect, useRef, useState } from "react";

const LASTS_MS = 10_000;
const FEWEST = 5;

/**
 * Ten seconds of laying down and lifting, on the space bar or under the pointer: how long either takes when done as fast
 * as is comfortable. Down is the palm landing and holding, up is lifting and hovering.
 */
export function PalmTimer({ onMeasured }: { onMeasured(landMs: number, liftMs: number): void }) {
  const [phase, setPhase] = useState<"idle" | "running" | "done">("idle");
  const [left, setLeft] = useState(LASTS_MS / 1000);
  const [result, setResult] = useState<{ land: number; lift: number } | null>(null);
  const times = useRef<{ down: number[]; up: number[] }>({ down: [], up: [] });
  const last = useRef<{ at: number; isDown: boolean } | null>(null);

  useEffect(() => {
    if (phase !== "running") return;
    const started = performance.now();
    const timer = setInterval(() => {
      const gone = performance.now() - started;
      setLeft(Math.max(0, Math.ceil((LASTS_MS - gone) / 1000)));
      if (gone < LASTS_MS) return;
      const { down, up } = times.current;
      setResult(down.length < FEWEST || up.length < FEWEST ? null : { land: measured(up, 50, 400), lift: measured(down, 40, 400) });
      setPhase("done");
    }, 100);
    return () => clearInterval(timer);
  }, [phase]);

  const press = (isDown: boolean) => {
    if (phase !== "running" || last.current?.isDown === isDown) return;
    const at = performance.now();
    if (last.current) (isDown ? times.current.up : times.current.down).push(at - last.current.at);
    last.current = { at, isDown };
  };
  const start = () => {
    times.current = { down: [], up: [] };
    last.current = null;
    setResult(null);
    setLeft(LASTS_MS / 1000);
    setPhase("running");
  };

  return (
    <div className="flex flex-wrap items-center gap-4">
      <button
        type="button"
        className={`btn h-16 min-w-56 touch-none ${phase === "running" ? "btn-primary" : ""}`}
        onClick={() => phase !== "running" && start()}
        onPointerDown={() => press(true)}
        onPointerUp={() => press(false)}
        onPointerLeave={() => press(false)}
        onKeyDown={(event) => {
          if (event.key !== " " || event.repeat || phase !== "running") return;
          event.preventDefault();
          press(true);
        }}
        onKeyUp={(event) => {
          if (event.key !== " " || phase !== "running") return;
          event.preventDefault();
          press(false);
        }}
      >
        {phase === "running" ? `Down and up, ${left} s` : "Measure my palm (ten seconds)"}
      </button>
      <p className="max-w-md" role="status">
        {phase === "idle" && "Press and let go again and again, as fast as your palm lands and lifts with ease. Space bar or pointer."}
        {phase === "running" && "Press: the palm lands. Let go: it lifts. No strain."}
        {phase === "done" && !result && "Too few for a measure. Try again."}
        {phase === "done" && result && (
          <>
            Landing {result.land} ms, lifting {result.lift} ms.{" "}
            <button type="button" className="link" onClick={() => onMeasured(result.land, result.lift)}>
              Take these
            </button>
          </>
        )}
      </p>
    </div>
  );
}

/** The middle one of the times, held to what a hand can do. */
function measured(times: number[], least: number, most: number): number {
  const sorted = [...times].sort((a, b) => a - b);
  return Math.round(Math.min(most, Math.max(least, sorted[Math.floor(sorted.length / 2)]!)));
}
