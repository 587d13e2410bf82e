import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { TEMPO } from "../../core/music/tempo.ts";
import type { Passage } from "../../core/passage/schema.ts";
import type { Damping } from "../../core/sound/score.ts";
import { Listener, type ListenState, SILENT } from "./listener.ts";

const VOLUME_KEY = "rest-hand:volume";
/** Low: the player turns it up. */
const FIRST_VOLUME = 0.25;
/** A passage is planned ahead for listening once it has been left alone this long, in ms. */
const SETTLED_MS = 400;

export interface ListenControls {
  state: ListenState;
  /** The step that is heard now. */
  step: number | null;
  damping: Damping;
  alone: boolean;
  volume: number;
  /** Share of the written tempo, 0.4 to 1. */
  speed: number;
  /** From the end back to where it began, again and again. */
  loop: boolean;
  /** Clicks on the beats, after a bar of them to count in. */
  clicks: boolean;
  setSpeed(speed: number): void;
  setLoop(loop: boolean): void;
  setClicks(clicks: boolean): void;
  setDamping(damping: Damping): void;
  setAlone(alone: boolean): void;
  setVolume(volume: number): void;
  /** Up to a step, if one is named. */
  play(fromStep: number, stepOnly: boolean, toStep?: number): void;
  stop(): void;
}

/** Sound of the passage on the bench, and how it is to be heard. `string` is the one that is heard alone, if one is. */
export function useListen(passage: Passage, string: number): ListenControls {
  const [state, setState] = useState<ListenState>(SILENT);
  const [step, setStep] = useState<number | null>(null);
  const [damping, setDamping] = useState<Damping>("planned");
  const [alone, setAlone] = useState(false);
  const [speed, setSpeed] = useState(1);
  const [loop, setLoop] = useState(false);
  const [clicks, setClicks] = useState(false);
  const slower = useMemo(() => (speed === 1 ? passage : atSpeed(passage, speed)), [passage, speed]);
  const [volume, setVolume] = useState(() => keptVolume());
  const listener = useRef<Listener | null>(null);
  const firstVolume = useRef(volume);

  useEffect(() => {
    const made = new Listener(setState, setStep, firstVolume.current);
    listener.current = made;
    return () => made.close();
  }, []);

  // Another passage than the one that is heard: what goes on would be an old version.
  useEffect(() => {
    listener.current?.stop();
    const timer = setTimeout(() => listener.current?.prepare(slower), SETTLED_MS);
    return () => clearTimeout(timer);
  }, [slower]);

  const play = useCallback(
    (fromStep: number, stepOnly: boolean, toStep?: number) =>
      void listener.current?.play(slower, {
        damping,
        string: alone ? string : null,
        fromStep,
        stepOnly,
        toStep: toStep ?? null,
        loop: loop && !stepOnly,
        clicks: clicks && !stepOnly,
      }),
    [slower, damping, alone, string, loop, clicks],
  );
  const stop = useCallback(() => listener.current?.stop(), []);
  const change = useCallback((next: number) => {
    setVolume(next);
    listener.current?.setVolume(next);
    localStorage.setItem(VOLUME_KEY, String(next));
  }, []);
  return { state, step, damping, alone, volume, speed, loop, clicks, setSpeed, setLoop, setClicks, setDamping, setAlone, setVolume: change, play, stop };
}

/** The passage at a share of its tempo, every change of tempo with it. */
function atSpeed(passage: Passage, speed: number): Passage {
  const slow = (tempo: number) => Math.max(TEMPO.lowest, tempo * speed);
  return { ...passage, tempo: slow(passage.tempo), bars: passage.bars.map((bar) => (bar.tempo === undefined ? bar : { ...bar, tempo: slow(bar.tempo) })) };
}

export function keptVolume(): number {
  const kept = Number(localStorage.getItem(VOLUME_KEY) ?? Number.NaN);
  return kept >= 0 && kept <= 1 ? kept : FIRST_VOLUME;
}
