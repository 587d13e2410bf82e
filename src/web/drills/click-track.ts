import { type Click, Metronome, type MetronomeChoices, type Position } from "../../core/drills/metronome.ts";
import type { Bar } from "../../core/passage/schema.ts";

/** Clicks are put on the audio clock so long before they sound: a hidden tab wakes once a second. */
const AHEAD_S = 2.2;
const WAKE_MS = 100;
const START_S = 0.15;
/** Pitch and loudness of a click, by what it marks. */
const SOUNDS: Readonly<Record<Click["kind"], { hz: number; level: number }>> = {
  bar: { hz: 1568, level: 1 },
  beat: { hz: 1175, level: 0.7 },
  between: { hz: 880, level: 0.35 },
};
const CLICK_S = 0.035;

/** What of a browser's sound output clicks need. */
export type ClickContext = Pick<AudioContext, "currentTime" | "createOscillator" | "createGain" | "destination">;

/** A metronome on the audio clock: what it has scheduled sounds on time, whatever the page does meanwhile. */
export class ClickTrack {
  private readonly metronome: Metronome;
  private readonly out: GainNode;
  private timer: ReturnType<typeof setInterval> | undefined;

  constructor(
    private readonly context: ClickContext,
    bars: readonly Bar[],
    tempo: number,
    choices: MetronomeChoices,
    volume: number,
  ) {
    this.out = context.createGain();
    this.out.gain.value = volume;
    this.out.connect(context.destination);
    this.metronome = new Metronome(bars, tempo, choices, context.currentTime + START_S);
    this.timer = setInterval(() => this.schedule(), WAKE_MS);
    this.schedule();
  }

  setTempo(tempo: number): void {
    this.metronome.setTempo(tempo);
  }

  /** Where the music is now. */
  position(): Position {
    return this.metronome.position(this.context.currentTime);
  }

  /** Silence at once, what is scheduled as well. */
  stop(): void {
    clearInterval(this.timer);
    this.out.disconnect();
  }

  private schedule(): void {
    for (const { at, kind } of this.metronome.take(this.context.currentTime + AHEAD_S)) {
      const { hz, level } = SOUNDS[kind];
      const tone = this.context.createOscillator();
      const shape = this.context.createGain();
      tone.frequency.value = hz;
      shape.gain.setValueAtTime(level, at);
      shape.gain.exponentialRampToValueAtTime(0.001, at + CLICK_S);
      tone.connect(shape).connect(this.out);
      tone.start(at);
      tone.stop(at + CLICK_S);
    }
  }
}
