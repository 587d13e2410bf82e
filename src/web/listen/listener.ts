import { type Remote, wrap } from "comlink";
import type { Passage } from "../../core/passage/schema.ts";
import { barsToSend } from "../planner/sent-bars.ts";
import type { Beat, Schedule, Sounds, Stretch } from "./sounds.ts";

/** What the listener is doing; each is said on the bench. */
export type ListenState =
  | { kind: "silent" }
  | { kind: "preparing" }
  | { kind: "playing" }
  /** The browser holds sound back until the player does something. */
  | { kind: "suspended" }
  | { kind: "no-audio"; says: string }
  | { kind: "failed"; says: string };

export const SILENT: ListenState = { kind: "silent" };

export interface Listening extends Stretch {
  clicks: boolean;
  /** Share of the volume, so that what is compared is equally loud; 1 when left out. */
  level?: number;
}

const FIRST_PIECE_S = 0.2;
const PIECE_S = 0.8;
/** How far sound is rendered ahead of what is heard. */
const AHEAD_S = 3;
const START_S = 0.03;
const FADE_S = 0.012;
/** Beats are put on the audio clock this long before they sound. */
const CLICK_AHEAD_MS = 120;
const CLICK_LEVEL = 0.5;
/** A clock that has not moved for so long has no sound output behind it. */
const MUTE_AFTER_MS = 3000;

/**
 * Plays what the worker renders, piece by piece. One passage is prepared at a time; the next
 * request or a stop ends the one before.
 */
export class Listener {
  private running: { worker: Worker; sounds: Remote<Sounds> } | null = null;
  private sent: Passage["bars"] = [];
  private prepared: Passage | null = null;
  private context: AudioContext | null = null;
  private volumeNode: GainNode | null = null;
  private current: Playing | null = null;
  private jobs = 0;
  private level = 1;
  private state = SILENT;

  constructor(
    private readonly onState: (state: ListenState) => void,
    /** The step that is heard now; null when none is. */
    private readonly onStep: (step: number | null) => void,
    private volume: number,
  ) {}

  /** Gives the worker the passage, so that it is planned when sound is asked for. */
  prepare(passage: Passage): void {
    if (passage === this.prepared) return;
    const { bars, ...rest } = passage;
    void this.ask((sounds) => sounds.prepare(rest, barsToSend(this.sent, bars)));
    this.sent = bars;
    this.prepared = passage;
  }

  async play(passage: Passage, what: Listening, again = false): Promise<void> {
    this.stop();
    if (typeof AudioContext === "undefined") {
      this.say({ kind: "no-audio", says: "This browser has no sound output." });
      return;
    }
    this.say({ kind: "preparing" });
    const job = ++this.jobs;
    this.prepare(passage);
    try {
      this.context ??= new AudioContext();
      const { context } = this;
      if (context.state === "suspended") {
        this.say({ kind: "suspended" });
        await context.resume();
        if (job !== this.jobs) return;
        this.say({ kind: "preparing" });
      }
      this.volumeNode ??= new GainNode(context, { gain: this.volume });
      this.volumeNode.connect(context.destination);
      this.level = what.level ?? 1;
      this.setVolume(this.volume);
      this.current = new Playing(context, this.volumeNode, what.fromStep, what.clicks ? (again ? "beats" : "count-in") : "none", {
        more: (count) => void this.ask((sounds) => sounds.more(job, count)).then((piece) => this.currentAt(job)?.take(piece)),
        onStep: this.onStep,
        onBegin: () => this.say({ kind: "playing" }),
        onEnd: () => this.ended(job, passage, what),
        onMute: () => this.mute(job),
      });
      const { clicks: _, level: _level, ...wanted } = what;
      void this.ask((sounds) => sounds.render(job, wanted)).then((schedule) => this.currentAt(job)?.follow(schedule));
      this.current.ask(FIRST_PIECE_S);
    } catch (error) {
      this.say({ kind: "no-audio", says: `No sound output: ${(error as Error).message}` });
    }
  }

  /** Where nothing is heard nothing is said: this comes with every edit. */
  stop(): void {
    this.jobs++;
    if (this.current) {
      this.current.stop();
      this.current = null;
      this.onStep(null);
    }
    if (this.state !== SILENT) this.say(SILENT);
  }

  setVolume(volume: number): void {
    this.volume = volume;
    if (this.context && this.volumeNode) this.volumeNode.gain.setTargetAtTime(volume * this.level, this.context.currentTime, 0.02);
  }

  close(): void {
    this.current?.stop();
    this.endWorker();
    void this.context?.close();
  }

  private say(state: ListenState): void {
    this.state = state;
    this.onState(state);
  }

  private ended(job: number, passage: Passage, what: Listening): void {
    if (job !== this.jobs) return;
    // Nobody counts in twice.
    if (what.loop) void this.play(passage, what, true);
    else this.stop();
  }

  private mute(job: number): void {
    if (job !== this.jobs) return;
    this.stop();
    this.say({ kind: "no-audio", says: "No sound output answers on this device." });
  }

  private currentAt(job: number): Playing | null {
    return job === this.jobs ? this.current : null;
  }

  /** Asks the worker for something. Where it fails there is no answer, and the listener has said so. */
  private ask<T>(work: (sounds: Remote<Sounds>) => Promise<T>): Promise<T> {
    this.running ??= this.startWorker();
    const { worker, sounds } = this.running;
    return work(sounds).catch((error: Error) => {
      if (this.running?.worker === worker) this.fail(error.message);
      return new Promise<T>(() => {});
    });
  }

