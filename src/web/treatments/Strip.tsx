import { memo } from "react";
import type { PlanDocument } from "../../core/document/plan.ts";
import { barLength, unitLength } from "../../core/music/beats.ts";
import { TICKS_PER_WHOLE, ticksOf } from "../../core/music/ticks.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { settingsOf } from "../../core/passage/settings.ts";
import { countOf } from "../../core/timeline/counts.ts";
import { strokeDirections } from "../../core/timeline/strokes.ts";
import { gestureAt } from "../../core/verdict/gestures.ts";
import { stepsByBar } from "../../core/verdict/steps-by-bar.ts";
import type { Difference } from "../../core/writer/differences.ts";
import { wave } from "../score/signs.tsx";

const STROKES = 26;
const LANE = 17;
const LEAD = 18;
const COUNT = 22;
/** Height of the row that says where a hand does more than play. */
const HAND = 9;

interface StripProps {
  passage: Passage;
  plan: PlanDocument | null;
  /** Bars shown, from and up to, indices from 0. */
  fromBar: number;
  toBar: number;
  /** What is written, to mark gestures against; null for itself. */
  against: PlanDocument | null;
  differences: readonly Difference[];
  /** Ticks in a bar that is heard now. */
  heard: { bar: number; tick: number } | null;
  width: number;
  label: string;
}

/** Some bars of one version, small: strokes, and what sounds on every string; marked where it differs. */
export const Strip = memo(function Strip({ passage, plan, against, fromBar, toBar, differences, heard, width, label }: StripProps) {
  const strings = passage.instrument.tuning.length;
  const hands = STROKES + strings * LANE + 4;
  const height = hands + 2 * HAND + 8;
  const { x, scale } = spread(passage, fromBar, toBar, width);
  const steps = stepsByBar(plan, passage);
  const written = gesturesByPlace(against);
  const settings = settingsOf(passage);
  const bars = passage.bars.slice(fromBar, toBar + 1);
  const y = (string: number) => STROKES + (string - 0.5) * LANE;
  return (
    <svg width={width} height={height} role="img" aria-label={label} className="block">
      {differences
        .filter(({ bar }) => bar >= fromBar && bar <= toBar)
        .map(({ bar, tick, says }) => (
          <g key={`${bar} ${tick}`}>
            <title>{says}</title>
            <rect x={x(bar, tick) - 11} y={0} width={22} height={height} fill="var(--ink)" fillOpacity={0.1} />
            <path d={`M${x(bar, tick) - 6} ${height - 5}h12m-12 3.5h12`} stroke="var(--ink)" strokeWidth={1.6} />
          </g>
        ))}
      {Array.from({ length: strings }, (_, s) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: strings have no other name
        <line key={s} x1={0} x2={width} y1={y(s + 1)} y2={y(s + 1)} stroke="var(--ink)" strokeOpacity={0.25} />
      ))}
      {bars.map((bar, i) => {
        const b = fromBar + i;
        const ways = strokeDirections(bar, settings, strings);
        return (
          <g key={bar.id ?? b}>
            <line x1={x(b, 0) - LEAD + 4} x2={x(b, 0) - LEAD + 4} y1={0} y2={height} stroke="var(--color-base-300)" strokeWidth={2} />
            {(steps[b] ?? []).flatMap((box) =>
              box.step.strings.map((string) => {
                const from = x(b, box.tick);
                const w = scale * (box.endTick - box.tick);
                const at = y(string.string);
                if (string.state === "ring") return <rect key={`${box.index}-${string.string}`} x={from} y={at - 2.5} width={w} height={5} fill="var(--ink)" />;
                if (string.state === "muffled")
                  return (
                    <line
                      key={`${box.index}-${string.string}`}
                      x1={from + 2}
                      x2={from + w}
                      y1={at}
                      y2={at}
                      stroke="var(--ink)"
                      strokeWidth={9}
                      strokeDasharray="2.5 4"
                    />
                  );
                if (string.state === "thud" && box.tick === ticksOf(box.step.at))
                  return <path key={`${box.index}-${string.string}`} d={`M${from - 4} ${at - 4}l8 8m0-8l-8 8`} stroke="var(--ink)" strokeWidth={2} />;
                if (string.state === "stray")
                  return <path key={`${box.index}-${string.string}`} d={wave(from, at, w)} fill="none" stroke="var(--stray)" strokeWidth={3} />;
                return null;
              }),
            )}
            {(steps[b] ?? []).flatMap((box) =>
              HANDS.flatMap((hand, row) => {
                const gesture = box.tick === ticksOf(box.step.at) ? gestureAt(box.step, hand) : null;
                const isOther = against !== null && gesture !== (written.get(placeKey(b, box.step.at, hand)) ?? null);
                if (gesture === null && !isOther) return [];
                const [cx, cy] = [x(b, box.tick), hands + (row + 0.5) * HAND];
                return (
                  <g key={`${box.index} ${hand}`}>
                    <title>{gesture === null ? `${hand} hand: nothing to do here, unlike as written` : box.step[hand]}</title>
                    {isOther && <rect x={cx - 8} y={cy - 4.5} width={16} height={9} rx={4.5} fill="none" stroke="var(--ink)" strokeWidth={1.4} />}
                    {gesture !== null && <rect x={cx - 5} y={cy - 2} width={10} height={4} fill={`var(--${hand})`} />}
                  </g>
                );
              }),
            )}
            {bar.strokes.map((stroke, s) => {
              const at = x(b, ticksOf(stroke.at));
              const way = ways[s]!;
              if (way !== "down" && way !== "up")
                return (
                  <text key={stroke.at} x={at} y={17} textAnchor="middle" fontSize={13} fontStyle="italic" fill="var(--picking)" fontWeight={700}>
                    {way === "none" ? "" : way}
                  </text>
                );
              return (
                <path
                  key={stroke.at}
                  d={way === "down" ? `M${at - 5} 8h10l-5 11z` : `M${at - 5} 19h10l-5 -11z`}
                  fill="var(--picking)"
                  stroke="var(--picking)"
                  strokeWidth={stroke.accent ? 3.5 : 0}
                />
              );
            })}
          </g>
        );
      })}
      {heard && heard.bar >= fromBar && heard.bar <= toBar && (
        <rect x={x(heard.bar, heard.tick) - 1.5} y={0} width={3} height={height} fill="var(--ink)" data-testid="heard" />
      )}
    </svg>
  );
});

