import { expect, it } from "vitest";
import { seeded } from "../test/random-passages.ts";
import { SharedLists } from "./shared-lists.ts";

it("gives lists that say what they were asked for, the same one for the same as long as no other takes its place, whatever is done to the one asked with", () => {
  const random = seeded(11);
  const lists = new SharedLists();
  const asked: number[] = [];
  let same = 0;
  for (let n = 0; n < 20_000; n++) {
    asked.length = Math.floor(random() * 4);
    for (let k = 0; k < asked.length; k++) asked[k] = Math.floor(random() * 6) * (random() < 0.5 ? 1_000_000 : 1);
    const first = lists.of(asked);
    expect([...first]).toEqual(asked);
    if (lists.of([...asked]) === first) same++;
    asked.fill(7);
  }
  expect(same).toBe(20_000);
});

it("tells apart lists that have the same number: 31 a + b", () => {
  const lists = new SharedLists();
  expect(lists.of([1, 31])).toEqual([1, 31]);
  expect(lists.of([2, 0])).toEqual([2, 0]);
  expect(lists.of([1, 31])).toEqual([1, 31]);
});
