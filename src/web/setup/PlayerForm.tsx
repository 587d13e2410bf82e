import { useMemo } from "react";
import { GESTURES, MOVES } from "../../core/hands/gestures.ts";
import { schoolOf } from "../../core/hands/schools.ts";
import type { Player } from "../../core/passage/schema.ts";
import { DEFAULT_MOVE_MS, DEFAULT_REACH_MM } from "../../core/passage/settings.ts";
import { HandsPicture } from "../parts/HandsPicture.tsx";
import { MoveTimer } from "../parts/MoveTimer.tsx";
import { NumberField } from "../parts/TypedField.tsx";
import { AS_USUAL, answered, EXAMPLES, exampleOf, type Question, questionsFor } from "./schools.ts";

/** How someone plays: every school in plain words with what it changes, reach, and how long moves take. */
export function PlayerForm({ player, onChange }: { player: Player; onChange(player: Player): void }) {
  const questions = useMemo(() => questionsFor(player), [player]);
  const setMoves = (moves: Player["moveMs"]) => onChange(withoutEmpty({ ...player, moveMs: { ...player.moveMs, ...moves } }));
  return (
    <div className="flex flex-col gap-6">
      {questions.map((question) => (
        <SchoolQuestion key={question.school} question={question} player={player} onChange={onChange} />
      ))}
      <div className="flex flex-wrap items-center gap-3">
        <span className="font-bold">Comfortable span, index to little finger</span>
        <Measure
          value={player.reachMm ?? DEFAULT_REACH_MM}
          least={60}
          most={180}
          unit="mm"
          label="Comfortable span in mm"
          onTake={(reachMm) => onChange({ ...player, reachMm })}
        />
      </div>
      <fieldset>
        <legend className="mb-2 font-bold">How long moves take</legend>
        <MoveTimer player={player} onTake={setMoves} />
        <div className="mt-3 grid gap-x-8 gap-y-2 sm:grid-cols-2">
          {MOVES.map((kind) => (
            <div key={kind} className="flex items-center justify-between gap-3">
              <span>{GESTURES[kind].asks}</span>
              <Measure
                value={player.moveMs?.[kind] ?? DEFAULT_MOVE_MS[kind]}
                least={5}
                most={1000}
                unit="ms"
                label={`${GESTURES[kind].asks}, in ms`}
                onTake={(ms) => setMoves({ [kind]: ms })}
              />
            </div>
          ))}
        </div>
      </fieldset>
    </div>
  );
}

/** One question; every answer with a picture of what the hands do then. */
function SchoolQuestion({ question, player, onChange }: { question: Question; player: Player; onChange(player: Player): void }) {
  const { school, options, value } = question;
  const { asks } = schoolOf(school);
  const shown = useMemo(() => question.options.map((option) => exampleOf(school, answered(player, school, option.value))), [question, school, player]);
  return (
    <fieldset>
      <legend className="mb-1 font-bold">{asks}</legend>
      <p className="quiet mb-2 text-base">On {EXAMPLES[school].music}:</p>
      <div className="grid gap-3 sm:grid-cols-2">
        {options.map((option, i) => (
          <label
            key={option.value}
            className={`flex cursor-pointer flex-col gap-2 rounded-lg border-2 p-3 ${option.value === value ? "border-base-content" : "border-base-300"} ${option.value === AS_USUAL ? "sm:col-span-2" : ""}`}
          >
            <span className="flex items-center gap-2">
              <input
                type="radio"
                className="radio radio-sm"
                name={school}
                checked={option.value === value}
                aria-describedby={`${school}-${option.value}`}
                onChange={() => onChange(answered(player, school, option.value))}
              />
              {option.says}
            </span>
            {option.value !== AS_USUAL && shown[i]!.step && <HandsPicture step={shown[i]!.step} className="w-full max-w-md" />}
            <span id={`${school}-${option.value}`} className="quiet text-base first-letter:uppercase">
              {option.value === AS_USUAL ? "Every instrument's own way" : shown[i]!.says}.
            </span>
          </label>
        ))}
      </div>
    </fieldset>
  );
}

function Measure({ label, unit, ...field }: { label: string; unit: string; value: number; least: number; most: number; onTake(value: number): void }) {
  return (
    <span className="flex items-center gap-2">
      <NumberField {...field} unit={unit} aria-label={label} className="input input-sm w-20 text-base" takes="typing" />
      <span className="quiet">{unit}</span>
    </span>
  );
}

function withoutEmpty(player: Player): Player {
  return player.moveMs && Object.keys(player.moveMs).length === 0 ? { ...player, moveMs: undefined } : player;
}
