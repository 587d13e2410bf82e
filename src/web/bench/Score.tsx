import { useEffect, useMemo, useRef, useState } from "react";
import { barGrid, barLength, type Place } from "../../core/edit/edit.ts";
import { gcd, TICKS_PER_WHOLE, ticksOf } from "../../core/music/ticks.ts";
import type { Bar, Passage } from "../../core/passage/schema.ts";
import { type Settings, settingsOf } from "../../core/passage/settings.ts";
import { strokeDirections } from "../../core/timeline/strokes.ts";
import { useLook } from "../setup/look.tsx";
import { BarView, COUNT_HEIGHT, SWING_HEIGHT, scoreHeight, segmentId } from "./BarView.tsx";
import { BAR_PAD, barBoxes, LANE, PX_PER_WHOLE, type StepBox, TRACK_ROW, xOf } from "./layout.ts";

export interface ScoreProps {
  passage: Passage;
  steps: readonly StepBox[][];
  cursor: Place & { string: number };
  selected: StepBox | null;
  /** What is selected, in ticks from the beginning. */
  selection: { from: number; to: number } | null;
  onClipboard: { copy(event: React.ClipboardEvent): void; cut(event: React.ClipboardEvent): void; paste(event: React.ClipboardEvent): void };
  /** Where the sound is now. */
  heard: Place | null;
  finest: number;
  onMove(cursor: Place & { string: number }): void;
  onKeyDown(event: React.KeyboardEvent): void;
  label: string;
}

const NAMES_WIDTH = 92;
const OVERSCAN = 600;

/** The whole passage from left to right. Only the bars in view are drawn. */
export function Score({ passage, steps, cursor, selected, selection, onClipboard, heard, finest, onMove, onKeyDown, label }: ScoreProps) {
  const strings = passage.instrument.tuning.length;
  const lowestOnTop = useLook().look.top === "lowest";
  const boxes = useMemo(() => barBoxes(passage), [passage]);
  const settings = useMemo(() => settingsOf(passage), [passage]);
  const directionsOf = useDirections(settings, strings);
  const scroller = useRef<HTMLDivElement>(null);
  const [view, setView] = useState({ left: 0, width: 1280 });
  const total = boxes.length > 0 ? boxes.at(-1)!.x + boxes.at(-1)!.width : 0;

  useEffect(() => {
    const element = scroller.current;
    if (!element) return;
    const update = () => setView({ left: element.scrollLeft, width: element.clientWidth });
    const observer = new ResizeObserver(update);
    observer.observe(element);
    element.addEventListener("scroll", update, { passive: true });
    element.focus({ preventScroll: true });
    return () => {
      observer.disconnect();
      element.removeEventListener("scroll", update);
    };
  }, []);

  const xAt = ({ bar, tick }: Place) => (boxes[bar]?.x ?? 0) + xOf(tick);
  const watchedX = xAt(heard ?? cursor);
  useEffect(() => {
    const element = scroller.current;
    if (!element) return;
    const room = element.clientWidth - NAMES_WIDTH;
    if (watchedX < element.scrollLeft + 40) element.scrollLeft = Math.max(0, watchedX - 80);
    else if (watchedX > element.scrollLeft + room - 80) element.scrollLeft = watchedX - room * 0.4;
  }, [watchedX]);

  const shown = boxes.filter((box) => box.x + box.width > view.left - OVERSCAN && box.x < view.left + view.width + OVERSCAN);
  const place = (event: React.MouseEvent, bar: number) => {
    const box = event.currentTarget.getBoundingClientRect();
    const y = event.clientY - box.top - COUNT_HEIGHT - SWING_HEIGHT;
    const lane = Math.min(strings, Math.max(1, Math.floor(y / LANE) + 1));
    const string = lowestOnTop ? strings + 1 - lane : lane;
    const grid = gcd(barGrid(passage, bar), finest);
    const raw = ((event.clientX - box.left - BAR_PAD * 0.6) / PX_PER_WHOLE) * TICKS_PER_WHOLE;
    const last = barLength(passage.bars[bar]!.meter) - grid;
    onMove({ bar, tick: Math.min(last, Math.max(0, Math.round(raw / grid) * grid)), string });
  };

  return (
    <div
      ref={scroller}
      className="relative overflow-x-auto overflow-y-hidden border-b border-base-300"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: the score is an application of its own, driven by keys
      tabIndex={0}
      role="application"
      aria-roledescription="score"
      aria-label={label}
      aria-activedescendant={selected && shownHere(steps, cursor, selected) ? segmentId(cursor.bar, selected.index, cursor.string) : undefined}
      onKeyDown={onKeyDown}
      onCopy={onClipboard.copy}
      onCut={onClipboard.cut}
      onPaste={onClipboard.paste}
    >
      <div className="flex" style={{ width: total + NAMES_WIDTH + 40, height: scoreHeight(strings) }}>
        <StringNames passage={passage} lowestOnTop={lowestOnTop} />
        <div className="relative" style={{ width: total }}>
          {shown.map((box) => (
            // biome-ignore lint/a11y/noStaticElementInteractions: pointing moves the cursor; keys do the same
            // biome-ignore lint/a11y/useKeyWithClickEvents: see above
            <div
              key={passage.bars[box.index]!.id ?? box.index}
              className="absolute top-0"
              style={{ left: box.x, width: box.width }}
              onClick={(event) => place(event, box.index)}
            >
              <BarView
                bar={passage.bars[box.index]!}
                index={box.index}
                grid={barGrid(passage, box.index)}
                newMeter={isNewMeter(passage, box.index)}
                strings={strings}
                width={box.width}
                steps={steps[box.index] ?? NONE}
                selected={selected && (steps[box.index] ?? NONE).includes(selected) ? selected : null}
                cursor={cursor.bar === box.index ? cursor : null}
                directions={directionsOf(passage.bars[box.index]!)}
                lowestOnTop={lowestOnTop}
              />
            </div>
          ))}
          {selection && <Selected passage={passage} selection={selection} boxes={boxes} height={scoreHeight(strings)} />}
          {heard && (
            <div
              className="pointer-events-none absolute top-0 w-[3px] bg-base-content"
              data-testid="heard"
              style={{ left: xAt(heard) - 3, height: scoreHeight(strings) }}
            />
          )}
          <div className="absolute top-0 w-0.5 bg-base-content" style={{ left: total, height: scoreHeight(strings) }} />
        </div>
      </div>
    </div>
  );
}

