import { AUDIBLE_DB } from "../acoustics/constants.ts";
import { LoudnessModel } from "../acoustics/loudness-model.ts";
import { StringSet } from "../acoustics/modal.ts";
import { answerAmplitude } from "../acoustics/sympathy.ts";
import { dbOf } from "../acoustics/weighting.ts";
import { frequencyOf } from "../music/pitch.ts";
import type { Gain, Instrument } from "../passage/schema.ts";
import { lastFret, openPitches } from "../passage/settings.ts";

/** An open, untouched string that answers a played one. */
export interface Answer {
  string: number;
  /** Over what is heard beside the played note, dB; below 0 nobody hears it. */
  db: number;
  /** The lowest pair of partials that meet: of the answering string and of the played one. */
  partials: readonly [number, number] | null;
}

/** Partials of either string that are looked at for the reason. */
const PARTIALS_TOLD = 8;
/** Partials this near count as one, in cents: the tempered fifth is 2 off, the third 14. */
const MEETING_CENTS = 16;

/** Who sets whom off: for every played string and fret 0 … `frets`, the answers of all other open strings, loudest first. */
export function sympathyTable(instrument: Instrument, gain: Gain, frets = 12): Answer[][][] {
  const strings = new StringSet(instrument);
  const model = new LoudnessModel(strings);
  const open = openPitches(instrument);
  const last = Math.min(frets, lastFret(instrument));
  return open.map((_, p) =>
    Array.from({ length: last + 1 }, (_, fret) => {
      const heard = model.struck(p + 1, fret) + AUDIBLE_DB[gain];
      const answers = open.flatMap((_, a): Answer[] => {
        if (a === p) return [];
        const amplitude = answerAmplitude(strings.live(a + 1, 0), strings.live(p + 1, fret), strings.rig.coupling);
        const db = amplitude > 0 ? Math.round((dbOf(amplitude) - heard) * 10) / 10 : Number.NEGATIVE_INFINITY;
        return [{ string: a + 1, db, partials: meeting(open[a]!, open[p]! + fret) }];
      });
      return answers.sort((a, b) => b.db - a.db);
    }),
  );
}

function meeting(answering: number, played: number): readonly [number, number] | null {
  const cents = (a: number, b: number) => Math.abs(1200 * Math.log2((a * frequencyOf(answering)) / (b * frequencyOf(played))));
  for (let sum = 2; sum <= 2 * PARTIALS_TOLD; sum++)
    for (let a = Math.max(1, sum - PARTIALS_TOLD); a < sum && a <= PARTIALS_TOLD; a++) if (cents(a, sum - a) <= MEETING_CENTS) return [a, sum - a];
  return null;
}
