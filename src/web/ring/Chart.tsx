import { scaleLinear } from "d3-scale";
import { area, line } from "d3-shape";
import { memo, useEffect, useRef, useState } from "react";
import type { Span } from "../../core/loudness/loudness.ts";
import type { Passage } from "../../core/passage/schema.ts";
import type { LoudnessOverTime } from "../jobs/jobs.ts";
import { scrolled } from "../planner/use-plan.ts";

const PX_PER_MS = 0.17;
const LANE = 62;
const HEAD = 28;
const NAMES = 92;
const OVERSCAN = 500;
/** Range of loudness shown, in dB over what is heard. */
const LOUDEST_DB = 45;
const QUIETEST_DB = -20;

export interface Spot {
  step: number;
  string: number;
}

interface ChartProps {
  passage: Passage;
  loudness: LoudnessOverTime;
  /** Words for each step: bar and count. */
  counts: readonly { says: string; isBar: boolean; isBeat: boolean }[];
  chosen: Spot | null;
  /** What is heard now. */
  heard: number | null;
  label: string;
  onChoose(spot: Spot): void;
  onHover(spot: Spot | null): void;
  onKeyDown(event: React.KeyboardEvent): void;
}

/** Every string's loudness over time against what is heard: filled as planned, the line what it would be undamped. */
export function Chart({ passage, loudness, counts, chosen, heard, label, onChoose, onHover, onKeyDown }: ChartProps) {
  const scroller = useRef<HTMLDivElement>(null);
  const [view, setView] = useState({ left: 0, width: 1280 });
  const { stepsMs, endMs } = loudness;
  const strings = passage.instrument.tuning.length;
  const width = endMs * PX_PER_MS + 30;
  const height = HEAD + strings * LANE;

  useEffect(() => {
    const element = scroller.current;
    if (!element) return;
    const update = () => setView({ left: element.scrollLeft, width: element.clientWidth });
    update();
    const observer = new ResizeObserver(update);
    observer.observe(element);
    const onScroll = () => {
      scrolled();
      update();
    };
    element.addEventListener("scroll", onScroll, { passive: true });
    return () => {
      observer.disconnect();
      element.removeEventListener("scroll", onScroll);
    };
  }, []);
  const watchedMs = stepsMs[heard ?? chosen?.step ?? 0] ?? 0;
  useEffect(() => {
    const element = scroller.current;
    if (!element) return;
    const x = watchedMs * PX_PER_MS;
    if (x < element.scrollLeft + 20) element.scrollLeft = Math.max(0, x - 60);
    else if (x > element.scrollLeft + element.clientWidth - NAMES - 80) element.scrollLeft = x - (element.clientWidth - NAMES) * 0.3;
  }, [watchedMs]);

  const endOf = (i: number) => stepsMs[i + 1] ?? endMs;
  const first = Math.max(
    0,
    stepsMs.findIndex((_, i) => endOf(i) * PX_PER_MS > view.left - OVERSCAN),
  );
  const past = stepsMs.findIndex((ms) => ms * PX_PER_MS > view.left + view.width + OVERSCAN);
  const last = past < 0 ? stepsMs.length : past;
  const spotAt = (event: React.PointerEvent): Spot | null => {
    const box = event.currentTarget.getBoundingClientRect();
    const ms = (event.clientX - box.left) / PX_PER_MS;
    const string = Math.floor((event.clientY - box.top - HEAD) / LANE) + 1;
    const step = stepsMs.findLastIndex((start) => start <= ms);
    return step < 0 || string < 1 || string > strings ? null : { step, string };
  };
  return (
    <div
      ref={scroller}
      className="relative overflow-x-auto overflow-y-hidden border-y border-base-300"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: the chart is read by keys
      tabIndex={0}
      role="application"
      aria-roledescription="chart"
      aria-label={label}
      onKeyDown={onKeyDown}
    >
      <div className="flex" style={{ width: width + NAMES, height }}>
        <div className="sticky left-0 z-10 shrink-0 bg-base-100" style={{ width: NAMES }} aria-hidden>
          {passage.instrument.tuning.map((name, s) => (
            <span
              // biome-ignore lint/suspicious/noArrayIndexKey: strings have no other name
              key={s}
              className="absolute left-3 flex items-baseline gap-2"
              style={{ top: HEAD + s * LANE + 16 }}
            >
              <b>{s + 1}</b> <span className="quiet text-sm">{name}</span>
            </span>
          ))}
        </div>
        <svg
          width={width}
          height={height}
          aria-hidden
          onPointerMove={(event) => onHover(spotAt(event))}
          onPointerLeave={() => onHover(null)}
          onPointerDown={(event) => {
            const spot = spotAt(event);
            if (spot) onChoose(spot);
          }}
        >
          {chosen && stepsMs[chosen.step] !== undefined && (
            <>
              <rect
                x={stepsMs[chosen.step]! * PX_PER_MS}
                y={0}
                width={(endOf(chosen.step) - stepsMs[chosen.step]!) * PX_PER_MS}
                height={height}
                fill="var(--color-base-300)"
              />
              <rect
                x={stepsMs[chosen.step]! * PX_PER_MS + 1}
                y={HEAD + (chosen.string - 1) * LANE + 2}
                width={Math.max(4, (endOf(chosen.step) - stepsMs[chosen.step]!) * PX_PER_MS - 2)}
                height={LANE - 4}
                rx={6}
                fill="none"
                stroke="var(--ink)"
                strokeWidth={2.5}
              />
            </>
          )}
          {stepsMs.slice(first, last).map((ms, k) => {
            const { says, isBar, isBeat } = counts[first + k] ?? { says: "", isBar: false, isBeat: false };
            return (
              <g key={ms}>
                {isBar && <line x1={ms * PX_PER_MS} x2={ms * PX_PER_MS} y1={0} y2={height} stroke="var(--color-base-300)" strokeWidth={2} />}
                <text
                  x={ms * PX_PER_MS + 4}
                  y={20}
                  fontSize={isBeat ? 16 : 12}
                  fontWeight={isBeat ? 700 : 400}
                  fill={isBeat ? "var(--ink)" : "var(--color-neutral)"}
                >
                  {says}
                </text>
              </g>
            );
          })}
          {passage.instrument.tuning.map((_, s) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: strings have no other name
            <StringLane key={s} loudness={loudness} string={s} first={first} last={last} top={HEAD + s * LANE} width={width} />
          ))}
          {heard !== null && stepsMs[heard] !== undefined && (
            <rect x={stepsMs[heard]! * PX_PER_MS} y={0} width={3} height={height} fill="var(--ink)" data-testid="heard" />
          )}
        </svg>
      </div>
    </div>
  );
}