const NONE: StepBox[] = [];

/** Whether the selected step is drawn in the cursor's bar, so that it can be told as what the cursor is on. */
function shownHere(steps: readonly StepBox[][], cursor: Place, selected: StepBox): boolean {
  return (steps[cursor.bar] ?? NONE).some((box) => box.index === selected.index);
}

type Directions = { kind: string; tick: number }[];

/** Which way the strokes of a bar go; worked out once per bar and way of playing, so that bars an edit leaves alone stay as they are. */
function useDirections(settings: Settings, strings: number): (bar: Bar) => Directions {
  const school = `${settings.playsWith} ${settings.strokes} ${strings}`;
  const now = useRef(settings);
  now.current = settings;
  return useMemo(() => {
    void school;
    const known = new WeakMap<Bar, Directions>();
    return (bar: Bar) => {
      const found = known.get(bar) ?? strokeDirections(bar, now.current, strings).map((kind, i) => ({ kind, tick: ticksOf(bar.strokes[i]!.at) }));
      known.set(bar, found);
      return found;
    };
  }, [school, strings]);
}

function isNewMeter({ bars }: Passage, index: number): boolean {
  const [before, bar] = [bars[index - 1], bars[index]!];
  return !before || before.meter[0] !== bar.meter[0] || before.meter[1] !== bar.meter[1];
}

/** The selected stretch, over as many bars as it takes. */
function Selected({
  passage,
  selection,
  boxes,
  height,
}: {
  passage: Passage;
  selection: { from: number; to: number };
  boxes: ReturnType<typeof barBoxes>;
  height: number;
}) {
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
        style={{ left, width: ((to - from) / TICKS_PER_WHOLE) * PX_PER_WHOLE, height }}
      />
    );
  });
}

/** Names of strings and tracks, which stay while the music scrolls. */
function StringNames({ passage, lowestOnTop }: { passage: Passage; lowestOnTop: boolean }) {
  const { tuning } = passage.instrument;
  const lanes = COUNT_HEIGHT + SWING_HEIGHT;
  const tracks = lanes + tuning.length * LANE + 8;
  const track = tuning.length * TRACK_ROW;
  return (
    <div className="sticky left-0 z-10 shrink-0 bg-base-100" style={{ width: NAMES_WIDTH }} aria-hidden>
      <span className="absolute left-3 text-sm" style={{ top: COUNT_HEIGHT + SWING_HEIGHT / 2 - 10, color: "var(--picking)" }}>
        stroke
      </span>
      {tuning.map((name, s) => (
        <span
          // biome-ignore lint/suspicious/noArrayIndexKey: strings have no other name
          key={s}
          className="absolute left-3 flex items-baseline gap-2"
          style={{ top: lanes + ((lowestOnTop ? tuning.length - 1 - s : s) + 0.5) * LANE - 13 }}
        >
          <b>{s + 1}</b> <span className="quiet text-sm">{name}</span>
        </span>
      ))}
      <span className="absolute left-3 text-sm leading-tight" style={{ top: tracks + track / 2 - 16, color: "var(--fretting)" }}>
        fretting
        <br />
        hand
      </span>
      <span className="absolute left-3 text-sm leading-tight" style={{ top: tracks + track * 1.5 - 8, color: "var(--picking)" }}>
        picking
        <br />
        hand
      </span>
    </div>
  );
}
