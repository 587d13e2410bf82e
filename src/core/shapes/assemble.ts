import { chimingPartial } from "../acoustics/chime.ts";
import { pressedFret, type ShapeContext } from "./context.ts";
import { bit, type Contact, type Pose, type Shape } from "./types.ts";

/** How likely a contact fails to do its work. From memory, adjustable; only the order matters much. */
const FAILS: Readonly<Record<string, number>> = {
  tip: 0.06,
  underside: 0.03,
  flat: 0.1,
  ease: 0.03,
  roll: 0.05,
  spare: 0.05,
  lay: 0.02,
  slap: 0.04,
  thumb: 0.06,
  palm: 0.02,
  heel: 0.02,
  "thumb-edge": 0.15,
  "rest-stroke": 0.05,
  replant: 0.05,
  park: 0.05,
  "thumb-return": 0.04,
  plant: 0.05,
  "fret-wrap": 0.1,
};

/** Effort of holding a contact in tenths per second, per finger or palm. From memory, adjustable. */
export const HOLD: Readonly<Record<string, number>> = {
  tip: 1,
  underside: 2,
  flat: 4,
  ease: 1,
  roll: 2,
  spare: 6,
  lay: 5,
  slap: 6,
  thumb: 3,
  palm: 3,
  heel: 6,
  "thumb-edge": 3,
  "rest-stroke": 1,
  replant: 1,
  park: 3,
  "thumb-return": 2,
  plant: 2,
  "fret-wrap": 0,
};

/** Contacts that end a sounding note or deaden a struck string wherever they lie. */
const ALWAYS_STOPS = new Set(["ease", "roll", "palm", "heel", "lay", "slap"]);

/** A shape from its contacts, its pose and its holding effort. */
export function makeShape(context: ShapeContext, contacts: readonly Contact[], pose: Pose, effort: { hold: number; perStroke: number }): Shape {
  let damps = 0;
  let stops = 0;
  let deadens = 0;
  let muffles = 0;
  const fails: number[] = new Array(context.count).fill(1);
  for (let string = 1; string <= context.count; string++) {
    const here = contacts.filter((c) => c.string === string);
    if (here.length === 0) continue;
    const intent = context.intents[string - 1]!;
    if (intent === "muffled") {
      muffles |= bit(string);
      continue;
    }
    const wrapOnly = here.every((c) => c.part === "fret-wrap");
    damps |= bit(string);
    fails[string - 1] = here.reduce((product, c) => product * (FAILS[c.part] ?? 0.1), 1);
    if (wrapOnly) continue;
    const live = context.strings.live(string, pressedFret(context, string));
    const chimes =
      here.every((c) => c.narrow) &&
      chimingPartial(
        live,
        here.map((c) => c.touch),
      ) !== null;
    if (!chimes || here.some((c) => ALWAYS_STOPS.has(c.part))) stops |= bit(string);
    const offBridge = here.some((c) => c.part !== "palm");
    if (!chimes && offBridge) deadens |= bit(string);
  }
  return { contacts, damps, stops, deadens, muffles, ...effort, pose, fails };
}

/** Drops shapes that another one equals or betters in everything, keeping the order. */
export function withoutDominated(shapes: readonly Shape[]): Shape[] {
  return shapes.filter(
    (shape, i) =>
      !shapes.some(
        (other, k) =>
          k !== i &&
          other.pose.key === shape.pose.key &&
          other.hold <= shape.hold &&
          other.perStroke <= shape.perStroke &&
          covers(other.damps, shape.damps) &&
          covers(other.stops, shape.stops) &&
          covers(other.deadens, shape.deadens) &&
          covers(other.muffles, shape.muffles) &&
          other.fails.every((f, s) => f <= shape.fails[s]!) &&
          (k < i || other.hold < shape.hold || other.fails.some((f, s) => f < shape.fails[s]!)),
      ),
  );
}

function covers(a: number, b: number): boolean {
  return (a & b) === b;
}
