import { describe, expect, it } from "vitest";
import { DEFAULT_MOVE_MS } from "../passage/settings.ts";
import { contactLabel, wordsOf } from "../words/contacts.ts";
import { GESTURES, MOVES, type MoveKind } from "./gestures.ts";
import { holdOf, KINDS, type Kind, partOf, SIDE } from "./parts.ts";
import { defaultSchool, SCHOOL_KEYS, schoolOf } from "./schools.ts";

describe("gestures", () => {
  /* Common practice: the ranges that players report, in ms. */
  const REPORTED: Partial<Record<MoveKind, [number, number]>> = {
    palmLand: [50, 100],
    palmLift: [40, 80],
    release: [30, 60],
    repress: [40, 90],
    lay: [80, 150],
    restore: [120, 250],
    thumbTravel: [50, 80],
    thumbTravelNext: [15, 25],
  };
  it.each(Object.entries(REPORTED))("%s takes what players report", (kind, [least, most]) => {
    expect(DEFAULT_MOVE_MS[kind as MoveKind]).toBeGreaterThanOrEqual(least);
    expect(DEFAULT_MOVE_MS[kind as MoveKind]).toBeLessThanOrEqual(most);
  });
  it("leaning by itself is quicker than letting a chord go; a palm shifts by two strings no slower than it lands", () => {
    for (const kind of ["indexFlatten", "indexArch"] as const) expect(DEFAULT_MOVE_MS[kind]).toBeLessThan(DEFAULT_MOVE_MS.release);
    expect(2 * DEFAULT_MOVE_MS.palmShift).toBeLessThanOrEqual(DEFAULT_MOVE_MS.palmLand);
  });

  /* Common practice: a move costs more than holding half a second, so nothing flutters. */
  const HELD: Readonly<Record<MoveKind, Kind>> = {
    palmLand: { hand: "picking", part: "palm" },
    palmLift: { hand: "picking", part: "palm" },
    palmShift: { hand: "picking", part: "palm" },
    release: { hand: "fretting", part: "ease" },
    repress: { hand: "fretting", part: "ease" },
    indexFlatten: { hand: "fretting", part: "underside" },
    indexArch: { hand: "fretting", part: "underside" },
    lay: { hand: "fretting", part: "lay" },
    restore: { hand: "fretting", part: "lay" },
    spare: { hand: "fretting", part: "spare" },
    thumbTravel: { hand: "picking", part: "thumb" },
    thumbTravelNext: { hand: "picking", part: "thumb" },
  };
  it.each(MOVES)("%s is more work than holding on for half a second", (kind) => {
    expect(GESTURES[kind].effort).toBeGreaterThan(0.5 * holdOf(partOf(HELD[kind])));
    expect(GESTURES[kind].hand).toBe(SIDE[HELD[kind].hand]);
  });
});

describe("contacts", () => {
  /* Common practice: what belongs to a home posture is kept for bars without a thought. */
  const HOME = ["underside", "tip", "ease", "roll", "palm", "thumb", "rest-stroke", "park", "plant", "thumb-return", "fret-wrap"];
  it("every one fails seldom, and what is not at home in a hand costs something to hold", () => {
    for (const kind of KINDS) {
      const { fails, role, stops, deadens } = partOf(kind);
      if (role === "press") continue;
      expect(fails, contactLabel(kind)).toBeGreaterThan(0);
      expect(fails, contactLabel(kind)).toBeLessThan(0.5);
      if (!HOME.includes(kind.part)) expect(holdOf(partOf(kind)), contactLabel(kind)).toBeGreaterThan(0);
      // What makes a struck string thud ends a note as well; the heel at the bridge does only the second.
      if (deadens) expect(stops, contactLabel(kind)).not.toBe("never");
    }
  });
  it("every one has words, and no two parts of a hand the same", () => {
    for (const kind of KINDS) {
      expect(wordsOf(kind).lies("index", "4")).toMatch(/\b4$/);
      const alike = KINDS.filter((other) => other.hand === kind.hand && contactLabel({ ...other, finger: 1 }) === contactLabel({ ...kind, finger: 1 }));
      expect(alike).toEqual([kind]);
    }
  });
});

describe("schools", () => {
  it("give at least two answers, and take the first one where nobody has chosen, but for who plucks", () => {
    for (const key of SCHOOL_KEYS) {
      const { options } = schoolOf(key);
      expect(new Set(options.map(({ value }) => value)).size).toBeGreaterThanOrEqual(2);
      if (key !== "playsWith") expect(defaultSchool(key, "electric-guitar")).toBe(options[0]!.value);
    }
    expect((["electric-guitar", "acoustic-guitar", "nylon-guitar", "electric-bass"] as const).map((kind) => defaultSchool("playsWith", kind))).toEqual([
      "pick",
      "pick",
      "fingers",
      "fingers",
    ]);
  });
});
