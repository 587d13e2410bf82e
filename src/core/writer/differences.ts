import { ticksOf } from "../music/ticks.ts";
import type { Passage, Stroke } from "../passage/schema.ts";
import { settingsOf } from "../passage/settings.ts";
import { strokeDirections } from "../timeline/strokes.ts";

export interface Difference {
  /** Bar index from 0 and ticks in it. */
  bar: number;
  tick: number;
  /** What it is instead, in a player's words. */
  says: string;
}

/** Where one version of a passage is played otherwise than another, stroke by stroke. */
export function differences(from: Passage, to: Passage): Difference[] {
  return to.bars.flatMap((_, b) => {
    const [old, now] = [strokesOf(from, b), strokesOf(to, b)];
    const ticks = [...new Set([...old.keys(), ...now.keys()])].sort((x, y) => x - y);
    return ticks.flatMap((tick): Difference[] => {
      const says = wordsFor(old.get(tick), now.get(tick));
      return says === "" ? [] : [{ bar: b, tick, says }];
    });
  });
}

interface Played {
  stroke: Stroke;
  way: string;
}

function strokesOf(passage: Passage, b: number): Map<number, Played> {
  const bar = passage.bars[b];
  if (!bar) return new Map();
  const ways = strokeDirections(bar, settingsOf(passage), passage.instrument.tuning.length);
  return new Map(bar.strokes.map((stroke, s) => [ticksOf(stroke.at), { stroke, way: ways[s]! }]));
}

function wordsFor(old: Played | undefined, now: Played | undefined): string {
  if (!old || !now) return now ? `${kindOf(now.stroke)} added` : old ? `${kindOf(old.stroke)} left out` : "";
  const said: string[] = [];
  if (kindOf(old.stroke) !== kindOf(now.stroke)) said.push(`${kindOf(now.stroke)} instead of ${kindOf(old.stroke)}`);
  else if (toneOf(old.stroke) !== toneOf(now.stroke)) said.push(`${toneOf(now.stroke)} instead of ${toneOf(old.stroke)}`);
  if (old.way !== now.way) said.push(`${now.way} instead of ${old.way}`);
  if ((old.stroke.accent ?? false) !== (now.stroke.accent ?? false)) said.push(now.stroke.accent ? "accented" : "without its accent");
  if (placesOf(old.stroke) !== placesOf(now.stroke)) said.push(`${placesOf(now.stroke)} instead of ${placesOf(old.stroke)}`);
  else if (stringsOf(old.stroke) !== stringsOf(now.stroke)) said.push(`strings ${stringsOf(now.stroke)} instead of ${stringsOf(old.stroke)}`);
  if (lengthsOf(old.stroke) !== lengthsOf(now.stroke) && said.length === 0) said.push("of another length");
  return said.join(", ");
}

function kindOf({ as, notes }: Stroke): string {
  return as && as !== "play" ? as : notes.length > 1 ? "strum" : "note";
}

function toneOf({ notes }: Stroke): string {
  const tones = new Set(notes.map((note) => note.tone ?? "open"));
  return tones.size > 1 ? "bass muted" : ([...tones][0] ?? "open");
}

/** Frets of a chord from the lowest string up, or where a note or two lie. */
function placesOf({ notes }: Stroke): string {
  const inOrder = [...notes].sort((a, b) => b.string - a.string);
  if (notes.length > 2) return `frets ${inOrder.map(({ fret }) => fret).join(" ")} on strings ${inOrder.map(({ string }) => string).join(" ")}`;
  return inOrder.map(({ string, fret }) => (fret === 0 ? `string ${string} open` : `string ${string} at ${fret}`)).join(", ");
}

function stringsOf({ strings, notes }: Stroke): string {
  return [...new Set(strings ?? notes.map((note) => note.string))].sort((a, b) => b - a).join(" ");
}

function lengthsOf({ length, notes }: Stroke): string {
  return [length, ...notes.map((note) => note.length ?? length)].map(ticksOf).join();
}
