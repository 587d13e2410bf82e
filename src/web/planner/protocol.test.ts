import { expect, it } from "vitest";
import type { Bar } from "../../core/passage/schema.ts";
import { changedFrom, changeTo } from "./protocol.ts";
import { barsReceived, barsToSend } from "./sent-bars.ts";

it("a list known by its changes is the same list", () => {
  const [a, b, c, d, e] = ["a", "b", "c", "d", "e"].map((is) => ({ is })) as [object, object, object, object, object];
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
  ] as const) {
    const said = changeTo<object>(old, changedFrom<object>(old, now));
    expect(said.length).toBe(now.length);
    said.forEach((item, i) => {
      expect(item).toBe(now[i]);
    });
  }
  expect(changedFrom([a, b, c], [a, d, c]).between).toEqual([d]);
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

it("items that say the same as before stay the objects they were", () => {
  const old = [{ is: 1 }, { is: 2 }, { is: 3 }, { is: 4 }];
  const now = [old[0]!, { is: 2 }, { is: 9 }, { is: 4 }];
  const changed = changedFrom(old, now);
  expect(changed.between).toEqual([{ is: 9 }]);
  const said = changeTo(old, changed);
  expect(said).toEqual(now);
  for (const same of [0, 1, 3]) expect(said[same]).toBe(old[same]);
});
