import equal from "fast-deep-equal";
import { SCHOOL_KEYS, schoolOf } from "../hands/schools.ts";
import { INSTRUMENT_PRESETS } from "../passage/presets.ts";
import type { Conditions, Instrument, Passage, Player } from "../passage/schema.ts";

/** How gain is said. */
export const GAIN_WORDS = { clean: "clean", edge: "on the edge", high: "high gain" } as const;

/** What a treatment is played with otherwise than the passage, each in a few words. */
export function conditionWords({ voicing, near, instrument, player, gain }: Conditions, passage: Pick<Passage, "player">): string[] {
  return [
    ...(voicing ? [`${voicing} voicings`] : []),
    ...(near === undefined ? [] : [`about fret ${near}`]),
    ...(instrument ? [instrumentWords(instrument)] : []),
    ...(player ? playerWords(player, passage.player) : []),
    ...(gain ? [GAIN_WORDS[gain]] : []),
  ];
}

/** A usual instrument by its name, another by its kind and tuning, lowest string first. */
export function instrumentWords(instrument: Instrument): string {
  const usual = INSTRUMENT_PRESETS.find((preset) => equal(preset.instrument, instrument));
  return usual ? usual.name.toLowerCase() : `${instrument.kind.replace("-", " ")} ${[...instrument.tuning].reverse().join(" ")}`;
}

function playerWords(player: Player, than: Player): string[] {
  const schools = SCHOOL_KEYS.flatMap((key) => {
    if (player[key] === undefined || player[key] === than[key]) return [];
    const { short, options } = schoolOf(key);
    const option = options.find(({ value }) => value === player[key])!;
    return [`${short} ${option.brief ?? option.says}`];
  });
  const reach = player.reachMm !== undefined && player.reachMm !== than.reachMm ? [`a reach of ${player.reachMm} mm`] : [];
  const said = [...schools, ...reach];
  return said.length > 0 ? said : ["another player"];
}
