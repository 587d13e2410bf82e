import { ArrowDown, ArrowLeft, ArrowRight, ArrowUp } from "lucide-react";
import { useMemo, useState } from "react";
import type { Edit } from "../../core/edit/edit.ts";
import { type MoveBy, movedFigure } from "../../core/edit/move-figure.ts";
import { readRepeat } from "../../core/edit/repeat-figure.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { Dialog } from "../parts/Dialog.tsx";
import { ToldBefore } from "../score/ToldBefore.tsx";
import type { Range } from "./selection.ts";

/** What the keys of the dialog do. */
const KEYS: ReadonlyMap<string, MoveBy> = new Map<string, MoveBy>([
  ["ArrowRight", { frets: 1 }],
  ["ArrowLeft", { frets: -1 }],
  ["ArrowUp", { strings: -1 }],
  ["ArrowDown", { strings: 1 }],
  ["PageUp", { semitones: 12 }],
  ["PageDown", { semitones: -12 }],
  ["+", { semitones: 1 }],
  ["-", { semitones: -1 }],
]);

/** A figure moved by arrows: what stays open, what leaves the neck and what the hands make of it is told before it is done. */
export function MoveDialog({ passage, range, onEdit, onClose }: { passage: Passage; range: Range; onEdit(made: Edit): void; onClose(): void }) {
  const [by, setBy] = useState<MoveBy | null>(null);
  const [over, setOver] = useState("");
  const moved = useMemo(() => (by ? movedFigure(passage, range.from, range.to, by) : null), [passage, range, by]);
  const step = (change: MoveBy) =>
    setBy((now) => {
      const [[kind, by]] = Object.entries(change) as [[keyof typeof change, number]];
      const sum = by + ((now as Readonly<Record<string, number>> | null)?.[kind] ?? 0);
      // Nothing at all is no move.
      return sum === 0 ? null : ({ [kind]: sum } as MoveBy);
    });
  const read = useMemo(() => readRepeat(passage, range, over), [passage, range, over]);
  const laid = read?.ok ? read.laid : null;
  const take = () => {
    if (read) {
      if (!read.ok || !laid?.ok) return;
      onEdit({ kind: "repeat-figure", ...range, over: read.over });
    } else {
      if (!by || !moved?.ok) return;
      onEdit({ kind: "move-figure", ...range, by });
    }
    onClose();
  };
  return (
    <Dialog title="Move the figure" onClose={onClose}>
      {/* biome-ignore lint/a11y/noStaticElementInteractions: keys of the whole dialog; buttons do the same */}
      <div
        onKeyDown={(event) => {
          const isTyping = event.target instanceof HTMLInputElement;
          if (isTyping && event.key !== "Enter") return;
          if (event.ctrlKey || event.metaKey || event.altKey) return;
          const change = KEYS.get(event.key);
          // Enter on another button presses that.
          const isTaken = event.key === "Enter" && (!(event.target instanceof HTMLButtonElement) || "first" in event.target.dataset);
          if (!change && !isTaken) return;
          event.preventDefault();
          if (change) step(change);
          else take();
        }}
      >
        <div className="flex flex-wrap items-center gap-2">
          <button type="button" className="btn" onClick={() => step({ frets: -1 })} aria-label="A fret lower (left arrow)">
            <ArrowLeft size={18} aria-hidden /> fret
          </button>
          <button type="button" className="btn" data-first onClick={() => step({ frets: 1 })} aria-label="A fret higher (right arrow)">
            fret <ArrowRight size={18} aria-hidden />
          </button>
          <button type="button" className="btn" onClick={() => step({ strings: -1 })} aria-label="A string to the treble side (up arrow)">
            <ArrowUp size={18} aria-hidden /> string
          </button>
          <button type="button" className="btn" onClick={() => step({ strings: 1 })} aria-label="A string to the bass side (down arrow)">
            <ArrowDown size={18} aria-hidden /> string
          </button>
          <button type="button" className="btn" onClick={() => step({ semitones: 12 })} aria-label="An octave higher (Page Up)">
            octave up
          </button>
          <button type="button" className="btn" onClick={() => step({ semitones: -12 })} aria-label="An octave lower (Page Down)">
            octave down
          </button>
        </div>
        <div className="mt-4 min-h-28" role="status">
          <p className="text-lg font-bold">{by ? byWords(by) : "Arrows move it; nothing has moved yet."}</p>
          {moved && !moved.ok && <p className="font-semibold">Not there: {moved.says}.</p>}
          {moved?.ok && <ToldBefore passage={passage} bars={moved.bars} told={moved.told} />}
        </div>
        <label className="mt-3 block">
          <span className="font-bold">Or lay it out again behind itself, over</span>
          <input
            className="input mt-1 w-full font-mono text-lg"
            value={over}
            spellCheck={false}
            autoComplete="off"
            onChange={(event) => setOver(event.target.value)}
          />
          <span className="quiet block min-h-6 text-sm" role="status">
            {read && !read.ok
              ? `Character ${read.at + 1}: ${read.says}`
              : laid && !laid.ok
                ? `Not there: ${laid.says}.`
                : "steps such as IV V I, or roots such as D E A: once for each"}
          </span>
        </label>
        {laid?.ok && <ToldBefore passage={passage} bars={laid.bars} told={laid.told} />}
        <div className="mt-3 flex gap-2">
          <button type="button" className="btn btn-primary" disabled={read ? !laid?.ok : !moved?.ok} onClick={take}>
            {read ? "Lay it out" : "Move it"} (Enter)
          </button>
          <button type="button" className="btn btn-ghost" onClick={onClose}>
            Leave it
          </button>
        </div>
      </div>
    </Dialog>
  );
}

function byWords(by: MoveBy): string {
  const many = (n: number, one: string) => `${Math.abs(n)} ${one}${Math.abs(n) === 1 ? "" : "s"}`;
  if ("frets" in by) return `${many(by.frets, "fret")} ${by.frets > 0 ? "higher" : "lower"}`;
  if ("strings" in by) return `${many(by.strings, "string")} to the ${by.strings > 0 ? "bass" : "treble"} side, at the same frets`;
  const n = "semitones" in by ? by.semitones : by.pitchClass;
  if (n % 12 === 0) return `${many(n / 12, "octave")} ${n > 0 ? "higher" : "lower"}, where it lies best`;
  return `${many(n, "semitone")} ${n > 0 ? "higher" : "lower"}, where it lies best`;
}
