import type { Action, ActionPlace } from "../document/plan.ts";
import type { ContactFinger } from "../hands/fingers.ts";
import type { Hand, Kind } from "../hands/parts.ts";
import { ofFinger, runs, wordsOf } from "./contacts.ts";
import { wordsIn } from "./figures.ts";

/* What hands do, said as a player would: every field of an action is heard in its phrase. */

/** The actions of one hand at one step as a sentence; empty when there are none. */
export function sentenceOf(actions: readonly Action[], hand: Action["hand"]): string {
  const text = clauseOf(actions.filter((action) => action.hand === hand));
  return text === "" ? "" : `${text[0]!.toUpperCase()}${text.slice(1)}.`;
}

/** The same as part of a longer line. */
export function clauseOf(actions: readonly Action[]): string {
  return joined(actions).join("; ");
}

/** As many words are read at a glance. */
const GLANCE = 6;

/** What a picture of the hands shows as well: how they lie. */
const LYING: ReadonlySet<Action["does"]> = new Set(["lean", "rest", "lay", "lift", "palm", "follow", "plant", "park", "hold", "thumb-over", "thumb-off"]);

/** What a hand does beside its picture, at a glance: all of it where that is short, else the gestures, chords by name alone. */
export function glanceOf(actions: readonly Action[], hand: Action["hand"]): string {
  const whole = sentenceOf(actions, hand);
  if (wordsIn(whole) <= GLANCE) return whole;
  const gestures = actions
    .filter(({ does }) => !LYING.has(does))
    .map(({ places, ...action }) => (action.chord && places ? action : { ...action, places }) as Action);
  return sentenceOf(gestures, hand) || whole;
}

/** What several fingers do alike is said once: the verb after their names, or after their places. */
const MANY: { readonly [does in Action["does"]]?: string } = { "let-go": "let go", press: "press", lift: "off", hold: "hold", rest: "rest", plant: "planted" };

/** A finger that leaves the strings: that it lets go of them goes without saying. */
const isOff = ({ does, by, part }: Action) => does === "lift" && typeof by === "number" && !part;
/** An index that leaves where it rested to lie elsewhere. */
const isIndexOff = (action: Action) => isOff(action) && action.by === 1;
const isIndexOver = ({ does, by, part, strings = [] }: Action) => does === "lean" && by === undefined && part === undefined && strings.length > 0;

/** Phrases, what several fingers do alike joined. */
function joined(said: readonly Action[]): string[] {
  const phrases: string[] = [];
  const goesOver = said.some(isIndexOff) && said.some(isIndexOver);
  const off = said.filter(isOff).map(({ by }) => by);
  const isUnsaid = (action: Action) => (goesOver && isIndexOff(action)) || (action.does === "let-go" && off.includes(action.by));
  const actions = said.filter((action) => !isUnsaid(action));
  for (let k = 0; k < actions.length; ) {
    const kind = manyOf(actions[k]!);
    let end = k + 1;
    while (kind !== null && end < actions.length && manyOf(actions[end]!) === kind) end++;
    if (end === k + 1 && goesOver && isIndexOver(actions[k]!)) phrases.push(`index now over ${runs(actions[k]!.strings!)}`);
    else if (end === k + 1) phrases.push(phraseOf(actions[k]!));
    else phrases.push(`${actions.slice(k, end).map(nameOf).join(", ")} ${MANY[actions[k]!.does]}`);
    k = end;
  }
  return phrases;
}

/** What can be said of several fingers at once; null where an action stands for itself. */
function manyOf({ does, by, part, places, strings }: Action): string | null {
  if (!MANY[does]) return null;
  if (does === "rest") return places && !part ? does : null;
  if (does === "plant") return strings && by !== undefined ? does : null;
  return by !== undefined && !part ? does : null;
}

function nameOf({ by, places, strings }: Action): string {
  if (places) return placesInWords(places);
  return strings ? `${ofFinger(by!)} on ${runs(strings)}` : ofFinger(by!);
}

/** One action as a phrase. */
export function phraseOf(action: Action): string {
  return action.hand === "fretting" ? frettingPhrase(action) : pickingPhrase(action);
}

