import type { Press } from "../fingering/hand-state.ts";
import type { ContactFinger } from "../hands/fingers.ts";
import { partOf } from "../hands/parts.ts";
import type { Contact, Shape } from "../shapes/types.ts";
import type { Step } from "../timeline/types.ts";
import type { Outcome, Planned } from "../verdict/verdict.ts";
import { FINGER_NAMES, stringsInWords, wordsOf } from "../words/contacts.ts";

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
    fretting: sentence([...wrapPhrase(planned, index), ...pressPhrases(planned, index), ...changed(before?.fretting ?? null, now.fretting, "fretting")]),
    picking: sentence([...strokePhrase(planned.timeline.steps[index]!), ...changed(before?.picking ?? null, now.picking, "picking")]),
  };
}

/** A wrap lies there from the first step to the last, so it is told once. */
function wrapPhrase({ wrap, timeline }: Planned, index: number): string[] {
  return index === 0 && wrap.on ? [wordsOf({ hand: "aid", part: "fret-wrap" }).takes(stringsInWords(range(timeline.strings)), "")] : [];
}

function range(count: number): number[] {
  return Array.from({ length: count }, (_, i) => i + 1);
}

function pressPhrases(planned: Planned, index: number): string[] {
  const hand = planned.fingering.hands[index]!;
  const before = planned.fingering.hands[index - 1];
  return hand.presses.flatMap((press) => {
    const held = before?.presses.some((p) => p.finger === press.finger && p.fret === press.fret && String(p.strings) === String(press.strings));
    return held ? [] : [pressPhrase(press)];
  });
}

function pressPhrase(press: Press): string {
  return `${FINGER_NAMES[press.finger as ContactFinger]} presses ${stringsInWords(press.strings)} at fret ${press.fret}`;
}

function strokePhrase(step: Step): string[] {
  const { stroke } = step;
  if (!stroke || stroke.crossed.length === 0) return stroke?.notes.length ? ["no stroke: the fretting hand sounds the note"] : [];
  if (stroke.kind === "none") return [`no stroke: the fretting hand slaps ${stringsInWords(stroke.crossed)}`];
  const what = { play: "", chuck: "chuck", ghost: "ghost stroke", click: "click", rake: "rake" }[stroke.as];
  const how = { down: "down", up: "up", slap: "slap", pop: "pop", none: "" }[stroke.kind as "down"] ?? `${FINGER_NAMES[stroke.kind as ContactFinger]} plucks`;
  const over = stroke.crossed.length > 1 ? `${stringsInWords(stroke.crossed)}` : `string ${stroke.crossed[0]}`;
  const clicked = stroke.clicked.length > 0 ? [`fingers click on ${stringsInWords(stroke.clicked)}`] : [];
  return [what ? `${what} ${how} through ${over}` : stroke.kind === "down" || stroke.kind === "up" ? `${how}-stroke on ${over}` : `${how} ${over}`, ...clicked];
}

/** Contacts by part and finger that are new, and those given up. */
function changed(before: Shape | null, now: Shape, hand: string): string[] {
  const earlier = grouped(before?.contacts ?? [], hand);
  const current = grouped(now.contacts, hand);
  const phrases: string[] = [];
  // A hand laid on the strings as a whole does not first leave them.
  const lands = now.contacts.some((contact) => partOf(contact).role === "whole-hand");
  for (const [key, contacts] of current) {
    const old = earlier.get(key);
    if (old && String(old.map((c) => c.string)) === String(contacts.map((c) => c.string))) continue;
    const { finger } = contacts[0]!;
    phrases.push(wordsOf(contacts[0]!).takes(stringsInWords(contacts.map((c) => c.string)), finger === undefined ? "" : FINGER_NAMES[finger]));
  }
  for (const [key, contacts] of earlier) {
    if (current.has(key)) continue;
    const { leaves } = wordsOf(contacts[0]!);
    if (leaves && !lands) phrases.push(leaves);
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