const HANDS = ["fretting", "picking"] as const;

const placeKey = (bar: number, at: string, hand: string) => `${bar} ${at} ${hand}`;

/** What the hands do besides playing, by place. */
function gesturesByPlace(plan: PlanDocument | null): ReadonlyMap<string, string | null> {
  return new Map(plan?.steps.flatMap((step) => HANDS.map((hand) => [placeKey(step.bar - 1, step.at, hand), gestureAt(step, hand)] as const)));
}

/** The counts over the strips, for all of them. */
export function CountRow({ passage, fromBar, toBar, width }: Pick<StripProps, "passage" | "fromBar" | "toBar" | "width">) {
  const { x } = spread(passage, fromBar, toBar, width);
  return (
    <svg width={width} height={COUNT} className="block" aria-hidden>
      {passage.bars.slice(fromBar, toBar + 1).flatMap((bar, i) => {
        const beat = unitLength(bar.meter);
        return Array.from({ length: bar.meter[0] }, (_, k) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: beats have no other name
          <text key={`${i} ${k * beat}`} x={x(fromBar + i, k * beat)} y={16} textAnchor="middle" fontSize={15} fontWeight={700} fill="var(--ink)">
            {countOf(k * beat, bar)}
          </text>
        ));
      })}
    </svg>
  );
}

/** Where a place lies when some bars fill a width. */
function spread(passage: Passage, fromBar: number, toBar: number, width: number) {
  const bars = passage.bars.slice(fromBar, toBar + 1);
  const ticks = bars.reduce((sum, bar) => sum + barLength(bar.meter), 0) || TICKS_PER_WHOLE;
  const scale = (width - LEAD * bars.length) / ticks;
  const starts = bars.map((_, i) => bars.slice(0, i).reduce((sum, bar) => sum + barLength(bar.meter) * scale + LEAD, 0));
  return { scale, x: (bar: number, tick: number) => (starts[bar - fromBar] ?? 0) + LEAD + tick * scale };
}
