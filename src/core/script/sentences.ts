import type { Press } from "../fingering/fingering.ts";
import type { Contact, Shape } from "../shapes/types.ts";
import type { Step } from "../timeline/types.ts";
import type { Outcome, Planned } from "../verdict/verdict.ts";

/** What either hand does at a step, in a player's words and only what changes, the count in front; empty when nothing does. */
export interface Script {
  fretting: string;
  picking: string;
}

export function scriptOf(planned: Planned, outcomes: readonly Outcome[], index: number, count: string): Script {
  const now = outcomes[index]!;
  const before = outcomes[index - 1] ?? null;
  const sentence = (phrases: readonly string[]) => (phrases.length === 0 ? "" : `${count}: ${phrases.join("; ")}.`);
  return {
    fretting: sentence([...pressPhrases(planned, index), ...changed(before?.fretting ?? null, now.fretting, "fretting")]),
    picking: sentence([...strokePhrase(planned.timeline.steps[index]!), ...changed(before?.picking ?? null, now.picking, "picking")]),
  };
}

const FINGER_NAMES: Readonly<Record<string, string>> = {
  1: "index",
  2: "middle finger",
  3: "ring finger",
  4: "little finger",
  T: "thumb",
  p: "thumb",
  i: "index",
  m: "middle finger",
  a: "ring finger",
  c: "little finger",
};

function pressPhrases(planned: Planned, index: number): string[] {
  const hand = planned.fingering.hands[index]!;
  const before = planned.fingering.hands[index - 1];
  return hand.presses.flatMap((press) => {
    const held = before?.presses.some((p) => p.finger === press.finger && p.fret === press.fret && String(p.strings) === String(press.strings));
    return held ? [] : [pressPhrase(press)];
  });
}

function pressPhrase(press: Press): string {
  return `${FINGER_NAMES[press.finger]} presses ${strings(press.strings)} at fret ${press.fret}`;
}

function strokePhrase(step: Step): string[] {
  const { stroke } = step;
  if (!stroke || stroke.crossed.length === 0) return stroke?.notes.length ? ["no stroke: the fretting hand sounds the note"] : [];
  if (stroke.kind === "none") return [`no stroke: the fretting hand slaps ${strings(stroke.crossed)}`];
  const what = { play: "", chuck: "chuck", ghost: "ghost stroke", click: "click", rake: "rake" }[stroke.as];
  const how = { down: "down", up: "up", slap: "slap", pop: "pop", none: "" }[stroke.kind as "down"] ?? `${FINGER_NAMES[stroke.kind]} plucks`;
  const over = stroke.crossed.length > 1 ? `${strings(stroke.crossed)}` : `string ${stroke.crossed[0]}`;
  return [what ? `${what} ${how} through ${over}` : stroke.kind === "down" || stroke.kind === "up" ? `${how}-stroke on ${over}` : `${how} ${over}`];
}

/** Contacts by part and finger that are new, and those given up. */
function changed(before: Shape | null, now: Shape, hand: string): string[] {
  const earlier = grouped(before?.contacts ?? [], hand);
  const current = grouped(now.contacts, hand);
  const phrases: string[] = [];
  for (const [key, contacts] of current) {
    const old = earlier.get(key);
    if (old && String(old.map((c) => c.string)) === String(contacts.map((c) => c.string))) continue;
    phrases.push(PHRASES[contacts[0]!.part]?.(contacts) ?? `${contacts[0]!.part} on ${strings(contacts.map((c) => c.string))}`);
  }
  for (const [key, contacts] of earlier) {
    if (current.has(key)) continue;
    const phrase = LEAVING[contacts[0]!.part];
    if (phrase) phrases.push(phrase);
  }
  return phrases;
}

function grouped(contacts: readonly Contact[], hand: string): Map<string, Contact[]> {
  const groups = new Map<string, Contact[]>();
  for (const contact of contacts) {
    if (contact.hand !== hand) continue;
    const key = `${contact.part}${contact.finger ?? ""}`;
    groups.set(key, [...(groups.get(key) ?? []), contact]);
  }
  return groups;
}

type Phrase = (contacts: readonly Contact[]) => string;
const on = (contacts: readonly Contact[]) => strings(contacts.map((c) => c.string));
const finger = (contacts: readonly Contact[]) => FINGER_NAMES[contacts[0]!.finger ?? ""] ?? "hand";

const PHRASES: Readonly<Record<string, Phrase>> = {
  underside: (c) => `lay the index flat so that its underside touches ${on(c)}`,
  slap: (c) => `slap the fingers across ${on(c)}`,
  replant: (c) => `set the ${c[0]!.finger ? finger(c) : "pick"} back on ${on(c)}`,
  "fret-wrap": (c) => `the fret wrap holds ${on(c)}`,
  tip: (c) => `let the tip of the ${finger(c)} bump ${on(c)}`,
  flat: (c) => `flatten the ${finger(c)} onto ${on(c)}`,
  ease: (c) => `ease the ${finger(c)} and leave it on ${on(c)}`,
  roll: (c) => `roll the ${finger(c)} off ${on(c)} and leave it resting there`,
  spare: (c) => (c[0]!.hand === "fretting" ? `lay the spare ${finger(c)} on ${on(c)}` : `rest the curled fingers on ${on(c)}`),
  lay: (c) => `lay the fingers across ${on(c)}`,
  thumb: (c) => (c[0]!.hand === "fretting" ? `thumb over the edge onto ${on(c)}` : `thumb rests on ${on(c)}`),
  palm: (c) => `palm at the bridge on ${on(c)}`,
  heel: (c) => `hand lands flat on ${on(c)} just before the stroke`,
  "thumb-edge": (c) => `the edge of the thumb stops ${on(c)}`,
  "rest-stroke": (c) => `come to rest on ${on(c)}`,
  park: (c) => `the ${finger(c)} parks on ${on(c)}`,
  "thumb-return": (c) => `lay the thumb back on ${on(c)}`,
  plant: (c) => `the ${finger(c)} comes back to ${on(c)}`,
};

const LEAVING: Readonly<Record<string, string>> = {
  palm: "lift the palm",
  heel: "lift the hand",
  underside: "arch the index",
  lay: "take the fingers off",
  spare: "take the spare finger off",
};

/** "string 4", "strings 1 to 3", "strings 2 and 4". */
export function strings(numbers: readonly number[]): string {
  const sorted = [...new Set(numbers)].sort((a, b) => a - b);
  if (sorted.length === 1) return `string ${sorted[0]}`;
  const first = sorted[0]!;
  const last = sorted.at(-1)!;
  if (sorted.length > 2 && last - first === sorted.length - 1) return `strings ${first} to ${last}`;
  return `strings ${sorted.slice(0, -1).join(", ")} and ${last}`;
}
