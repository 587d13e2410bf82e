import { type Click, Metronome, type MetronomeChoices, type Position, type RoundStart } from "../../core/drills/metronome.ts";
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
/** A sound that is cut is faded out for so long. */
const FADE_S = 0.02;

/** What of a browser's sound output clicks need. */
export type ClickContext = Pick<AudioContext, "currentTime" | "createOscillator" | "createGain" | "createBufferSource" | "destination">;

/** What is clicked to, and what is heard under the clicks each time through; null where there is nothing, or it is not made yet. */
export interface Clicked {
  bars: readonly Bar[];
  tempo: number;
  backing(round: RoundStart): AudioBuffer | null;
  /** Told of each time through once it is settled when it begins: about two seconds ahead. */
  onRound?(round: RoundStart): void;
}

/** Something on the audio clock that can be cut off. */
interface Scheduled {
  at: number;
  end: number;
  cut(at: number): void;
}

/** A metronome on the audio clock: what it has scheduled sounds on time, whatever the page does meanwhile. */
export class ClickTrack {
  private metronome: Metronome;
  private readonly out: GainNode;
  private readonly backing: GainNode;
  private readonly timer: ReturnType<typeof setInterval>;
  private scheduled: Scheduled[] = [];
  /** The latest round that has no sound under it yet. */
  private waiting: RoundStart | null = null;

  constructor(
    private readonly context: ClickContext,
    private now: Clicked,
    private readonly choices: MetronomeChoices,
    volume: number,
    backingVolume: number,
  ) {
    this.out = context.createGain();
    this.out.gain.value = volume;
    this.out.connect(context.destination);
    this.backing = context.createGain();
    this.backing.gain.value = backingVolume;
    this.backing.connect(context.destination);
    this.metronome = new Metronome(now.bars, now.tempo, choices, context.currentTime + START_S);
    this.timer = setInterval(() => this.schedule(), WAKE_MS);
    this.schedule();
  }

  setTempo(tempo: number): void {
    this.metronome.setTempo(tempo);
  }

  /** Goes on with something else from the next bar on, counted in there: the beat does not stop. */
  follow(next: Clicked): void {
    const from = this.metronome.barAfter(this.context.currentTime + START_S);
    // What was scheduled behind that bar is taken back.
    for (const { at, end, cut } of this.scheduled) if (end > from) cut(Math.max(from, at));
    this.scheduled = this.scheduled.filter(({ at }) => at < from);
    this.now = next;
    this.waiting = null;
    this.metronome = new Metronome(next.bars, next.tempo, this.choices, from);
    this.schedule();
  }

  /** Where the music is now. */
  position(): Position {
    return this.metronome.position(this.context.currentTime);
  }

  /** Silence at once, what is scheduled as well. */
  stop(): void {
    clearInterval(this.timer);
    this.out.disconnect();
    this.backing.disconnect();
    for (const { at, cut } of this.scheduled) cut(at);
  }

  private schedule(): void {
    const until = this.context.currentTime + AHEAD_S;
    this.scheduled = this.scheduled.filter(({ end }) => end > this.context.currentTime);
    for (const click of this.metronome.take(until)) this.scheduled.push(soundClick(this.context, this.out, click));
    if (this.waiting) this.play(this.waiting);
    for (const round of this.metronome.takeRounds(until)) {
      this.now.onRound?.(round);
      this.play(round);
    }
  }

  /** One time through of what lies under the clicks; what is made late comes in late, in its place. */
  private play(round: RoundStart): void {
    const { at, seconds } = round;
    const from = Math.max(at, this.context.currentTime + FADE_S);
    const buffer = this.now.backing(round);
    this.waiting = buffer || from >= at + seconds ? null : round;
    if (!buffer || from >= at + seconds - FADE_S) return;
    const source = this.context.createBufferSource();
    const shape = this.context.createGain();
    source.buffer = buffer;
    const end = at + seconds;
    const cut = (when: number) => {
      shape.gain.cancelScheduledValues(when - FADE_S);
      shape.gain.setValueAtTime(1, Math.max(from, when - FADE_S));
      shape.gain.linearRampToValueAtTime(0, Math.max(from, when));
      source.stop(Math.max(from, when));
    };
    source.connect(shape).connect(this.backing);
    source.start(from, from - at);
    cut(end);
    this.scheduled.push({ at: from, end, cut });
  }
}

/** Puts a click on the audio clock. */
export function soundClick(context: Pick<ClickContext, "createOscillator" | "createGain">, out: AudioNode, { at, kind }: Click): Scheduled {
  const { hz, level } = SOUNDS[kind];
  const tone = context.createOscillator();
  const shape = context.createGain();
  tone.frequency.value = hz;
  shape.gain.setValueAtTime(level, at);
  shape.gain.exponentialRampToValueAtTime(0.001, at + CLICK_S);
  tone.connect(shape).connect(out);
  tone.start(at);
  tone.stop(at + CLICK_S);
  return { at, end: at + CLICK_S, cut: (when) => tone.stop(when) };
}
