import { memo } from "react";
import type { PlannedString } from "../../core/document/plan.ts";
import { SIDE } from "../../core/hands/parts.ts";
import { type Ticks, ticksOf } from "../../core/music/ticks.ts";
import { bendOf } from "../../core/passage/bends.ts";
import type { Gain, Note, Stroke } from "../../core/passage/schema.ts";
import { stringWords } from "../../core/words/strings.ts";
import { type StepBox, TRACK_ROW } from "./layout.ts";
import { useScale } from "./scale.ts";

/** Name of what one string does at one step, as it is drawn in a bar. */
export function segmentId(bar: number, step: number, string: number): string {
  return `bar-${bar}-step-${step}-string-${string}`;
}

interface SegmentsProps {
  bar: number;
  /** The place as it is counted. */
  count: string;
  box: StepBox;
  /** Under which a ring is as loud as it is heard. */
  gain: Gain;
  /** Middle of a string's lane. */
  yOf(string: number): number;
}

/** What every string does during one step; drawn again only when that looks otherwise. */
export const Segments = memo(function Segments({ bar, count, box, gain, yOf }: SegmentsProps) {
  const { xOf, widthOf } = useScale();
  const x = xOf(box.tick);
  const width = widthOf(box.endTick - box.tick);
  return box.strings.map((now, s) => {
    const before = box.before?.[s];
    return (
      <Segment
        key={now.string}
        id={segmentId(bar, box.index, now.string)}
        says={`${count}: ${stringWords(now, gain)}`}
        string={now.string}
        state={now.state}
        fretting={touchOf(now, before, "fretting")}
        picking={touchOf(now, before, "picking")}
        thudAt={box.begins ? box.tick : null}
        x={x}
        width={width}
        y={yOf(now.string)}
      />
    );
  });
});

interface SegmentProps {
  id: string;
  says: string;
  string: number;
  state: PlannedString["state"];
  fretting: Touch;
  picking: Touch;
  /** Where a dead stroke would be drawn; null where the step only goes on. */
  thudAt: Ticks | null;
  x: number;
  width: number;
  y: number;
}

/**
 * What one string does during one step: ink for sound, the hands' signs for touches, the alarm for a stray ring. Drawn again only
 * where that changes: how loud a string would be left alone changes for many steps behind an edit.
 */
const Segment = memo(function Segment({ id, says, string, state, fretting, picking, thudAt, x, width, y }: SegmentProps) {
  return (
    // biome-ignore lint/a11y/noInteractiveElementToNoninteractiveRole: a group of a drawing is not interactive
    <g id={id} role="img" aria-label={says}>
      {state === "ring" && <rect x={x} y={y - 3.5} width={width} height={7} fill="var(--ink)" />}
      {state === "free" && <line x1={x} x2={x + width} y1={y} y2={y} stroke="var(--ink)" strokeWidth={4} strokeDasharray="2 7" strokeLinecap="round" />}
      {state === "muffled" && <path d={stripes(x, y, width)} fill="var(--ink)" />}
      {state === "thud" && thudAt !== null && (
        <g data-grab="sweep" data-tick={thudAt} data-string={string}>
          <rect x={x - 10} y={y - 12} width={20} height={24} fill="transparent" />
          <path d={`M${x - 7} ${y - 7}l14 14m0-14l-14 14`} stroke="var(--ink)" strokeWidth={3} />
        </g>
      )}
      {state === "stray" && <path d={wave(x, y, width)} fill="none" stroke="var(--stray)" strokeWidth={4} strokeLinecap="round" />}
      {fretting !== "none" && <TouchSign hand="fretting" goesOn={fretting === "goes on"} x={x} width={width} y={y} />}
      {picking !== "none" && <TouchSign hand="picking" goesOn={picking === "goes on"} x={x} width={width} y={y} />}
    </g>
  );
});

