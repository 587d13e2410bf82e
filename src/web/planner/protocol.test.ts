import { expect, it } from "vitest";
import type { PlannedStep, PlannedString } from "../../core/document/plan.ts";
import type { Bar } from "../../core/passage/schema.ts";
import { stepsReceived, stepsToSend } from "./protocol.ts";
import { barsReceived, barsToSend } from "./sent-bars.ts";

const still = (string: number, undampedDb = 0): PlannedString => ({
  string,
  intent: "quiet",
  state: "still",
  touchedBy: [],
  causes: [],
  undampedDb,
  strayDb: null,
});
const stepSays = (fretting: string, ...strings: PlannedString[]): PlannedStep => ({
  bar: 1,
  at: "0",
  ms: 0,
  lengthMs: 125,
  position: 1,
  strings,
  actions: [],
  fretting,
  picking: "",
});
const said = (old: readonly PlannedStep[], now: readonly PlannedStep[]) => stepsReceived(old, structuredClone(stepsToSend(old, now)));

it("steps known by what is another in them are the same steps", () => {
  const [a, b, c, d, e] = ["a", "b", "c", "d", "e"].map((is) => stepSays(is, still(1), still(2))) as [
    PlannedStep,
    PlannedStep,
    PlannedStep,
    PlannedStep,
    PlannedStep,
  ];
  const more = stepSays("c", still(1), still(2), still(3));
  const fewer = stepSays("c", still(1));
  const struck = { ...c, struck: [2, 1] };
  for (const [old, now] of [
    [[], [a, b]],
    [
      [a, b, c],
      [a, d, c],
    ],
    [
      [a, b, c],
      [a, c],
    ],
    [
      [a, c],
      [a, b, d, c],
    ],
    [[a, b], []],
    [
      [a, a, a],
      [a, a],
    ],
    [[a, b, c], [e]],
    [
      [a, c],
      [a, more],
    ],
    [
      [a, c, b],
      [a, fewer, b],
    ],
    [
      [a, struck],
      [a, c],
    ],
  ] as PlannedStep[][][])
    expect(said(old!, now!)).toEqual(now);
});

it("of a step that is another only the strings are sent that are, and what stays is the object it was", () => {
  const old = [stepSays("a", still(1), still(2)), stepSays("b", still(1), still(2)), stepSays("c", still(1), still(2))];
  const now = [old[0]!, stepSays("b", still(1), still(2, 12)), stepSays("c", still(1), still(2))];
  expect(stepsToSend(old, now)).toEqual({ first: 1, last: 1, between: [{ told: null, strings: [null, still(2, 12)] }] });
  const there = said(old, now);
  expect(there).toEqual(now);
  expect(there[0]).toBe(old[0]);
  expect(there[2]).toBe(old[2]);
  expect(there[1]!.strings[0]).toBe(old[1]!.strings[0]);
});

const bar = (id: string, ...strokes: Bar["strokes"]): Bar => ({ id, meter: [4, 4], strokes });
const struck = (at: string, fret: number): Bar["strokes"][number] => ({ at, length: "1/4", notes: [{ string: 6, fret }] });

it("bars sent before are the same objects on the other side", () => {
  const [a, b, c] = [bar("a"), bar("b"), bar("c")];
  const there = barsReceived([], structuredClone(barsToSend([], [a, b])));
  const then = barsReceived(there, structuredClone(barsToSend([a, b], [c, b, a, b])));
  expect(then.map(({ id }) => id)).toEqual(["c", "b", "a", "b"]);
  expect(then[1]).toBe(there[1]);
  expect(then[2]).toBe(there[0]);
});

it("of a changed bar the strokes that say the same are the same objects, and no bar that stays lends any", () => {
  const strokes = ["0", "1/4", "1/2"].map((at) => struck(at, 3));
  const [a, b] = [bar("a", ...strokes), bar("b", ...structuredClone(strokes))];
  const there = barsReceived([], structuredClone(barsToSend([], [a, b])));
  const changed = { ...a, strokes: [strokes[0]!, struck("1/4", 5), strokes[2]!] };
  const then = barsReceived(there, structuredClone(barsToSend([a, b], [changed, b])));
  expect(then).toEqual([changed, b]);
  expect(then[0]!.strokes.map((now, s) => now === there[0]!.strokes[s])).toEqual([true, false, true]);
  const inserted = barsReceived(there, structuredClone(barsToSend([a, b], [bar("c", ...strokes), a, b])));
  expect(inserted[0]!.strokes.some((now) => there[0]!.strokes.includes(now))).toBe(false);
});