  private startWorker(): { worker: Worker; sounds: Remote<Sounds> } {
    const worker = new Worker(new URL("./sound-worker.ts", import.meta.url), { type: "module" });
    worker.onerror = (event) => this.fail(event.message || "the sound could not be made");
    return { worker, sounds: wrap<Sounds>(worker) };
  }

  private endWorker(): void {
    this.running?.worker.terminate();
    this.running = null;
    this.sent = [];
    this.prepared = null;
  }

  private fail(says: string): void {
    this.stop();
    this.endWorker();
    this.say({ kind: "failed", says });
  }
}

interface PlayingActions {
  more(samples: number): void;
  onStep(step: number | null): void;
  onBegin(): void;
  onEnd(): void;
  /** The audio clock stands still: there is no device behind it. */
  onMute(): void;
}

/** One stretch of sound on its way out: pieces queued one after the other on the audio clock. */
class Playing {
  private readonly fade: GainNode;
  private readonly sources: AudioBufferSourceNode[] = [];
  /** When the first sample is heard and when the last queued one ends, on the audio clock. */
  private startsAt = 0;
  private queuedUntil = 0;
  private asked = false;
  private complete = false;
  private stepsMs: number[] = [];
  private beats: Beat[] = [];
  private nextBeat = 0;
  private frame = 0;
  private beganAt = 0;
  private bornAt = 0;
  private step: number | null = null;

  constructor(
    private readonly context: AudioContext,
    out: AudioNode,
    private readonly fromStep: number,
    private readonly clicks: "none" | "beats" | "count-in",
    private readonly actions: PlayingActions,
  ) {
    this.fade = new GainNode(context);
    this.fade.connect(out);
  }

  ask(seconds: number): void {
    this.asked = true;
    this.actions.more(Math.round(seconds * 44_100));
  }

  /** Knows from here on when steps and beats are due. */
  follow({ stepsMs, beats }: Schedule): void {
    this.stepsMs = stepsMs;
    this.beats = beats.filter(({ ms }) => this.clicks === "count-in" || (this.clicks === "beats" && ms >= 0));
  }

  /** The piece that was asked for; null where nothing more comes. */
  take(piece: { samples: Float32Array<ArrayBuffer>; sampleRate: number } | null): void {
    if (piece) this.queue(piece.samples, piece.sampleRate);
    else {
      this.complete = true;
      if (this.startsAt === 0) this.actions.onEnd();
    }
  }

  private queue(samples: Float32Array<ArrayBuffer>, sampleRate: number): void {
    this.asked = false;
    const { context } = this;
    const buffer = new AudioBuffer({ length: samples.length, sampleRate });
    buffer.copyToChannel(samples, 0);
    const source = new AudioBufferSourceNode(context, { buffer });
    source.connect(this.fade);
    const first = this.startsAt === 0;
    if (first) {
      this.startsAt = context.currentTime + START_S + Math.max(0, -(this.beats[0]?.ms ?? 0)) / 1000;
      this.queuedUntil = this.startsAt;
    }
    source.start(this.queuedUntil);
    this.queuedUntil += buffer.duration;
    this.sources.push(source);
    source.onended = () => this.sources.splice(this.sources.indexOf(source), 1);
    if (!first) return;
    this.actions.onBegin();
    this.beganAt = performance.now();
    this.bornAt = context.currentTime;
    this.attend();
  }

  /** With every screen frame: which step is heard, and whether more sound is needed. */
  private readonly attend = (): void => {
    const { currentTime } = this.context;
    if (!this.complete && !this.asked && this.queuedUntil - currentTime < AHEAD_S) this.ask(PIECE_S);
    const ms = (currentTime - this.startsAt) * 1000;
    for (let beat = this.beats[this.nextBeat]; beat && beat.ms < ms + CLICK_AHEAD_MS; beat = this.beats[++this.nextBeat]) this.click(beat);
    let at = this.step ?? this.fromStep;
    while (at + 1 < this.stepsMs.length && this.stepsMs[at + 1]! <= ms) at++;
    if (ms >= 0 && at !== this.step && at < this.stepsMs.length) {
      this.step = at;
      this.actions.onStep(at);
    }
    if (this.complete && currentTime >= this.queuedUntil) this.actions.onEnd();
    else if (currentTime <= this.bornAt && performance.now() - this.beganAt > MUTE_AFTER_MS) this.actions.onMute();
    else this.frame = requestAnimationFrame(this.attend);
  };

  /** A short tick on the audio clock, higher on the first beat of a bar. */
  private click({ ms, strong }: Beat): void {
    const at = Math.max(this.context.currentTime, this.startsAt + ms / 1000);
    const level = new GainNode(this.context, { gain: 0 });
    level.gain.setValueAtTime(CLICK_LEVEL, at);
    level.gain.exponentialRampToValueAtTime(0.001, at + 0.04);
    level.connect(this.fade);
    const tick = new OscillatorNode(this.context, { type: "triangle", frequency: strong ? 1760 : 1175 });
    tick.connect(level);
    tick.start(at);
    tick.stop(at + 0.05);
  }

  stop(): void {
    cancelAnimationFrame(this.frame);
    const { currentTime } = this.context;
    this.fade.gain.setTargetAtTime(0, currentTime, FADE_S / 3);
    for (const source of this.sources) source.stop(currentTime + FADE_S);
    setTimeout(() => this.fade.disconnect(), 1000 * FADE_S * 4);
  }
}
