import type { RoundStart } from "../../core/drills/metronome.ts";
import type { Drill } from "../../core/drills/types.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { atTempo } from "../../core/passage/tempo.ts";
import type { Clock } from "../../core/take/align.ts";
import { type Due, type Judgement, Rounds } from "../../core/take/rounds.ts";
import { startJob } from "../jobs/use-job.ts";
import { delayMsOf } from "../microphone/delay.ts";
import { type Microphone, type OnPiece, openMicrophone } from "../microphone/microphone.ts";

/** A time through of a drill that was heard, and how it was. */
export interface HeardRound {
  drill: Drill;
  tempo: number;
  judgement: Judgement;
}

/** A drill whose sound says whether it was clean: with strokes, and damped as planned by both hands. */
export function canBeHeard({ strokes, sounds: { right } }: Pick<Drill, "strokes" | "sounds">): boolean {
  return strokes === "play" && (right.damping ?? "planned") === "planned" && !right.without;
}

/** Where sound comes from, how late it is, and who judges it. */
export interface Hearing {
  sampleRate: number;
  open(onPiece: OnPiece, onGone: () => void): Promise<Microphone>;
  /** In ms, of the microphone that is open. */
  delayMs(device: string): number;
  judge(samples: Float32Array, clock: Clock, passage: Passage): Promise<Judgement>;
  close(): void;
}

/** A context's microphone; judged in a worker. */
export function hearingOf(context: AudioContext): Hearing {
  const { jobs, result, stop } = startJob();
  return {
    sampleRate: context.sampleRate,
    open: (onPiece, onGone) => openMicrophone(context, onPiece, onGone),
    delayMs: (device) => delayMsOf(context, device),
    judge: (samples, clock, passage) => result(jobs.round(samples, clock, context.sampleRate, passage) as Promise<Judgement>),
    close: stop,
  };
}

/** Listens to somebody who practises to a click, and judges every time through within a bar of its end. */
export class Ears {
  private readonly rounds: Rounds<Due & { drill: Drill; tempo: number }>;
  private microphone: Microphone | null = null;
  private isClosed = false;

  constructor(
    private readonly hearing: Hearing,
    private readonly onHeard: (round: HeardRound) => void,
    private readonly onTrouble: (says: string) => void,
  ) {
    this.rounds = new Rounds(hearing.sampleRate);
    hearing
      .open(
        (samples, frame) => this.listen(samples, frame),
        () => onTrouble("The microphone went away: say yourself whether it was clean."),
      )
      .then(
        (microphone) => {
          this.microphone = microphone;
          // Allowed only after it was paused.
          if (this.isClosed) microphone.stop();
        },
        (error: Error) => !this.isClosed && onTrouble(`Nothing is heard: ${error.message}. Say yourself whether it was clean.`),
      );
  }

  /** A time through whose beginning is settled. */
  expect(drill: Drill, { at, seconds, tempo }: RoundStart): void {
    if (!canBeHeard(drill)) return;
    const fromMs = 1000 * at + this.hearing.delayMs(this.microphone?.device ?? "");
    this.rounds.expect({ fromMs, toMs: fromMs + 1000 * seconds, drill, tempo });
  }

  /** Another drill goes on: what was to come of this one does not. */
  forget(): void {
    this.rounds.forget();
  }

  close(): void {
    this.isClosed = true;
    this.microphone?.stop();
    this.hearing.close();
  }

  private listen(piece: Float32Array, frame: number): void {
    for (const { due, samples, clock } of this.rounds.push(piece, frame)) {
      const { drill, tempo } = due;
      this.hearing.judge(samples, clock, atTempo(drill.passage, tempo)).then(
        (judgement) => !this.isClosed && this.onHeard({ drill, tempo, judgement }),
        (error: Error) => !this.isClosed && this.onTrouble(`This time could not be judged: ${error.message}.`),
      );
    }
  }
}
