import { CLICKS, type ClickChoice } from "../../core/drills/metronome.ts";

/** What sounds under the click: nothing, the drill as planned, with one hand's damping alone, or one string alone each time through. */
export const BACKINGS = ["none", "planned", "fretting", "picking", "apart"] as const;
export type BackingChoice = (typeof BACKINGS)[number];

export const BACKING_WORDS: readonly { value: BackingChoice; says: string }[] = [
  { value: "none", says: "nothing" },
  { value: "planned", says: "the drill as planned" },
  { value: "fretting", says: "damped by the fretting hand alone" },
  { value: "picking", says: "damped by the picking hand alone" },
  { value: "apart", says: "one string after the other" },
];

/** How a trainer clicks. */
export interface TrainerChoices {
  click: ClickChoice;
  backing: BackingChoice;
  heard: number;
  silent: number;
  /** 0 to 1. */
  volume: number;
  /** The microphone judges. */
  listens: boolean;
}

export const CLICK_WORDS: readonly { value: ClickChoice; says: string }[] = [
  { value: "beats", says: "every beat" },
  { value: "backbeats", says: "two and four" },
  { value: "bars", says: "once a bar" },
  { value: "eighths", says: "eighths" },
  { value: "triplets", says: "triplets" },
  { value: "sixteenths", says: "sixteenths" },
];

const FIRST: TrainerChoices = { click: "beats", backing: "none", heard: 1, silent: 0, volume: 0.4, listens: false };

/** As they were left in this browser. */
export function keptChoices(): TrainerChoices {
  try {
    const kept = JSON.parse(localStorage.getItem("rest-hand:trainer") ?? "{}") as Partial<TrainerChoices>;
    const number = (value: unknown, usual: number, most: number) => (typeof value === "number" && value >= 0 && value <= most ? value : usual);
    return {
      click: CLICKS.find((choice) => choice === kept.click) ?? FIRST.click,
      backing: BACKINGS.find((choice) => choice === kept.backing) ?? FIRST.backing,
      heard: number(kept.heard, FIRST.heard, 16) || FIRST.heard,
      silent: number(kept.silent, FIRST.silent, 16),
      volume: number(kept.volume, FIRST.volume, 1),
      listens: kept.listens === true,
    };
  } catch {
    return FIRST;
  }
}
