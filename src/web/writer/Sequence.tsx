import { useMemo, useState } from "react";
import { useDispatch } from "react-redux";
import { ticksAt } from "../../core/edit/range.ts";
import { readRepeat } from "../../core/edit/repeat-figure.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { ToldBefore } from "../score/ToldBefore.tsx";
import { edit } from "../store/editing.ts";
import { notify } from "../store/notices-slice.ts";
import type { Dispatch } from "../store/root.ts";

/** Some bars laid out again over a row of chords, each time moved to where it lies best; what that does is told before. */
export function Sequence({ passage }: { passage: Passage }) {
  const dispatch = useDispatch<Dispatch>();
  const [bars, setBars] = useState({ from: 1, to: 1 });
  const [over, setOver] = useState("");
  const many = passage.bars.length;
  const first = Math.min(bars.from, many);
  const last = Math.min(Math.max(bars.from, bars.to), many);
  const range = useMemo(() => ({ from: ticksAt(passage, { bar: first - 1, tick: 0 }), to: ticksAt(passage, { bar: last, tick: 0 }) }), [passage, first, last]);
  const read = useMemo(() => readRepeat(passage, range, over), [passage, range, over]);
  const laid = read?.ok ? read.laid : null;
  const lay = () => {
    if (!read?.ok || !laid?.ok) return;
    dispatch(edit({ kind: "repeat-figure", ...range, over: read.over }));
    dispatch(notify({ says: `${first === last ? `Bar ${first}` : `Bars ${first} to ${last}`} laid out over ${over.trim()}. Undo takes it back.` }));
    setOver("");
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
      <form
        onSubmit={(event) => {
          event.preventDefault();
          lay();
        }}
      >
        <div className="my-2 flex items-center gap-2">
          Bar {number("from")} to {number("to")}
        </div>
        <label className="block min-w-0 flex-1">
          <span className="font-bold">Laid out again behind itself, over</span>
          <input
            className="input w-full font-mono text-lg"
            value={over}
            spellCheck={false}
            autoComplete="off"
            aria-invalid={read?.ok === false}
            onChange={({ target }) => setOver(target.value)}
          />
        </label>
        <button type="submit" className="btn btn-sm mt-2" disabled={!laid?.ok}>
          Lay it out
        </button>
        <div className="quiet min-h-6 text-sm" role="status">
          {read && !read.ok
            ? `Character ${read.at + 1}: ${read.says}`
            : laid && !laid.ok
              ? `Not there: ${laid.says}.`
              : "steps such as IV V I, or roots such as D E A: once for each; Enter does it"}
          {laid?.ok && <ToldBefore passage={passage} bars={laid.bars} told={laid.told} />}
        </div>
      </form>
    </details>
  );
}
