import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import { expect, it } from "vitest";
import { planStages } from "../engine.ts";
import { type GripNote, gripOptions } from "../grips/hold.ts";
import { instrument, passageOf, stroke } from "../test/build.ts";

/*
 * Against an open dataset of chord shapes: @tombatossals/chords-db 0.5.1, guitar (npm registry). Strings come lowest
 * first there, −1 is not played, 0 open, other frets count from baseFret.
 */

interface Row {
  frets: number[];
  fingers: number[];
  baseFret: number;
}

const file = createRequire(import.meta.url).resolve("@tombatossals/chords-db/lib/guitar.json");
const data = JSON.parse(readFileSync(file, "utf8")) as { chords: Record<string, { key: string; suffix: string; positions: Row[] }[]> };
const shapes = Object.values(data.chords)
  .flat()
  .flatMap(({ key, suffix, positions }) => positions.map((row) => ({ name: `${key} ${suffix} ${row.frets} from ${row.baseFret}`, ...shapeOf(row) })));

function shapeOf({ frets, fingers, baseFret }: Row) {
  const strings = frets.map((fret, i) => ({ string: frets.length - i, fret: fret > 0 ? fret + baseFret - 1 : fret, finger: fingers[i]! }));
  return { strings, fretted: strings.filter((s) => s.fret > 0), open: strings.filter((s) => s.fret === 0).map((s) => s.string) };
}
type Shape = ReturnType<typeof shapeOf>;

/** A row states its own fingers wrongly: a fretted string without one, one on a string that is not fretted, one on two frets. */
function isFaulty({ strings, fretted }: Shape): boolean {
  return strings.some((s) => s.fret > 0 !== s.finger > 0) || fretted.some((a) => fretted.some((b) => a.finger === b.finger && a.fret !== b.fret));
}

/** Common practice, written apart from the engine: what makes a set of fingers impossible; null when a hand can do it. */
function whyImpossible({ strings, fretted }: Shape, fingers: readonly unknown[]): string | null {
  const finger = (k: number) => fingers[k] as number;
  for (let a = 0; a < fretted.length; a++)
    for (let b = 0; b < fretted.length; b++) {
      if (finger(a) === finger(b) && fretted[a]!.fret !== fretted[b]!.fret) return "one finger on two frets";
      if (finger(a) < finger(b) && fretted[a]!.fret > fretted[b]!.fret) return "a higher finger nearer the nut";
    }
  for (let a = 0; a < fretted.length; a++)
    for (let b = 0; b < fretted.length; b++) {
      if (a === b || finger(a) !== finger(b)) continue;
      const between = strings.filter((s) => s.string < fretted[a]!.string && s.string > fretted[b]!.string);
      if (between.some((s) => s.fret >= 0 && s.fret < fretted[a]!.fret)) return "a barre over a string that sounds lower";
    }
  return null;
}

/** Every way to give four fingers to the notes. */
function everyFingering(count: number): number[][] {
  return Array.from({ length: 4 ** count }, (_, code) => Array.from({ length: count }, (_, k) => 1 + (Math.floor(code / 4 ** k) % 4)));
}

const sound = shapes.filter((shape) => !isFaulty(shape) && shape.fretted.length > 0);

it("finds fingers that a hand can do for every shape, or no set of fingers can", () => {
  const reasons: string[] = [];
  let agreeing = 0;
  for (const shape of sound) {
    const notes = shape.fretted.map(({ string, fret }): GripNote => ({ string, fret, finger: undefined }));
    const best = gripOptions(notes, false, shape.open).reduce((a, b) => (b.cost < a.cost ? b : a));
    const why = whyImpossible(shape, best.fingers);
    if (why === null) {
      if (best.fingers.every((finger, k) => finger === shape.fretted[k]!.finger)) agreeing++;
      continue;
    }
    reasons.push(`${shape.name}: ${why}`);
    expect(
      everyFingering(shape.fretted.length).every((fingers) => whyImpossible(shape, fingers) !== null),
      `${shape.name}: ${best.fingers}`,
    ).toBe(true);
  }
  process.stdout.write(
    `${shapes.length} shapes, ${shapes.length - sound.length} left out, ${sound.length - reasons.length} fingered, ${agreeing} (${((100 * agreeing) / sound.length).toFixed(1)}%) as in the dataset\n${reasons.join("\n")}\n`,
  );
  expect(shapes.length - sound.length).toBeLessThanOrEqual(20);
  expect(agreeing / sound.length).toBeGreaterThan(0.8);
});

it("a shape's release lies on the strings that its own fingers are on, and on no others", () => {
  const guitar = instrument("acoustic");
  for (const shape of sound) {
    const { strings, fretted } = shape;
    if (fretted.some((s) => s.fret > guitar.frets)) continue;
    const notes = strings.filter((s) => s.fret >= 0).map(({ string, fret, finger }) => ({ string, fret, ...(fret > 0 ? { finger: finger as 1 } : {}) }));
    const all = strings.map((s) => s.string);
    const passage = passageOf(
      [stroke("0", "1/4", "", { notes }), stroke("1/4", "1/4", "", { as: "ghost", strings: all, notes }), stroke("1/2", "1/4", "", { notes })],
      {
        on: "acoustic",
        player: { chuck: "release", index: "arched" },
      },
    );
    const [, ghost] = planStages(passage).shapes;
    const eased = new Set(ghost!.fretting.shapes.flatMap((s) => s.contacts.filter((c) => c.part === "ease").map((c) => c.string)));
    // An index that presses two strings lies on those between as well.
    const barre = fretted.filter((s) => s.finger === 1).map((s) => s.string);
    const under = all.filter((s) => fretted.some((f) => f.string === s) || (barre.length > 1 && s > Math.min(...barre) && s < Math.max(...barre)));
    expect([...eased].sort(), shape.name).toEqual(under.sort());
  }
}, 60_000);
