import { startTransition, useEffect, useMemo, useReducer, useRef, useState } from "react";
import { barGrid, type Place } from "../../core/edit/edit.ts";
import { ticksAt } from "../../core/edit/range.ts";
import { barLength } from "../../core/music/beats.ts";
import { gcd, ticksOf } from "../../core/music/ticks.ts";
import type { Bar, Passage } from "../../core/passage/schema.ts";
import { type Settings, settingsOf } from "../../core/passage/settings.ts";
import { strokeDirections } from "../../core/timeline/strokes.ts";
import { useLook } from "../look/look.tsx";
import { scrolled } from "../planner/use-plan.ts";
import { BarView, COUNT_HEIGHT, SWING_HEIGHT, scoreHeight, segmentId } from "./BarView.tsx";
import { type Drop, dropOf, type Spot } from "./drag.ts";
import { type BarBox, barBoxes, LANE, type StepBox, scaleFor } from "./layout.ts";
import { DropMark, GripSpans, Selected, StringNames } from "./overlays.tsx";
import { ScaleContext } from "./scale.ts";
import { type Dragging, useDrag } from "./use-drag.ts";

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
  onSelect(from: Place, cursor: Place & { string: number }): void;
  onDrop(drop: Drop): void;
  onKeyDown(event: React.KeyboardEvent): void;
  label: string;
  /** What does not go together, at its stroke. */
  marks?: readonly { place: Place; says: string }[];
  /** Whether the keyboard begins here. */
  takesFocus?: boolean;
}

/** Bars are drawn so far beyond the view on either side, in pixels; drawn anew after so much scrolling. */
const OVERSCAN = 600;
const SCROLL_STEP = 200;