const y = scaleLinear([QUIETEST_DB, LOUDEST_DB], [LANE - 5, 4]).clamp(true);

interface Piece {
  from: number;
  to: number;
  span: Span;
}

const shapeOf = ({ from, to, span }: Piece): [number, number][] => [
  [from * PX_PER_MS, span.fromDb],
  [to * PX_PER_MS, span.toDb],
];
const filled = area<[number, number]>()
  .x(([x]) => x)
  .y0(LANE - 5)
  .y1(([, db]) => y(db));
const drawn = line<[number, number]>()
  .x(([x]) => x)
  .y(([, db]) => y(db));

const StringLane = memo(function StringLane({
  loudness,
  string,
  first,
  last,
  top,
  width,
}: {
  loudness: LoudnessOverTime;
  string: number;
  first: number;
  last: number;
  top: number;
  width: number;
}) {
  const { steps, stepsMs, endMs } = loudness;
  const indices = Array.from({ length: Math.max(0, last - first) }, (_, k) => first + k);
  const piece = (i: number, span: Span | null): Piece[] =>
    span && Math.max(span.fromDb, span.toDb) > QUIETEST_DB ? [{ from: stepsMs[i]!, to: stepsMs[i + 1] ?? endMs, span }] : [];
  const of = (i: number) => steps[i]![string]!;
  const meant = indices.flatMap((i) => (of(i).state === "stray" ? [] : piece(i, of(i).planned)));
  const strays = indices.flatMap((i) => (of(i).state === "stray" ? piece(i, of(i).planned) : []));
  const undamped = indices.flatMap((i) => piece(i, of(i).undamped));
  const path = (pieces: readonly Piece[], shape: typeof filled | typeof drawn) => pieces.map((p) => shape(shapeOf(p)) ?? "").join("");
  return (
    <g transform={`translate(0 ${top})`}>
      <path d={path(meant, filled)} fill="var(--ink)" fillOpacity={0.28} />
      <path d={path(meant, drawn)} fill="none" stroke="var(--ink)" strokeWidth={2.5} />
      <path d={path(strays, filled)} fill="var(--stray)" fillOpacity={0.4} />
      <path d={path(undamped, drawn)} fill="none" stroke="var(--ink)" strokeWidth={1.5} strokeDasharray="2 4" />
      <path d={path(strays, drawn)} fill="none" stroke="var(--stray)" strokeWidth={3.5} />
      <line x1={0} x2={width} y1={y(0)} y2={y(0)} stroke="var(--ink)" strokeOpacity={0.6} strokeWidth={1} />
      <line x1={0} x2={width} y1={LANE} y2={LANE} stroke="var(--color-base-300)" />
      {indices
        .filter((i) => of(i).state === "thud")
        .map((i) => (
          <path key={i} d={`M${stepsMs[i]! * PX_PER_MS} ${y(0) - 6}l10 12m0-12l-10 12`} stroke="var(--ink)" strokeWidth={2} />
        ))}
    </g>
  );
});
