import { parsePassage } from "../passage/parse.ts";
import { INSTRUMENT_PRESETS } from "../passage/presets.ts";
import { PASSAGE_VERSION, type Passage, type PassageInput } from "../passage/schema.ts";

/** mulberry32: a small seeded generator of numbers from 0 up to 1. */
export function seeded(seed: number): () => number {
  let a = seed >>> 0;
  return () => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** A random short passage over instruments, schools, gains and tempos; the same seed gives the same one. */
export function randomPassage(seed: number, mostStrokes = 5): Passage {
  const random = seeded(seed);
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
  const { instrument } = pick(INSTRUMENT_PRESETS);
  const count = instrument.tuning.length;
  const position = 1 + Math.floor(random() * 9);
  type Stroke = NonNullable<PassageInput["bars"][number]["strokes"]>[number];
  const strokes: Stroke[] = [];
  const places = [0, 1, 2, 3, 4, 5, 6, 7].filter(() => random() < 0.7).slice(0, mostStrokes);
  for (const place of places.length > 0 ? places : [0]) {
    const dead = random() < 0.2;
    const low = 1 + Math.floor(random() * count);
    const width = 1 + Math.floor(random() * 3);
    const strings = Array.from({ length: width }, (_, i) => low - i).filter((s) => s >= 1);
    const at = `${place}/8`;
    const length = pick(["1/16", "1/8", "1/8", "1/4"]);
    if (dead) strokes.push({ at, length, as: pick(["ghost", "chuck"] as const), strings });
    else
      strokes.push({
        at,
        length,
        notes: strings.map((string) => ({
          string,
          fret: random() < 0.25 ? 0 : position + Math.floor(random() * 4),
          tone: pick(["open", "open", "open", "palm"] as const),
        })),
      });
  }
  const parsed = parsePassage({
    format: "rest-hand-passage",
    version: PASSAGE_VERSION,
    title: `random ${seed}`,
    instrument,
    tempo: pick([60, 90, 120, 160, 220]),
    gain: pick(["clean", "edge", "high"] as const),
    ring: pick(["written", "written", "bloom"] as const),
    player: {
      index: pick(["laid", "laid", "arched"] as const),
      neighbour: pick(["fingertip", "palm"] as const),
      pickHand: pick(["palm", "palm", "thumb"] as const),
      chuck: pick(["flat-hand", "edge", "release"] as const),
      thumbOver: pick(["no", "yes"] as const),
      bassThumb: pick(["floating", "anchored"] as const),
      playsWith: pick(["pick", "pick", "fingers", "thumb", "slap"] as const),
    },
    bars: [{ meter: [4, 4], strokes }],
  });
  if (!parsed.ok) throw new Error(parsed.faults.map((f) => `${f.place}: ${f.says}`).join("; "));
  return parsed.value;
}
