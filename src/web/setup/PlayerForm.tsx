import { useMemo, useState } from "react";
import { GESTURES, MOVES } from "../../core/hands/gestures.ts";
import { SCHOOL_KEYS, type SchoolKey, schoolOf } from "../../core/hands/schools.ts";
import { type Player, playerSchema } from "../../core/passage/schema.ts";
import { DEFAULT_MOVE_MS, DEFAULT_REACH_MM } from "../../core/passage/settings.ts";
import { HandsPicture } from "../parts/HandsPicture.tsx";
import { PalmTimer } from "./PalmTimer.tsx";
import { EXAMPLES, exampleOf } from "./schools.ts";

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

/** One question; every answer with a picture of what the hands do then. */
function SchoolQuestion({ school, player, onChange }: { school: SchoolKey; player: Player; onChange(player: Player): void }) {
  const { asks, options } = schoolOf(school);
  const shown = useMemo(() => options.map(({ value }) => exampleOf(school, { ...player, [school]: value } as Player)), [options, school, player]);
  const value = player[school] ?? options[0]!.value;
  return (
    <fieldset>
      <legend className="mb-1 font-bold">{asks}</legend>
      <p className="quiet mb-2 text-base">On {EXAMPLES[school].music}:</p>
      <div className="grid gap-3 sm:grid-cols-2">
        {options.map((option, i) => (
          <label
            key={option.value}
            className={`flex cursor-pointer flex-col gap-2 rounded-lg border-2 p-3 ${option.value === value ? "border-base-content" : "border-base-300"}`}
          >
            <span className="flex items-center gap-2">
              <input
                type="radio"
                className="radio radio-sm"
                name={school}
                checked={option.value === value}
                aria-describedby={`${school}-${option.value}`}
                onChange={() => onChange(playerSchema.parse({ ...player, [school]: option.value }))}
              />
              {option.says}
            </span>
            {shown[i]!.step && <HandsPicture step={shown[i]!.step} className="w-full max-w-md" />}
            <span id={`${school}-${option.value}`} className="quiet text-base first-letter:uppercase">
              {shown[i]!.says}.
            </span>
          </label>
        ))}
      </div>
    </fieldset>
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