/** The whole passage from left to right. Only the bars in view are drawn. */
export function Score({
  passage,
  steps,
  cursor,
  selected,
  selection,
  onClipboard,
  heard,
  finest,
  onMove,
  onSelect,
  onDrop,
  onKeyDown,
  label,
  takesFocus = true,
  marks = NO_MARKS,
}: ScoreProps) {
  const strings = passage.instrument.tuning.length;
  const lowestOnTop = useLook().look.top === "lowest";
  const [view, setView] = useState({ left: 0, width: 1280 });
  const seen = useRef(view);
  const namesWidth = view.width < 560 ? 58 : 92;
  const scale = useMemo(() => scaleFor(view.width - namesWidth), [view.width, namesWidth]);
  const boxes = useMemo(() => barBoxes(passage, scale), [passage, scale]);
  const settings = useMemo(() => settingsOf(passage), [passage]);
  const directionsOf = useDirections(settings, strings);
  const scroller = useRef<HTMLDivElement>(null);
  const focusFirst = useRef(takesFocus);
  const total = boxes.length > 0 ? boxes.at(-1)!.x + boxes.at(-1)!.width : 0;

  useEffect(() => {
    const element = scroller.current;
    if (!element) return;
    const onSize = () => {
      seen.current = { left: element.scrollLeft, width: element.clientWidth };
      setView(seen.current);
    };
    /** Bars are drawn ahead of the view, in slices that leave the page free to scroll. */
    const onScroll = () => {
      scrolled();
      const left = element.scrollLeft;
      seen.current = { ...seen.current, left };
      startTransition(() => setView((before) => (Math.abs(left - before.left) < SCROLL_STEP ? before : { ...before, left })));
    };
    const observer = new ResizeObserver(onSize);
    observer.observe(element);
    element.addEventListener("scroll", onScroll, { passive: true });
    if (focusFirst.current) element.focus({ preventScroll: true });
    return () => {
      observer.disconnect();
      element.removeEventListener("scroll", onScroll);
    };
  }, []);

  const xAt = ({ bar, tick }: Place) => (boxes[bar]?.x ?? 0) + scale.xOf(tick);
  const watched = heard ?? cursor;
  const watchedX = xAt(watched);
  const { x: barX, width: barWidth } = boxes[watched.bar] ?? { x: 0, width: Number.POSITIVE_INFINITY };
  useEffect(() => {
    const element = scroller.current;
    if (!element) return;
    // What the scroller said last: to ask it now would lay out the page before its time.
    const { left, width } = seen.current;
    const room = width - namesWidth;
    const isIn = watchedX >= left + 10 && watchedX <= left + room - 20;
    // Where a bar just fits it is shown as a whole.
    if (room < 560 && barWidth <= room + 1) {
      if (!isIn) element.scrollLeft = barX;
    } else if (watchedX < left + 40) element.scrollLeft = Math.max(0, watchedX - 80);
    else if (watchedX > left + room - 80) element.scrollLeft = watchedX - room * 0.4;
  }, [watchedX, barX, barWidth, namesWidth]);

  const shown = useBarsDrawn(boxes, view);
  /** The grid's place nearest to the pointer, and the lane it is on. */
  const spotAt = (event: React.PointerEvent): Spot | null => {
    const music = event.currentTarget.getBoundingClientRect();
    const x = event.clientX - music.left;
    const box = boxes.find((b) => x < b.x + b.width) ?? boxes.at(-1);
    if (!box) return null;
    const lane = Math.min(strings, Math.max(1, Math.floor((event.clientY - music.top - COUNT_HEIGHT - SWING_HEIGHT) / LANE) + 1));
    const grid = gcd(barGrid(passage, box.index), finest);
    const length = barLength(passage.bars[box.index]!.meter);
    const raw = scale.tickAt(x - box.x);
    const tick = Math.min(length, Math.max(0, Math.round(raw / grid) * grid));
    const place = { bar: box.index, tick: Math.min(length - grid, tick) };
    return { place, ticks: ticksAt(passage, { bar: box.index, tick }), string: lowestOnTop ? strings + 1 - lane : lane };
  };
  const dropAt = ({ grab, spot }: Dragging) => (grab.kind === "select" ? null : dropOf(passage, grab, spot, gcd(barGrid(passage, grab.place.bar), finest)));
  const { dragging, giveUp, handlers } = useDrag({
    spotAt,
    onDrag: ({ grab, spot }) => grab.kind === "select" && onSelect(grab.place, { ...spot.place, string: spot.string }),
    onDrop: (now) => {
      const drop = dropAt(now);
      if (drop) onDrop(drop);
    },
    onClick: ({ place, string }) => onMove({ ...place, string }),
  });
  const drop = dragging && dropAt(dragging);

  return (
    <ScaleContext value={scale}>
      <div
        ref={scroller}
        className="relative shrink-0 overflow-x-auto overflow-y-hidden border-b border-base-300"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: the score is an application of its own, driven by keys
        tabIndex={0}
        role="application"
        aria-roledescription="score"
        aria-label={label}
        aria-activedescendant={selected && shownHere(steps, cursor, selected) ? segmentId(cursor.bar, selected.index, cursor.string) : undefined}
        onKeyDown={(event) => {
          if (event.key === "Escape" && dragging) giveUp();
          else onKeyDown(event);
        }}
        onCopy={onClipboard.copy}
        onCut={onClipboard.cut}
        onPaste={onClipboard.paste}
      >
        <div className="flex" style={{ width: total + namesWidth + 40, height: scoreHeight(strings) }}>
          <StringNames tuning={passage.instrument.tuning} lowestOnTop={lowestOnTop} width={namesWidth} />
          <div className="relative select-none" style={{ width: total }} {...handlers}>
            {shown.map((box) => (
              <div
                key={passage.bars[box.index]!.id ?? box.index}
                className="absolute top-0 isolate contain-strict"
                style={{ left: box.x, width: box.width, height: scoreHeight(strings) }}
                data-bar={box.index}
              >
                <BarView
                  bar={passage.bars[box.index]!}
                  index={box.index}
                  grid={barGrid(passage, box.index)}
                  newMeter={isNewMeter(passage, box.index)}
                  strings={strings}
                  gain={settings.gain}
                  width={box.width}
                  steps={steps[box.index] ?? NONE}
                  selected={selected && (steps[box.index] ?? NONE).includes(selected) ? selected : null}
                  cursor={cursor.bar === box.index ? cursor : null}
                  directions={directionsOf(passage.bars[box.index]!)}
                  lowestOnTop={lowestOnTop}
                />
              </div>
            ))}
            {boxes.length > 0 && <GripSpans passage={passage} boxes={boxes} />}
            {selection && <Selected passage={passage} selection={selection} boxes={boxes} height={scoreHeight(strings)} />}
            {marks.map(({ place: at, says }) => (
              <span
                key={`${at.bar} ${at.tick} ${says}`}
                role="img"
                aria-label={says}
                title={says}
                data-testid="clash"
                className="absolute grid size-5 -translate-x-1/2 place-items-center rounded-full bg-base-content text-sm font-extrabold text-base-100"
                style={{ left: xAt(at), top: COUNT_HEIGHT - 4 }}
              >
                !
              </span>
            ))}
            {drop && <DropMark passage={passage} drop={drop} boxes={boxes} lowestOnTop={lowestOnTop} isTrack={dragging?.grab.kind === "palm"} />}
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
    </ScaleContext>
  );
}

/** Bars to draw: those in view at once, those beyond it one more at a time, so that no moment of scrolling takes long. */
function useBarsDrawn(boxes: readonly BarBox[], { left, width }: { left: number; width: number }): readonly BarBox[] {
  const drawn = useRef({ first: 0, end: 0 });
  const [, goOn] = useReducer((n: number) => n + 1, 0);
  const inView = rangeOf(boxes, left, left + width);
  const wanted = rangeOf(boxes, left - OVERSCAN, left + width + OVERSCAN);
  const first = Math.max(wanted.first, Math.min(drawn.current.first - 1, inView.first));
  const end = Math.min(wanted.end, Math.max(drawn.current.end + 1, inView.end));
  useEffect(() => {
    drawn.current = { first, end };
    if (first > wanted.first || end < wanted.end) startTransition(goOn);
  }, [first, end, wanted.first, wanted.end]);
  return boxes.slice(first, end);
}

/** The bars that reach into a stretch of the drawing. */
function rangeOf(boxes: readonly BarBox[], from: number, to: number): { first: number; end: number } {
  const first = boxes.findIndex((box) => box.x + box.width > from);
  const end = boxes.findIndex((box) => box.x >= to);
  return { first: first < 0 ? boxes.length : first, end: end < 0 ? boxes.length : end };
}

const NONE: StepBox[] = [];
const NO_MARKS: NonNullable<ScoreProps["marks"]> = [];

/** Whether the selected step is drawn in the cursor's bar, so that it can be named as what the cursor is on. */
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
