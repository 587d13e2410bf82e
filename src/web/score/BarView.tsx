import { curveNatural, line } from "d3-shape";
import { memo, useCallback, useMemo } from "react";
import { barLength } from "../../core/music/beats.ts";
import { TICKS_PER_WHOLE, type Ticks, ticksOf } from "../../core/music/ticks.ts";
import type { Bar, Gain } from "../../core/passage/schema.ts";
import { type Count, countOf, countsIn } from "../../core/timeline/counts.ts";
import { gripWords } from "../../core/words/grips.ts";
import { LANE, type StepBox, TRACK_ROW } from "./layout.ts";
import { useScale } from "./scale.ts";
import { FretLabel, Segments, segmentId, Track } from "./signs.tsx";

export { segmentId };

export const COUNT_HEIGHT = 36;
export const SWING_HEIGHT = 44;

export interface BarViewProps {
  bar: Bar;
  index: number;
  /** The finest grid its strokes lie on. */
  grid: Ticks;
  /** The meter is another than that of the bar before. */
  newMeter: boolean;
  strings: number;
  gain: Gain;
  width: number;
  steps: readonly StepBox[];
  /** Ticks of the selected step in this bar and the cursor, if they are here. */
  selected: { tick: number; endTick: number } | null;
  cursor: { tick: number; string: number } | null;
  directions: readonly { tick: number; kind: string }[];
  /** The lowest string is drawn on top. */
  lowestOnTop: boolean;
}

/** One bar: count row, pendulum line, string lanes and a track for each hand. */
export const BarView = memo(function BarView({
  bar,
  index,
  grid,
  newMeter,
  strings,
  gain,
  width,
  steps,
  selected,
  cursor,
  directions,
  lowestOnTop,
}: BarViewProps) {
  const { xOf, widthOf } = useScale();
  const counts = useMemo(() => countsIn(bar), [bar]);
  const lanesTop = COUNT_HEIGHT + SWING_HEIGHT;
  const tracksTop = lanesTop + strings * LANE + 8;
  const trackHeight = strings * TRACK_ROW;
  const height = tracksTop + 2 * trackHeight + 12;
  const laneOf = useCallback((string: number) => (lowestOnTop ? strings + 1 - string : string), [lowestOnTop, strings]);
  const y = useCallback((string: number) => COUNT_HEIGHT + SWING_HEIGHT + (laneOf(string) - 0.5) * LANE, [laneOf]);
  return (
    // biome-ignore lint/a11y/useSemanticElements: a drawing cannot be a fieldset
    <svg width={width} height={height} className="block" role="group" aria-label={`Bar ${index + 1}`}>
      {selected && <rect x={xOf(selected.tick) - 2} y={3} width={widthOf(selected.endTick - selected.tick)} height={height - 6} fill="var(--color-base-200)" />}
      <line x1={0.5} x2={0.5} y1={COUNT_HEIGHT} y2={height} stroke="var(--color-base-300)" strokeWidth={2} />
      <Counts counts={counts} meter={bar.meter.join("/")} tempo={bar.tempo} index={index} newMeter={newMeter} grips={bar.grips} strings={strings} />
      <Swing bar={bar} grid={grid} directions={directions} />
      {Array.from({ length: strings }, (_, s) => (
        <line
          // biome-ignore lint/suspicious/noArrayIndexKey: strings have no other name
          key={s}
          x1={0}
          x2={width}
          y1={y(s + 1)}
          y2={y(s + 1)}
          stroke="var(--ink)"
          strokeOpacity={0.28}
          strokeWidth={0.8 + s * 0.28}
        />
      ))}
      {steps.map((box) => (
        <Segments key={box.index} bar={index} count={countOf(box.tick, bar)} box={box} gain={gain} yOf={y} />
      ))}
      {bar.strokes.flatMap((stroke) =>
        (stroke.as ?? "play") === "play"
          ? stroke.notes.map((note) => <FretLabel key={`${stroke.at}-${note.string}`} stroke={stroke} note={note} y={y(note.string)} />)
          : [],
      )}
      <Track steps={steps} top={tracksTop} strings={strings} hand="fretting" width={width} laneOf={laneOf} />
      <Track steps={steps} top={tracksTop + trackHeight + 8} strings={strings} hand="picking" width={width} laneOf={laneOf} />
      {cursor && (
        <rect
          x={xOf(cursor.tick) - 14}
          y={y(cursor.string) - LANE / 2 + 2}
          width={28}
          height={LANE - 4}
          rx={6}
          fill="none"
          stroke="var(--ink)"
          strokeWidth={2.5}
          data-cursor=""
        />
      )}
    </svg>
  );
});

