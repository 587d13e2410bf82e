import { barLength } from "../music/beats.ts";
import { fractionOf, type Ticks, ticksOf } from "../music/ticks.ts";
import { insertStroke } from "../passage/place.ts";
import type { Bar, Passage, Stroke } from "../passage/schema.ts";
import { type Settings, settingsOf } from "../passage/settings.ts";
import { setTone } from "../passage/tones.ts";
import { type Held, harmonyOf, heldAt } from "./harmony.ts";

/** A chuck by the edge of the hand goes through the first three or four strings (common practice). */
const EDGE_STRINGS = 4;

/** A copy of a passage that rules write in, one after the other. */
export class Draft {
  readonly bars: Bar[];
  readonly settings: Settings;
  /** How it is played: a rule may say so. */
  player: Passage["player"];
  readonly strings: number;
  /** Ticks from the passage's beginning to each bar's. */
  readonly starts: readonly Ticks[];
  /** The chords as they were before any rule: what rules take away is still held by the hand. */
  private readonly harmony: readonly Held[];

  constructor(readonly passage: Passage) {
    this.bars = structuredClone(passage.bars);
    this.settings = settingsOf(passage);
    this.player = passage.player;
    this.strings = passage.instrument.tuning.length;
    this.harmony = harmonyOf(passage.bars);
    let start = 0;
    this.starts = passage.bars.map((bar) => {
      const own = start;
      start += barLength(bar.meter);
      return own;
    });
  }

  held(bar: number, tick: Ticks): Held | undefined {
    return heldAt(this.harmony, this.starts[bar]! + tick);
  }

  /** Where chords begin in a bar, in ticks from its beginning. */
  changesIn(bar: number): { tick: Ticks; held: Held }[] {
    const start = this.starts[bar]!;
    return this.harmony.map((held) => ({ tick: held.from - start, held })).filter(({ tick }) => tick >= 0 && tick < barLength(this.bars[bar]!.meter));
  }

  /** Strings that carry the bass: all of a bass, the lower half of a guitar (common practice). */
  isBassString(string: number): boolean {
    return this.passage.instrument.kind === "electric-bass" || string > this.strings / 2;
  }

  strokeAt(bar: number, tick: Ticks): Stroke | undefined {
    return this.bars[bar]!.strokes.find((stroke) => ticksOf(stroke.at) === tick);
  }

  /** Every string, lowest first. */
  all(): number[] {
    return Array.from({ length: this.strings }, (_, i) => this.strings - i);
  }

  /** The strings of a chuck: all, or the first ones that the pick comes to where the edge of the hand makes it. */
  chucked(): number[] {
    return this.settings.chuck === "edge" ? this.all().slice(0, EDGE_STRINGS) : this.all();
  }

  /** From the lowest to the highest string that is held, all between; every string when nothing is. */
  across(held: Held | undefined): number[] {
    const own = held?.notes.map((note) => note.string) ?? [];
    return own.length < 2 ? this.all() : this.all().filter((s) => s <= Math.max(...own) && s >= Math.min(...own));
  }

  /** A new stroke up to the next one, named after its place so that it can be spoken of again. */
  insert(bar: number, tick: Ticks, stroke: Omit<Stroke, "at" | "length" | "id">, longest = Number.POSITIVE_INFINITY): Stroke {
    const { strokes, meter, id } = this.bars[bar]!;
    const next = Math.min(barLength(meter), ...strokes.map((s) => ticksOf(s.at)).filter((at) => at > tick));
    const added: Stroke = { id: `${id ?? `bar${bar + 1}`}+${tick}`, at: fractionOf(tick), length: fractionOf(Math.min(longest, next - tick)), ...stroke };
    insertStroke(strokes, added);
    return added;
  }

  /** A dead stroke through which the hand keeps what it holds. */
  dead(bar: number, tick: Ticks, as: "chuck" | "ghost" | "click", strings: number[], stroke: "down" | "up" | null, longest?: Ticks): Stroke {
    const held = this.held(bar, tick);
    const notes = held && held.notes.length > 1 ? held.notes.map((note) => ({ ...note })) : [];
    const chord = held?.name ? { chord: held.name } : {};
    return this.insert(bar, tick, { as, strings, notes, ...chord, ...(stroke ? { stroke } : {}) }, longest);
  }
}

/** Makes a stroke dead; what it held stays held. */
export function deaden(stroke: Stroke, as: "chuck" | "ghost" | "click", strings: number[]): void {
  stroke.as = as;
  stroke.strings = strings;
  delete stroke.accent;
  delete stroke.click;
  for (const note of stroke.notes) setTone(note, "open");
}

export function isPlayed(stroke: Stroke): boolean {
  return (stroke.as ?? "play") === "play";
}
