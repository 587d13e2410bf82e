import { useMemo, useState } from "react";
import { type Player, playerSchema } from "../../core/passage/schema.ts";
import { DEFAULT_MOVE_MS, DEFAULT_REACH_MM } from "../../core/passage/settings.ts";
import { RadioQuestion } from "../parts/RadioQuestion.tsx";
import { PalmTimer } from "./PalmTimer.tsx";
import { exampleWords, SCHOOLS, type School } from "./schools.ts";

type MoveKind = keyof typeof DEFAULT_MOVE_MS;

const MOVE_WORDS: Readonly<Record<MoveKind, string>> = {
  palmLand: "Palm lands",
  palmLift: "Palm lifts",
  palmShift: "Palm shifts to other strings",
  release: "Let a chord go",
  repress: "Press it again",
  indexFlatten: "Lay the index flat",
  indexArch: "Arch the index",
  lay: "Lay the hand across all strings",
  restore: "Come back to the chord",
  spare: "Lay a spare finger",
  thumbTravel: "Thumb to the next string",
  thumbTravelNext: "… and each further one",
};

/** How someone plays: every school in plain words with what it changes, reach, and how long moves take. */
export function PlayerForm({ player, onChange }: { player: Player; onChange(player: Player): void }) {
  const hands = player.playsWith ?? "pick";
  const setMoves = (moves: Player["moveMs"]) => onChange(withoutEmpty({ ...player, moveMs: { ...player.moveMs, ...moves } }));
  return (
    <div className="flex flex-col gap-6">
      {SCHOOLS.filter((school) => !school.forHands || school.forHands.includes(hands)).map((school) => (
        <SchoolQuestion key={school.key} school={school} player={player} onChange={onChange} />
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
          {(Object.keys(MOVE_WORDS) as MoveKind[]).map((kind) => (
            <div key={kind} className="flex items-center justify-between gap-3">
              <span>{MOVE_WORDS[kind]}</span>
              <Millis
                value={player.moveMs?.[kind] ?? DEFAULT_MOVE_MS[kind]}
                least={5}
                most={1000}
                unit="ms"
                label={`${MOVE_WORDS[kind]}, in ms`}
                onChange={(ms) => setMoves({ [kind]: ms })}
              />
            </div>
          ))}
        </div>
      </fieldset>
    </div>
  );
}

function SchoolQuestion({ school, player, onChange }: { school: School; player: Player; onChange(player: Player): void }) {
  const chosen = (player[school.key] as string | undefined) ?? school.options[0]!.value;
  const words = useMemo(() => exampleWords(school, player), [school, player]);
  return (
    <RadioQuestion
      name={school.key}
      asks={school.asks}
      value={chosen}
      options={school.options}
      onChoose={(value) => onChange(playerSchema.parse({ ...player, [school.key]: value }))}
    >
      <p className="quiet mt-1 text-base" aria-live="polite">
        On {school.example.music}: {words.join(" ")}
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
