import type { Why, WhyName } from "../shapes/types.ts";

/* Why a contact is not had, said to the player. */

const SAYS: Readonly<Record<WhyName, (...figures: number[]) => string>> = {
  // The fretting hand.
  bends: () => "That finger bends its string and does nothing else.",
  "has-to-leave": (string) => `The finger has to leave: string ${string} should sound there.`,
  "picking-hand-damps": () => "You leave damping to your picking hand.",
  "hand-holds-notes": () => "The hand is holding notes and cannot be laid across the strings.",
  "laid-across-chokes": (string) => `Laid across, the hand would also choke string ${string}.`,
  "thumb-behind": () => "You keep the thumb behind the neck.",
  arched: () => "You play with an arched index: it stays off the other strings.",
  "index-bends": () => "The index bends its string and does nothing else.",
  "index-also-lies-on": (string) => `Leaning, the index would also lie on string ${string}, which should sound.`,
  "past-the-grip": () => "No idle finger reaches past the grip to the bass side.",
  "all-at-work": () => "All four fingers are at work here.",
  "wanted-too-soon": () => "The idle finger is wanted elsewhere too soon.",
  "across-a-sounding": () => "An idle finger would have to reach across a string that sounds.",
  "too-far": () => "The idle fingers do not reach that far.",
  // Either hand.
  "dead-side": (fret, string) => `At fret ${fret} a finger lies behind where string ${string} is pressed and does nothing to it.`,
  "other-hand-damps": () => "You leave damping to your other hand.",
  chokes: (string) => `A finger there would choke string ${string}, which should sound.`,
  "ruled-out": () => "You ruled this out here.",
  // The picking hand.
  taps: () => "The picking hand is at the neck, where it taps.",
  "palm-at-bridge": () => "Your palm is at the bridge, so the thumb does not rest on the strings.",
  "in-the-way": () => "Curled fingers would be in the way of the pick there.",
  "bass-side-thumb": () => "The thumb rests on the bass side of the string that is played.",
  "thumb-on-pickup": () => "Your thumb stays on the pickup.",
  "thumb-anchored": () => "Your thumb stays anchored on the lowest string.",
  "thumb-plucks": () => "The thumb is plucking another string.",
  "finger-plucks": () => "That finger is plucking another string.",
  "stops-short": (string) => `The palm stops one string short of string ${string}; that neighbour is the fingertip's.`,
  slaps: () => "The slapping hand swings free of the bridge.",
  "plucks-with-fingers": () => "Plucking fingers keep the palm off the bridge unless a palm-muted tone is asked for.",
  "thumb-rests": () => "Your thumb rests on the strings, so the palm stays off the bridge.",
  "fingers-lift-palm": () => "Plucking with the fingers holds the palm off the bridge; the thumb could pluck under it.",
  "lands-on-down": () => "Your palm lands with the down-stroke only.",
  "cannot-pass": (string) => `The palm cannot pass string ${string}, which should ring.`,
  "dead-is-frettings": () => "A dead stroke is the fretting hand's; the picking hand goes on swinging.",
  "chucks-by-release": () => "Your chucks are made by letting the chord go.",
  "hand-chokes": (string) => `The hand would also choke string ${string}.`,
  // Found by planning with it.
  "not-needed": () => "Possible, and not needed: the string is held.",
  chimes: () => "A lone finger lies over a node there: the string would chime instead of falling silent.",
  "no-time": () => "The hand cannot get there and back in time.",
  "loses-palm": () => "A note that should be palm-muted would lose its palm.",
  "too-late": () => "The hand would come too late for it.",
  "would-ring": (...strings) => `Possible, but string ${strings.join(" and ")} would ring.`,
  "would-ring-on": (...strings) => `Possible, but string ${strings.join(" and ")} would ring louder or longer.`,
  "more-changes": (more) => `Possible, but ${more === 1 ? "one change" : `${more} changes`} more for the hands.`,
  harder: () => "Possible, but harder to hold.",
  "no-better": () => "Possible, but no better than what the plan does.",
};

export function whyWords([name, ...figures]: Why): string {
  return SAYS[name](...figures);
}
