import { useEffect, useMemo, useRef, useState } from "react";
import { barGrid, barLength, type Place } from "../../core/edit/edit.ts";
import { gcd, TICKS_PER_WHOLE, ticksOf } from "../../core/music/ticks.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { settingsOf } from "../../core/passage/settings.ts";
import { strokeDirections } from "../../core/timeline/strokes.ts";
import { BarView, COUNT_HEIGHT, SWING_HEIGHT, scoreHeight } from "./BarView.tsx";
import { BAR_PAD, barBoxes, LANE, PX_PER_WHOLE, type StepBox, TRACK_ROW } from "./layout.ts";

export interface ScoreProps {
  passage: Passage;
  steps: readonly StepBox[][];
  cursor: Place & { string: number };
  selected: StepBox | null;
  finest: number;
  onMove(cursor: Place & { string: number }): void;
  onKeyDown(event: React.KeyboardEvent): void;
  label: string;
}

const NAMES_WIDTH = 92;
const OVERSCAN = 600;

/** The whole passage from left to right. Only the bars in view are drawn. */
export function Score({ passage, steps, cursor, selected, finest, onMove, onKeyDown, label }: ScoreProps) {
  const strings = passage.instrument.tuning.length;
  const boxes = useMemo(() => barBoxes(passage), [passage]);
  const directions = useMemo(() => {
    const settings = settingsOf(passage);
    return passage.bars.map((bar) => strokeDirections(bar, settings, strings).map((kind, i) => ({ kind, tick: ticksOf(bar.strokes[i]!.at) })));
  }, [passage, strings]);
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

  const cursorX = (boxes[cursor.bar]?.x ?? 0) + BAR_PAD * 0.6 + (cursor.tick / TICKS_PER_WHOLE) * PX_PER_WHOLE;
  useEffect(() => {
    const element = scroller.current;
    if (!element) return;
    const room = element.clientWidth - NAMES_WIDTH;
    if (cursorX < element.scrollLeft + 40) element.scrollLeft = Math.max(0, cursorX - 80);
    else if (cursorX > element.scrollLeft + room - 80) element.scrollLeft = cursorX - room * 0.4;
  }, [cursorX]);

  const shown = boxes.filter((box) => box.x + box.width > view.left - OVERSCAN && box.x < view.left + view.width + OVERSCAN);
  const place = (event: React.MouseEvent, bar: number) => {
    const box = event.currentTarget.getBoundingClientRect();
    const y = event.clientY - box.top - COUNT_HEIGHT - SWING_HEIGHT;
    const string = Math.min(strings, Math.max(1, Math.floor(y / LANE) + 1));
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
      onKeyDown={onKeyDown}
    >
      <div className="flex" style={{ width: total + NAMES_WIDTH + 40, height: scoreHeight(strings) }}>
        <StringNames passage={passage} />
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
                passage={passage}
                strings={strings}
                width={box.width}
                steps={steps[box.index] ?? NONE}
                selected={selected && (steps[box.index] ?? NONE).includes(selected) ? selected : null}
                cursor={cursor.bar === box.index ? cursor : null}
                directions={directions[box.index]!}
              />
            </div>
          ))}
          <div className="absolute top-0 w-0.5 bg-base-content" style={{ left: total, height: scoreHeight(strings) }} />
        </div>
      </div>
    </div>
  );
}

const NONE: StepBox[] = [];

/** Names of strings and tracks, which stay while the music scrolls. */
function StringNames({ passage }: { passage: Passage }) {
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
        // biome-ignore lint/suspicious/noArrayIndexKey: strings have no other name
        <span key={s} className="absolute left-3 flex items-baseline gap-2" style={{ top: lanes + (s + 0.5) * LANE - 13 }}>
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