/** Each sign is one path, its line as well: there are hundreds of them, and every frame lays out all that is drawn. */
function TouchSign({ hand, goesOn, x, width, y }: Pick<SegmentProps, "x" | "width" | "y"> & { hand: Hand; goesOn: boolean }) {
  const { edge, sign, color } = TOUCH_SIGNS[hand];
  const from = goesOn ? x : x + 14;
  return <path d={`${goesOn ? "" : sign(x, y)}${box(from, y + edge - 1, x + width - 2 - from, 2)}`} fill={color} />;
}

/** Signs of the hands: round from above, square from below, each with a line for as long as it lasts. */
const TOUCH_SIGNS = {
  fretting: { edge: -14, color: "var(--fretting)", sign: (x: number, y: number) => `M${x} ${y - 15}a7 7.5 0 0 0 14 0z` },
  picking: { edge: 14, color: "var(--picking)", sign: (x: number, y: number) => `M${x} ${y + 15}v-7h14v7z` },
} as const;

type Hand = keyof typeof TOUCH_SIGNS;
/** Whether a hand lies on a string that it does not press, and whether it did so at the step before. */
type Touch = "none" | "begins" | "goes on";

function touchOf(now: PlannedString, before: PlannedString | undefined, hand: Hand): Touch {
  if (!isTouched(now, hand)) return "none";
  return before !== undefined && isTouched(before, hand) ? "goes on" : "begins";
}

function isTouched(string: PlannedString, hand: Hand): boolean {
  return string.touchedBy.some((touch) => SIDE[touch.hand] === hand && touch.part !== "press");
}

/** A muffled note: bars side by side. */
function stripes(x: number, y: number, width: number): string {
  let d = "";
  for (let i = 0; i < Math.max(1, Math.floor(width / 9)); i++) d += box(x + 3 + i * 9, y - 6, 3.5, 12);
  return d;
}

/** A rectangle as a path, so that many are one element; with round corners where radii are given. */
function box(x: number, y: number, width: number, height: number, rx = 0, ry = rx): string {
  if (rx === 0) return `M${x} ${y}h${width}v${height}h${-width}z`;
  const [across, down] = [width - 2 * rx, height - 2 * ry];
  const corner = (dx: number, dy: number) => `a${rx} ${ry} 0 0 1 ${dx} ${dy}`;
  return `M${x + rx} ${y}h${across}${corner(rx, ry)}v${down}${corner(-rx, ry)}h${-across}${corner(-rx, -ry)}v${-down}${corner(rx, -ry)}z`;
}

export function wave(x: number, y: number, width: number): string {
  const waves = Math.max(1, Math.round(width / 16));
  const length = width / waves;
  let d = `M${x} ${y}`;
  for (let i = 0; i < waves; i++) d += `q${length / 4} -11 ${length / 2} 0t${length / 2} 0`;
  return d;
}

/** The fret at the head of a note, and a grip at the end of its sound. */
export const FretLabel = memo(function FretLabel({ stroke, note, y }: { stroke: Stroke; note: Note; y: number }) {
  const { xOf, widthOf } = useScale();
  const tick = ticksOf(stroke.at);
  const x = xOf(tick);
  const end = x + widthOf(ticksOf(stroke.length));
  const wide = note.fret > 9;
  return (
    <>
      <rect x={end - 20} y={y - 11} width={17} height={22} rx={4} className="sound-end" data-grab="end" data-tick={tick} data-string={note.string} />
      <g data-grab="note" data-tick={tick} data-string={note.string}>
        <rect
          x={x - (wide ? 13 : 11)}
          y={y - 11}
          width={wide ? 26 : 22}
          height={22}
          rx={5}
          fill="var(--color-base-100)"
          stroke="var(--ink)"
          strokeWidth={stroke.accent ? 2.5 : 1}
        />
        <text x={x} y={y + 6} textAnchor="middle" fontSize={17} fontWeight={700} fill="var(--ink)">
          {note.tone === "ghost" ? "×" : note.fret}
        </text>
      </g>
      <BendSign note={note} x={x + (wide ? 13 : 11)} y={y} />
    </>
  );
});