function frettingPhrase({ does, part, places = [], strings = [], by, from, to, direction, chord }: Action): string {
  const on = runs(strings);
  const who = by === undefined ? "" : ofFinger(by);
  switch (does) {
    case "down":
      if (places.length === 0 && to !== undefined) return `same shape at ${to}`;
      return chord ? `${chord}${places.length > 0 ? `: ${placesInWords(places)}` : ""}` : placesInWords(places);
    case "press":
      return who ? `${who} presses` : "press";
    case "let-go":
      return who ? `${who} lets go` : "let go";
    case "hold":
      return `${who} holds`;
    case "lift":
      return part ? wordsFor(part === "fret-wrap" ? "aid" : "fretting", part).gone(who) : `${who} off`;
    case "lean":
      if (part === "arched") return "index arched";
      return strings.length > 0 ? wordsFor("fretting", "underside").lies(who || "index", on) : wordsFor("fretting", "underside").gone(who || "index");
    case "rest":
      if (places.length > 0) return `${placesInWords(places)} rests`;
      return wordsFor(part === "fret-wrap" ? "aid" : "fretting", part!).lies(who, on);
    case "lay":
      return wordsFor("fretting", part ?? "lay").lies(who, on);
    case "thumb-over":
      return wordsFor("fretting", "thumb").lies(who, on);
    case "thumb-off":
      return wordsFor("fretting", "thumb").gone(who);
    case "bend":
      return ["bend", placesInWords(places), from ? `from ${interval(from)}` : "", `up ${interval(to ?? 0)}`, direction ? `towards the ${direction}` : ""]
        .filter(Boolean)
        .join(" ");
    case "release-bend":
      return to ? `ease ${placesInWords(places)} down to ${interval(to)}` : `let ${placesInWords(places)} back`;
    case "vibrato":
      return ["vibrato", placesInWords(places)].filter(Boolean).join(" ");
    case "hammer":
      return `hammer ${part ? `${part} ` : ""}${placesInWords(places)}`;
    case "slide":
      return `slide ${part ? `${part} ` : ""}${placesInWords(places)}`;
    case "tap":
      return `tap ${placesInWords(places)}`;
    case "pull":
      return places.every(({ fret }) => fret === 0)
        ? `pull off, ${places.map(({ finger, string }) => `${ofFinger(finger)} from ${string}`).join(", ")}`
        : `pull off ${part ? `${part} ` : ""}to ${placesInWords(places)}`;
    default:
      throw new Error(`a fretting hand does not ${does}`);
  }
}

function pickingPhrase({ does, part, places = [], strings = [], by, from, direction }: Action): string {
  const on = through(strings);
  const lies = runs(strings);
  const who = by === undefined ? "" : ofFinger(by);
  switch (does) {
    case "stroke":
      if (by === "T") return ["fretting hand slaps", on].filter(Boolean).join(" ");
      return [part, direction, who, on].filter(Boolean).join(" ");
    case "chuck":
      return `${["chuck", direction, who, part, on].filter(Boolean).join(" ")}${from === undefined ? "" : from === 1 ? ", hand flat" : `, edge from ${from}`}`;
    case "click":
      return ["click", direction, who, part, on].filter(Boolean).join(" ");
    case "rake":
      return ["rake", direction, who, part, on].filter(Boolean).join(" ");
    case "brush":
      return [who, "brushes", on].filter(Boolean).join(" ");
    case "pluck":
      return places.map(({ finger, string }) => `${ofFinger(finger)} ${string}`).join(", ");
    case "palm":
      return wordsFor("picking", "palm").lies(who, lies);
    case "follow":
      return by === "p"
        ? `thumb follows${from === 1 ? " close" : ""} over ${lies}`
        : `palm follows${from === undefined || from === 2 ? "" : from === 1 ? " close" : `, ${from} below`}${lies ? `, ${lies}` : ""}`;
    case "lift":
      return wordsFor("picking", part!).gone(who);
    case "plant":
    case "park":
    case "rest":
      return wordsFor("picking", part!).lies(who, lies);
    default:
      throw new Error(`a picking hand does not ${does}`);
  }
}

function wordsFor(hand: Hand, part: string) {
  return wordsOf({ hand, part } as Kind);
}

/** "index 5 at 3, ring 4 at 5"; a barre is said once. */
function placesInWords(places: readonly ActionPlace[]): string {
  const groups: { finger: ContactFinger; fret: number | undefined; strings: number[] }[] = [];
  for (const { string, fret, finger } of places) {
    const last = groups.find((group) => group.finger === finger && group.fret === fret);
    if (last) last.strings.push(string);
    else groups.push({ finger, fret, strings: [string] });
  }
  return groups.map(({ finger, fret, strings }) => `${ofFinger(finger)} ${runs(strings)} at ${fret}`).join(", ");
}

/** Strings in the order of a stroke: "6 to 1". */
function through(strings: readonly number[]): string {
  const [first, last] = [strings[0], strings.at(-1)];
  if (first === undefined || first === last) return `${first ?? ""}`;
  const isRun = strings.every((string, k) => string === first + Math.sign(last! - first) * k);
  return isRun ? `${first} to ${last}` : strings.join(", ");
}

function interval(semitones: number): string {
  const names: Readonly<Record<number, string>> = { 0.5: "a quarter-tone", 1: "a semitone", 2: "a tone", 3: "three semitones", 4: "two tones" };
  return names[semitones] ?? `${semitones} semitones`;
}
