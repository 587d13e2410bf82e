import { knownIn } from "../caching/known.ts";
import { trimmed } from "../caching/trimmed.ts";
import type { Posture } from "../hands/postures.ts";
import type { HandShape } from "../shapes/types.ts";

/** The postures of a list of shapes, in the order they first occur, and per posture the shapes in it, by their places in the list. */
export interface PostureGroups {
  /** The same for all lists of shapes with the same postures in the same order: such move alike. */
  list: number;
  postures: readonly Posture[];
  shapes: readonly (readonly number[])[];
}

const knownGroups = new WeakMap<readonly HandShape[], PostureGroups>();

/** Worked out once per list. */
export function groupsOf(shapes: readonly HandShape[]): PostureGroups {
  return knownIn(knownGroups, shapes, grouped);
}

function grouped(shapes: readonly HandShape[]): PostureGroups {
  const postures: Posture[] = [];
  const groups: number[][] = [];
  for (let i = 0; i < shapes.length; i++) {
    const { posture } = shapes[i]!;
    const known = postures.indexOf(posture);
    if (known >= 0) groups[known]!.push(i);
    else {
      postures.push(posture);
      groups.push([i]);
    }
  }
  return { list: listOf(postures), postures: trimmed(postures), shapes: groups.map(trimmed) };
}

/** Lists of postures in a tree: one branch per posture. Equal postures are one object. */
interface Branch {
  list: number;
  next: Map<Posture, Branch>;
}

let lists = 0;
const branchOf = (): Branch => ({ list: lists++, next: new Map() });
const knownLists = branchOf();

function listOf(postures: readonly Posture[]): number {
  let branch = knownLists;
  for (const posture of postures) branch = knownIn(branch.next, posture, branchOf);
  return branch.list;
}