/** A bend as a line that leaves its lane, by how many semitones, and comes back where it is let back; a shaken string as a ripple. */
function BendSign({ note, x, y }: { note: Note; x: number; y: number }) {
  const bend = bendOf(note);
  if (!bend) return note.vibrato ? <path d={`M${x + 3} ${y - 10}q3-5 6 0t6 0 6 0 6 0`} fill="none" stroke="var(--ink)" strokeWidth={1.8} /> : null;
  const [from, to] = [bend.from > 0 ? y - 13 : y - 5, y - 13];
  const back = bend.back === null ? "" : `q9 0 14 ${bend.back > 0 ? 5 : 8}`;
  return (
    <g>
      <path d={`M${x} ${from}C${x + 10} ${from} ${x + 8} ${to} ${x + 18} ${to}h4${back}`} fill="none" stroke="var(--ink)" strokeWidth={2} />
      <text
        x={x + 28}
        y={y - 5}
        textAnchor="middle"
        fontSize={11}
        fontWeight={700}
        fill="var(--ink)"
        stroke="var(--color-base-100)"
        strokeWidth={3}
        paintOrder="stroke"
      >
        {bend.most}
        {note.vibrato ? "~" : ""}
      </text>
    </g>
  );
}

/** Which strings a hand holds over time: round cells for the fretting hand, square ones for the picking hand. */
export function Track({ steps, top, strings, hand, width, laneOf }: TrackProps & { steps: readonly StepBox[]; strings: number; width: number }) {
  return (
    <g data-grab={hand === "picking" ? "palm" : undefined}>
      <rect x={0} y={top - 1} width={width} height={strings * TRACK_ROW + 2} fill={`var(--${hand})`} fillOpacity={0.07} />
      {steps.map((box) => (
        <TrackStep key={box.index} tick={box.tick} endTick={box.endTick} cells={cellsOf(box.strings, hand)} top={top} hand={hand} laneOf={laneOf} />
      ))}
    </g>
  );
}

interface TrackProps {
  top: number;
  hand: Hand;
  laneOf(string: number): number;
}

/** What a hand does on every string from the highest on: presses it, lies on it or is off it. */
function cellsOf(strings: readonly PlannedString[], hand: Hand): string {
  let cells = "";
  for (const { touchedBy } of strings) {
    let cell = OFF;
    for (const touch of touchedBy) if (SIDE[touch.hand] === hand && cell !== PRESSED) cell = touch.part === "press" ? PRESSED : LAID;
    cells += cell;
  }
  return cells;
}

const [OFF, LAID, PRESSED] = [" ", "-", "#"];

/** Drawn again only where the hand does something else: what it presses as one path, what it lies on as another. */
const TrackStep = memo(function TrackStep({ tick, endTick, cells, top, hand, laneOf }: TrackProps & { tick: Ticks; endTick: Ticks; cells: string }) {
  const { xOf, widthOf } = useScale();
  const width = Math.max(4, widthOf(endTick - tick) - 2);
  const cellsAs = (which: string, height: number) => {
    const [rx, ry] = hand === "fretting" ? [Math.min(height, width) / 2, height / 2] : [0, 0];
    let d = "";
    for (let s = 0; s < cells.length; s++)
      if (cells[s] === which) d += box(xOf(tick), top + (laneOf(s + 1) - 1) * TRACK_ROW + (TRACK_ROW - height) / 2, width, height, rx, ry);
    return d;
  };
  const [pressed, laid] = [cellsAs(PRESSED, TRACK_ROW - 1), cellsAs(LAID, TRACK_ROW - 3)];
  return (
    <>
      {pressed && <path d={pressed} fill="var(--ink)" />}
      {laid && <path d={laid} fill={`var(--${hand})`} />}
    </>
  );
});
