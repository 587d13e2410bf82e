import { knownIn } from "../caching/known.ts";
import type { NeckPlace } from "../music/neck.ts";
import type { PalmGrade } from "./constants.ts";
import { type StringSet, struckLoudnessDb } from "./modal.ts";
import { answerAmplitude } from "./sympathy.ts";
import { dbOf } from "./weighting.ts";

/** Numbers under which the figures of palm-muted notes are kept. */
const MUFFLED = { light: 2, medium: 3, choked: 4 } as const;

/** Loudness figures by string and fret, each computed once. */
export class LoudnessModel {
  private readonly figures = new Map<number, number>();
  constructor(readonly strings: StringSet) {}

  struck(string: number, fret: number): number {
    return this.once(0, string, fret, () => struckLoudnessDb(this.strings.live(string, fret), [], 0));
  }

  /** dB per second that a free string loses over its first half second. */
  slope(string: number, fret: number): number {
    return this.once(1, string, fret, () => 2 * (this.struck(string, fret) - struckLoudnessDb(this.strings.live(string, fret), [], 500)));
  }

  after(string: number, fret: number, ms: number): number {
    return this.struck(string, fret) - (this.slope(string, fret) * ms) / 1000;
  }

  /** Under the palm, as firmly as it lies on this note. */
  muffled(string: number, fret: number, mute: PalmGrade, ms: number): number {
    const loss = this.once(MUFFLED[mute], string, fret, () => {
      const live = this.strings.live(string, fret);
      const bridge = live.fromNutMm + live.lengthMm;
      const { rate, fromBridgeMm, toBridgeMm } = this.strings.rig.palm[mute];
      const palm = { fromMm: bridge - toBridgeMm, toMm: bridge - fromBridgeMm, rate };
      return 4 * (struckLoudnessDb(live, [palm], 0) - struckLoudnessDb(live, [palm], 250));
    });
    return this.struck(string, fret) - (loss * ms) / 1000;
  }

  /** How loud an open, untouched string answers notes of other strings that begin together; null when there are none. */
  sympathy(string: number, begun: readonly NeckPlace[]): number | null {
    let power = 0;
    for (const note of begun) {
      if (note.string === string) continue;
      const answer = this.once(5 + string, note.string, note.fret, () =>
        answerAmplitude(this.strings.live(string, 0), this.strings.live(note.string, note.fret), this.strings.rig.coupling),
      );
      power += answer * answer;
    }
    return power > 0 ? dbOf(Math.sqrt(power)) : null;
  }

  private once(figure: number, string: number, fret: number, make: () => number): number {
    return knownIn(this.figures, (figure * 16 + string) * 64 + fret, make);
  }
}
