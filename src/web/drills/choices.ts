import { CLICKS, type ClickChoice } from "../../core/drills/metronome.ts";

/** How a trainer clicks. */
export interface TrainerChoices {
  click: ClickChoice;
  heard: number;
  silent: number;
  /** 0 to 1. */
  volume: number;
}

export const CLICK_WORDS: readonly { value: ClickChoice; says: string }[] = [
  { value: "beats", says: "every beat" },
  { value: "backbeats", says: "two and four" },
  { value: "bars", says: "once a bar" },
  { value: "eighths", says: "eighths" },
  { value: "triplets", says: "triplets" },
  { value: "sixteenths", says: "sixteenths" },
];

const FIRST: TrainerChoices = { click: "beats", heard: 1, silent: 0, volume: 0.4 };

/** As they were left in this browser. */
export function keptChoices(): TrainerChoices {
  try {
    const kept = JSON.parse(localStorage.getItem("rest-hand:trainer") ?? "{}") as Partial<TrainerChoices>;
    const number = (value: unknown, usual: number, most: number) => (typeof value === "number" && value >= 0 && value <= most ? value : usual);
    return {
      click: CLICKS.find((choice) => choice === kept.click) ?? FIRST.click,
      heard: number(kept.heard, FIRST.heard, 16) || FIRST.heard,
      silent: number(kept.silent, FIRST.silent, 16),
      volume: number(kept.volume, FIRST.volume, 1),
    };
  } catch {
    return FIRST;
  }
}
