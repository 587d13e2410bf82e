import { memo } from "react";
import { gripEnd } from "../../core/edit/grips.ts";
import { placeAt, ticksAt } from "../../core/edit/range.ts";
import { barLength } from "../../core/music/beats.ts";
import { ticksOf } from "../../core/music/ticks.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { COUNT_HEIGHT, SWING_HEIGHT } from "./BarView.tsx";
import type { Drop } from "./drag.ts";
import { type BarBox, LANE, TRACK_ROW } from "./layout.ts";
import { useScale } from "./scale.ts";

/** The selected stretch, over as many bars as it takes. */
export function Selected({
  passage,
  selection,
  boxes,
  height,
}: {
  passage: Passage;
  selection: { from: number; to: number };
  boxes: readonly BarBox[];
  height: number;
}) {
  const { xOf, widthOf } = useScale();
  let start = 0;
  return passage.bars.map((bar, b) => {
    const length = barLength(bar.meter);
    const from = Math.max(0, selection.from - start);
    const to = Math.min(length, selection.to - start);
    start += length;
    if (to <= from) return null;
    const left = boxes[b]!.x + xOf(from) - 12;
    return (
      <div
        key={bar.id ?? boxes[b]!.index}
        data-testid="selection"
        className="pointer-events-none absolute top-0 border-y-4 border-base-content bg-base-content/10"
        style={{ left, width: widthOf(to - from), height }}
      />
    );
  });
}

/** How long every written grip is held: a line over the bars, with a knob at its end to take hold of. */
export const GripSpans = memo(function GripSpans({ passage, boxes }: { passage: Passage; boxes: readonly BarBox[] }) {
  const { xOf } = useScale();
  const xOfTicks = (ticks: number) => {
    const place = placeAt(passage, ticks);
    return place ? boxes[place.bar]!.x + xOf(place.tick) : boxes.at(-1)!.x + boxes.at(-1)!.width;
  };
  return passage.bars.flatMap(({ grips = [] }, bar) =>
    grips
      .filter(({ notes }) => notes.length > 0)
      .map(({ at }) => {
        const tick = ticksOf(at);
        const from = ticksAt(passage, { bar, tick });
        const [left, right] = [xOfTicks(from), xOfTicks(gripEnd(passage, from)) - 6];
        return (
          <div key={from} className="pointer-events-none absolute" style={{ left, top: GRIP_TOP, width: Math.max(12, right - left) }} data-testid="grip-span">
            <div className="h-[3px]" style={{ background: "var(--fretting)" }} />
            <div
              className="pointer-events-auto absolute -top-2.5 -right-3 grid size-6 cursor-ew-resize touch-none place-items-center"
              data-grab="grip-end"
              data-bar={bar}
              data-tick={tick}
              title="Drag: held longer or shorter"
            >
              <span className="block h-3 w-1.5 rounded-sm" style={{ background: "var(--fretting)" }} />
            </div>
          </div>
        );
      }),
  );
});

/** Under the names of the grips, over the counts. */
const GRIP_TOP = 14;

/** What letting go would reach over, and in words what it would do. */
export function DropMark({
  passage,
  drop,
  boxes,
  lowestOnTop,
  isTrack,
}: {
  passage: Passage;
  drop: Drop;
  boxes: readonly BarBox[];
  lowestOnTop: boolean;
  isTrack: boolean;
}) {
  const { xOf } = useScale();
  const strings = passage.instrument.tuning.length;
  const xOfTicks = (ticks: number) => {
    const place = placeAt(passage, ticks);
    return place ? boxes[place.bar]!.x + xOf(place.tick) : boxes.at(-1)!.x + boxes.at(-1)!.width;
  };
  const lanes = COUNT_HEIGHT + SWING_HEIGHT;
  const lane = lowestOnTop ? strings + 1 - drop.strings.last : drop.strings.first;
  const height = isTrack ? strings * TRACK_ROW : (drop.strings.last - drop.strings.first + 1) * LANE;
  const top = isTrack ? lanes + strings * LANE + 16 + strings * TRACK_ROW : lanes + (lane - 1) * LANE;
  const left = xOfTicks(drop.from) - 14;
  return (
    <div className="pointer-events-none absolute z-10" style={{ left, top }} data-testid="drop">
      <div className="rounded-md border-[3px] border-base-content bg-base-content/15" style={{ width: Math.max(28, xOfTicks(drop.to) - 14 - left), height }} />
      <p className="mt-1 w-max rounded bg-base-content px-2 py-0.5 font-semibold text-base-100">{drop.says}</p>
    </div>
  );
}

/** Names of strings and tracks, which stay while the music scrolls. */
export const StringNames = memo(function StringNames({
  tuning,
  lowestOnTop,
  width,
}: {
  tuning: Passage["instrument"]["tuning"];
  lowestOnTop: boolean;
  width: number;
}) {
  const lanes = COUNT_HEIGHT + SWING_HEIGHT;
  const tracks = lanes + tuning.length * LANE + 8;
  const track = tuning.length * TRACK_ROW;
  return (
    <div className="sticky left-0 z-10 shrink-0 bg-base-100" style={{ width }} aria-hidden>
      <span className="absolute left-1 text-xs sm:left-3 sm:text-sm" style={{ top: COUNT_HEIGHT + SWING_HEIGHT / 2 - 10, color: "var(--picking)" }}>
        stroke
      </span>
      {tuning.map((name, s) => (
        <span
          // biome-ignore lint/suspicious/noArrayIndexKey: strings have no other name
          key={s}
          className="absolute left-1 sm:left-3 flex items-baseline gap-2"
          style={{ top: lanes + ((lowestOnTop ? tuning.length - 1 - s : s) + 0.5) * LANE - 13 }}
        >
          <b>{s + 1}</b> <span className="quiet text-sm">{name}</span>
        </span>
      ))}
      <span className="absolute left-1 text-xs sm:left-3 sm:text-sm leading-tight" style={{ top: tracks + track / 2 - 16, color: "var(--fretting)" }}>
        fretting
        <br />
        hand
      </span>
      <span className="absolute left-1 text-xs sm:left-3 sm:text-sm leading-tight" style={{ top: tracks + track * 1.5 - 8, color: "var(--picking)" }}>
        picking
        <br />
        hand
      </span>
    </div>
  );
});
