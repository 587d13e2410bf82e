import { backbeats, barLength, beatTicks } from "../music/beats.ts";
import { TICKS_PER_WHOLE, type Ticks, ticksOf } from "../music/ticks.ts";
import type { Bar } from "../passage/schema.ts";

/*
 * When a trainer clicks: bars that come again and again, each time at a tempo that may be another. Times are worked out from whole
 * ticks and where a round began, so that nothing adds up; whoever plays them asks for them ahead of time.
 */

/** What is clicked: every beat, two and four, once a bar, or parts of a beat as well. */
export const CLICKS = ["beats", "backbeats", "bars", "eighths", "triplets", "sixteenths"] as const;
export type ClickChoice = (typeof CLICKS)[number];

export interface MetronomeChoices {
  click: ClickChoice;
  /** So many bars are heard, then so many are silent; 0 silent ones: always heard. */
  heard: number;
  silent: number;
  /** Bars counted in before the first round. */
  countIn: number;
}

export interface Click {
  /** Seconds on the clock that the metronome was started with. */
  at: number;
  kind: "bar" | "beat" | "between";
}

/** One time through, whose beginning is settled. */
export interface RoundStart {
  /** 0 for the first one. */
  round: number;
  /** Seconds on the clock, and how many it lasts. */
  at: number;
  seconds: number;
  tempo: number;
}

/** Where the music is. */
export interface Position {
  /** 0 for the first time through, -1 while it is counted in. */
  round: number;
  /** Ticks since the round began; below 0 while it is counted in. */
  tick: Ticks;
}

interface Round {
  start: number;
  tempo: number;
}

/** Seconds of a tick at a tempo of quarters a minute. */
function perTick(tempo: number): number {
  return 240 / tempo / TICKS_PER_WHOLE;
}

/** Clicks of bars that come again and again, on a clock in seconds. */
export class Metronome {
  private readonly length: Ticks;
  private readonly inRound: readonly { tick: Ticks; kind: Click["kind"]; bar: number }[];
  /** The round that is under way and those after it that are settled, the latest last. */
  private rounds: Round[];
  private firstRound = 0;
  private next = 0;
  private nextRound = 0;
  private givenRounds = 0;
  private readonly barStarts: readonly Ticks[];
  private tempo: number;
  private counted: Click[];

  constructor(
    private readonly bars: readonly Bar[],
    tempo: number,
    private readonly choices: MetronomeChoices,
    startAt: number,
  ) {
    this.tempo = tempo;
    this.length = bars.reduce((sum, { meter }) => sum + barLength(meter), 0);
    this.inRound = clicksOf(bars, choices.click);
    this.barStarts = clicksOf(bars, "bars").map(({ tick }) => tick);
    const first = bars[0]!;
    const countIn = choices.countIn * barLength(first.meter) * perTick(tempo);
    this.counted = clicksOf(new Array<Bar>(choices.countIn).fill(first), "beats").map(({ tick, kind }) => ({ at: startAt + tick * perTick(tempo), kind }));
    this.rounds = [{ start: startAt + countIn, tempo }];
  }

  /** Another tempo from the next round that is not settled yet; the beat never stops. */
  setTempo(tempo: number): void {
    this.tempo = tempo;
  }

  /** Every click before a moment that was not given yet, in order. Rounds that begin before it are settled. */
  take(until: number): Click[] {
    const found: Click[] = [];
    while (this.counted[0] && this.counted[0].at < until) found.push(this.counted.shift()!);
    for (;;) {
      const { start, tempo } = this.roundAt(this.nextRound);
      const click = this.inRound[this.next];
      const at = start + (click?.tick ?? this.length) * perTick(tempo);
      if (at >= until) return found;
      if (!click) {
        this.nextRound++;
        this.next = 0;
        continue;
      }
      if (this.isHeard(this.nextRound * this.bars.length + click.bar)) found.push({ at, kind: click.kind });
      this.next++;
    }
  }

  /** Every round that begins before a moment and was not given yet, in order; with that its tempo is settled. */
  takeRounds(until: number): RoundStart[] {
    const found: RoundStart[] = [];
    for (;;) {
      const { start, tempo } = this.roundAt(this.givenRounds);
      if (start >= until) return found;
      found.push({ round: this.givenRounds++, at: start, seconds: this.length * perTick(tempo), tempo });
    }
  }

  /** When the first bar begins at a moment or after it. */
  barAfter(at: number): number {
    const first = this.rounds[0]!;
    if (at <= first.start) return first.start;
    for (let round = this.firstRound; ; round++) {
      const { start, tempo } = this.roundAt(round);
      const bar = this.barStarts.find((tick) => start + tick * perTick(tempo) >= at);
      if (bar !== undefined) return start + bar * perTick(tempo);
    }
  }

  /** Where the music is at a moment; rounds before it may be forgotten. */
  position(at: number): Position {
    while (this.rounds.length > 1 && this.rounds[1]!.start <= at) {
      this.rounds.shift();
      this.firstRound++;
    }
    const { start, tempo } = this.rounds[0]!;
    const tick = (at - start) / perTick(tempo);
    return tick < 0 ? { round: -1, tick } : { round: this.firstRound, tick: Math.min(tick, this.length) };
  }

  private roundAt(round: number): Round {
    for (let at = this.firstRound + this.rounds.length; at <= round; at++) {
      const before = this.rounds.at(-1)!;
      this.rounds.push({ start: before.start + this.length * perTick(before.tempo), tempo: this.tempo });
    }
    return this.rounds[round - this.firstRound]!;
  }

  private isHeard(bar: number): boolean {
    const { heard, silent } = this.choices;
    return silent === 0 || bar % (heard + silent) < heard;
  }
}

/** The clicks of some bars, in ticks from their beginning. */
function clicksOf(bars: readonly Bar[], choice: ClickChoice): { tick: Ticks; kind: Click["kind"]; bar: number }[] {
  let start = 0;
  return bars.flatMap(({ meter }, bar) => {
    const from = start;
    const length = barLength(meter);
    start += length;
    const kindOf = (tick: Ticks): Click["kind"] => (tick === 0 ? "bar" : tick % beatTicks(meter) === 0 ? "beat" : "between");
    return placesOf(meter, choice).map((tick) => ({ tick: from + tick, kind: kindOf(tick), bar }));
  });
}

function placesOf(meter: Bar["meter"], choice: ClickChoice): Ticks[] {
  if (choice === "bars") return [0];
  if (choice === "backbeats") return backbeats(meter);
  const unit = { beats: beatTicks(meter), eighths: ticksOf("1/8"), triplets: ticksOf("1/12"), sixteenths: ticksOf("1/16") }[choice];
  return Array.from({ length: Math.ceil(barLength(meter) / unit) }, (_, k) => k * unit);
}
