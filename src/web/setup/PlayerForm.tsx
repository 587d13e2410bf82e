import { useMemo, useState } from "react";
import { GESTURES, MOVES } from "../../core/hands/gestures.ts";
import { SCHOOL_KEYS, type SchoolKey, schoolOf } from "../../core/hands/schools.ts";
import { type Player, playerSchema } from "../../core/passage/schema.ts";
import { DEFAULT_MOVE_MS, DEFAULT_REACH_MM } from "../../core/passage/settings.ts";
import { RadioQuestion } from "../parts/RadioQuestion.tsx";
import { PalmTimer } from "./PalmTimer.tsx";
import { EXAMPLES, exampleWords } from "./schools.ts";

/** How someone plays: every school in plain words with what it changes, reach, and how long moves take. */
export function PlayerForm({ player, onChange }: { player: Player; onChange(player: Player): void }) {
  const hands = player.playsWith ?? "pick";
  const setMoves = (moves: Player["moveMs"]) => onChange(withoutEmpty({ ...player, moveMs: { ...player.moveMs, ...moves } }));
  return (
    <div className="flex flex-col gap-6">
      {SCHOOL_KEYS.filter((key) => schoolOf(key).askedOf?.includes(hands) ?? true).map((key) => (
        <SchoolQuestion key={key} school={key} player={player} onChange={onChange} />
      ))}
      <div className="flex flex-wrap items-center gap-3">
        <span className="font-bold">Comfortable span, index to little finger</span>
        <Millis
          value={player.reachMm ?? DEFAULT_REACH_MM}
          least={60}
          most={180}
          unit="mm"
          label="Comfortable span in mm"
          onChange={(reachMm) => onChange({ ...player, reachMm })}
        />
      </div>
      <fieldset>
        <legend className="mb-2 font-bold">How long moves take</legend>
        <PalmTimer onMeasured={(palmLand, palmLift) => setMoves({ palmLand, palmLift })} />
        <div className="mt-3 grid gap-x-8 gap-y-2 sm:grid-cols-2">
          {MOVES.map((kind) => (
            <div key={kind} className="flex items-center justify-between gap-3">
              <span>{GESTURES[kind].asks}</span>
              <Millis
                value={player.moveMs?.[kind] ?? DEFAULT_MOVE_MS[kind]}
                least={5}
                most={1000}
                unit="ms"
                label={`${GESTURES[kind].asks}, in ms`}
                onChange={(ms) => setMoves({ [kind]: ms })}
              />
            </div>
          ))}
        </div>
      </fieldset>
    </div>
  );
}

function SchoolQuestion({ school, player, onChange }: { school: SchoolKey; player: Player; onChange(player: Player): void }) {
  const { asks, options } = schoolOf(school);
  const words = useMemo(() => exampleWords(school, player), [school, player]);
  return (
    <RadioQuestion
      name={school}
      asks={asks}
      value={player[school] ?? options[0]!.value}
      options={options}
      onChoose={(value) => onChange(playerSchema.parse({ ...player, [school]: value }))}
    >
      <p className="quiet mt-1 text-base" aria-live="polite">
        On {EXAMPLES[school].music}: {words.join(" ")}
      </p>
    </RadioQuestion>
  );
}

function Millis({
  value,
  least,
  most,
  unit,
  label,
  onChange,
}: {
  value: number;
  least: number;
  most: number;
  unit: string;
  label: string;
  onChange(value: number): void;
}) {
  const [text, setText] = useState<string | null>(null);
  const fits = (words: string) => words.trim() !== "" && Number(words) >= least && Number(words) <= most;
  return (
    <span className="flex items-center gap-2">
      <input
        className="input input-sm w-20 text-base"
        inputMode="numeric"
        aria-label={label}
        aria-invalid={text !== null && !fits(text)}
        title={`${least} to ${most} ${unit}`}
        value={text ?? value}
        onChange={(event) => {
          setText(event.target.value);
          if (fits(event.target.value)) onChange(Number(event.target.value));
        }}
        onBlur={() => setText(null)}
      />
      <span className="quiet">{unit}</span>
    </span>
  );
}

function withoutEmpty(player: Player): Player {
  return player.moveMs && Object.keys(player.moveMs).length === 0 ? { ...player, moveMs: undefined } : player;
}
