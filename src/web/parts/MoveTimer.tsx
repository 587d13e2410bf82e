import { useEffect, useRef, useState } from "react";
import { EXERCISES, type Exercise, MEASURED_MS, measuredTimes, type Press } from "../../core/drills/measuring.ts";
import { GESTURES, type MoveKind } from "../../core/hands/gestures.ts";
import type { Player } from "../../core/passage/schema.ts";
import { Select } from "./Select.tsx";

/** Ten seconds of one move on the keys or under the pointer: how long it takes when done as fast as is comfortable. */
export function MoveTimer({ player, onTake }: { player: Player; onTake(times: NonNullable<Player["moveMs"]>): void }) {
  const [id, setId] = useState(EXERCISES[0]!.id);
  const exercise = EXERCISES.find((one) => one.id === id)!;
  return (
    <div className="flex flex-col gap-2">
      <label className="flex items-center gap-2">
        move
        <Select
          className="select select-sm w-auto"
          label="Move to measure"
          value={id}
          options={EXERCISES.map((one) => ({ value: one.id, says: one.title }))}
          onChoose={setId}
        />
      </label>
      <Timer key={id} exercise={exercise} player={player} onTake={onTake} />
    </div>
  );
}

function Timer({ exercise, player, onTake }: { exercise: Exercise; player: Player; onTake(times: NonNullable<Player["moveMs"]>): void }) {
  const [phase, setPhase] = useState<"idle" | "running" | "done">("idle");
  const [left, setLeft] = useState(MEASURED_MS / 1000);
  const [times, setTimes] = useState<Player["moveMs"] | null>(null);
  const presses = useRef<Press[]>([]);
  const latest = useRef(player);
  latest.current = player;
  useEffect(() => {
    if (phase !== "running") return;
    const started = performance.now();
    const timer = setInterval(() => {
      const gone = performance.now() - started;
      setLeft(Math.max(0, Math.ceil((MEASURED_MS - gone) / 1000)));
      if (gone < MEASURED_MS) return;
      setTimes(measuredTimes(exercise, presses.current, latest.current));
      setPhase("done");
    }, 100);
    return () => clearInterval(timer);
  }, [phase, exercise]);

  const press = (key: string, isDown: boolean) => {
    if (phase !== "running") return;
    const last = presses.current.findLast((one) => one.key === key);
    if ((last?.isDown ?? false) !== isDown) presses.current.push({ at: performance.now(), key, isDown });
  };
  const start = () => {
    presses.current = [];
    setTimes(null);
    setLeft(MEASURED_MS / 1000);
    setPhase("running");
  };
  const targets = exercise.kind === "hold" ? ["down"] : ["one", "other"];
  const onKey = (event: React.KeyboardEvent, isDown: boolean) => {
    if (phase !== "running" || event.key === "Tab" || event.key === "Escape") return;
    event.preventDefault();
    if (!event.repeat) press(exercise.kind === "hold" ? "down" : event.code, isDown);
  };
  return (
    <div className="flex flex-wrap items-center gap-4">
      {targets.map((target, i) => (
        <button
          key={target}
          type="button"
          className={`btn h-16 touch-none ${targets.length === 1 ? "min-w-56" : "min-w-28"} ${phase === "running" ? "btn-primary" : ""}`}
          onClick={() => phase !== "running" && start()}
          onPointerDown={() => press(target, true)}
          onPointerUp={() => press(target, false)}
          onPointerLeave={() => press(target, false)}
          onKeyDown={(event) => onKey(event, true)}
          onKeyUp={(event) => onKey(event, false)}
        >
          {phase === "running" ? (i === 0 ? `${left} s` : "and back") : i === 0 ? "Measure it (ten seconds)" : "and back"}
        </button>
      ))}
      <p className="max-w-md" role="status">
        {phase === "idle" &&
          `${exercise.says} ${exercise.kind === "hold" ? "Space bar or pointer" : "Any two keys or both buttons"}, as fast as it goes with ease.`}
        {phase === "running" && "Again and again. No strain."}
        {phase === "done" && !times && "Too few for a measure. Try again."}
        {phase === "done" && times && (
          <>
            {(Object.keys(times) as MoveKind[]).map((kind) => `${GESTURES[kind].asks}: ${times[kind]} ms`).join(" · ")}.{" "}
            <button type="button" className="link" onClick={() => onTake(times)}>
              Take {Object.keys(times).length === 1 ? "this" : "these"}
            </button>
          </>
        )}
      </p>
    </div>
  );
}