const NO_GRIPS: NonNullable<Bar["grips"]> = [];

interface CountsProps extends Pick<BarViewProps, "index" | "newMeter" | "strings"> {
  counts: readonly Count[];
  grips: Bar["grips"];
  meter: string;
  tempo: number | undefined;
}

/** The count above a bar, with its number and what is new in it. */
const Counts = memo(function Counts({ counts, meter, tempo, index, newMeter, grips = NO_GRIPS, strings }: CountsProps) {
  const { xOf } = useScale();
  // What begins with the bar stands behind its number.
  const atStart = grips.find((grip) => ticksOf(grip.at) === 0);
  return (
    <>
      <text x={4} y={11} fontSize={11} fill="var(--color-neutral)">
        {index + 1}
        {newMeter && ` · ${meter}`}
        {tempo && ` · ${tempo} bpm`}
        {atStart && (
          <tspan fill="var(--fretting)" fontWeight={700} data-grab="grip" data-tick={0}>
            {` · ${gripWords(atStart, strings)}`}
          </tspan>
        )}
      </text>
      {grips
        .filter((grip) => grip !== atStart)
        .map((grip) => (
          <text
            key={grip.at}
            x={xOf(ticksOf(grip.at)) - 4}
            y={11}
            fontSize={11}
            fontWeight={700}
            fill="var(--fretting)"
            data-grab="grip"
            data-tick={ticksOf(grip.at)}
          >
            {gripWords(grip, strings)}
          </text>
        ))}
      {counts.map(({ tick, says, isBeat }) => (
        <text
          key={tick}
          x={xOf(tick)}
          y={COUNT_HEIGHT - 3}
          textAnchor="middle"
          fontSize={isBeat ? 17 : 13}
          fontWeight={isBeat ? 700 : 400}
          fill={isBeat ? "var(--ink)" : "var(--color-neutral)"}
        >
          {says}
        </text>
      ))}
    </>
  );
});

const swingLine = line().curve(curveNatural);

/** The stroking hand as a pendulum: it crosses the strings at every dot, full where it meets them, hollow where it passes over. */
const Swing = memo(function Swing({ bar, grid, directions }: Pick<BarViewProps, "bar" | "grid" | "directions">) {
  const { xOf } = useScale();
  const middle = COUNT_HEIGHT + SWING_HEIGHT / 2;
  const plucked = directions.some((d) => d.kind !== "down" && d.kind !== "up" && d.kind !== "none");
  if (plucked)
    return directions.map(({ tick, kind }) => (
      <text
        key={tick}
        x={xOf(tick)}
        y={middle + 5}
        textAnchor="middle"
        fontSize={15}
        fontStyle="italic"
        fill="var(--picking)"
        fontWeight={700}
        data-grab="sweep"
        data-tick={tick}
      >
        {kind}
      </text>
    ));
  const unit = Math.min(TICKS_PER_WHOLE / 8, Math.max(grid, TICKS_PER_WHOLE / 16));
  const length = barLength(bar.meter);
  const swing = SWING_HEIGHT * 0.36;
  const ticks = Array.from({ length: Math.ceil((length / unit) * 4) + 1 }, (_, i) => -unit / 2 + (i * unit) / 4).filter((tick) => tick <= length - unit / 2);
  const path = swingLine(ticks.map((tick) => [xOf(tick), middle + swing * Math.sin((Math.PI * tick) / unit)]));
  const met = new Map(directions.filter((d) => d.kind !== "none").map((d) => [d.tick, d.kind]));
  const places = Array.from({ length: Math.ceil(length / unit) }, (_, i) => i * unit);
  return (
    <>
      <path d={path ?? ""} fill="none" stroke="var(--picking)" strokeOpacity={0.45} strokeWidth={1.5} />
      {places
        .filter((tick) => !met.has(tick))
        .map((tick) => (
          <circle key={tick} cx={xOf(tick)} cy={middle} r={3.5} fill="var(--color-base-100)" stroke="var(--picking)" strokeWidth={1.2} />
        ))}
      {[...met].map(([tick, kind]) => {
        const x = xOf(tick);
        const d = kind === "down" ? `M${x - 6} ${middle - 6}h12l-6 13z` : `M${x - 6} ${middle + 6}h12l-6 -13z`;
        return <path key={tick} d={d} fill="var(--picking)" data-grab="sweep" data-tick={tick} />;
      })}
    </>
  );
});

export function scoreHeight(strings: number): number {
  return COUNT_HEIGHT + SWING_HEIGHT + strings * LANE + 8 + 2 * strings * TRACK_ROW + 12;
}
