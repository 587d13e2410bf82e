import { useState } from "react";
import { useDispatch } from "react-redux";
import { parseSteps } from "../../core/chords/steps.ts";
import { figureRoot } from "../../core/edit/move-figure.ts";
import { ticksAt } from "../../core/edit/range.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { edit } from "../store/edit-slice.ts";
import { notify } from "../store/notices-slice.ts";
import type { Dispatch } from "../store/root.ts";
import { TypedLine } from "./TypedLine.tsx";

/** Some bars laid out again over a row of chords, each time moved to where it lies best. */
export function Sequence({ passage }: { passage: Passage }) {
  const dispatch = useDispatch<Dispatch>();
  const [bars, setBars] = useState({ from: 1, to: 1 });
  const many = passage.bars.length;
  const [first, last] = [Math.min(bars.from, many), Math.min(Math.max(bars.from, bars.to), many)];
  const range = { from: ticksAt(passage, { bar: first - 1, tick: 0 }), to: ticksAt(passage, { bar: last, tick: 0 }) };
  const read = (text: string) => parseSteps(text, figureRoot(passage, range));
  const lay = (text: string) => {
    const steps = read(text);
    if (!steps.ok) return;
    const which = first === last ? `Bar ${first}` : `Bars ${first} to ${last}`;
    const done = dispatch(edit({ kind: "repeat-figure", ...range, over: steps.steps }));
    const says = done
      ? `${which} laid out over ${text.trim()}, behind what was there. Undo takes it back.`
      : `${which} cannot be laid out so: a note has no place on this neck.`;
    dispatch(notify({ says }));
  };
  const number = (key: "from" | "to") => (
    <input
      type="number"
      className="input input-sm w-16"
      aria-label={key === "from" ? "First bar to lay out again" : "Last bar to lay out again"}
      min={1}
      max={many}
      value={key === "from" ? first : last}
      onChange={({ target }) => target.valueAsNumber >= 1 && setBars({ ...bars, [key]: Math.floor(target.valueAsNumber) })}
    />
  );
  return (
    <details>
      <summary className="cursor-pointer font-bold">The same figure over a row of chords</summary>
      <div className="mt-2 flex items-center gap-2">
        Bar {number("from")} to {number("to")}
      </div>
      <TypedLine
        label="Laid out again behind itself, over"
        hint="steps such as IV V I, or roots such as D E A: once for each; Enter does it"
        value=""
        read={(text) => {
          const steps = read(text);
          return steps.ok ? null : steps;
        }}
        onTake={() => {}}
        onEnter={lay}
      />
    </details>
  );
}
