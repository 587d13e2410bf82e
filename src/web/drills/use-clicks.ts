import { useEffect, useRef, useState } from "react";
import type { Drill } from "../../core/drills/types.ts";
import type { TrainerChoices } from "./choices.ts";
import { ClickTrack } from "./click-track.ts";

/** How often the picture asks where the music is, in ms. */
const LOOK_EVERY_MS = 40;
/** A clock that has not moved for so long has no sound output behind it. */
const MUTE_AFTER_MS = 3000;

export interface Clicking {
  /** Ticks of the drill's passage that are now; null while nothing goes on. */
  tick: number | null;
  /** Why the click is not heard; empty where it is. */
  trouble: string;
}

/** Clicks while it is on, counted in; another tempo begins with a round. */
export function useClicks(drill: Drill | null, tempo: number, isOn: boolean, choices: TrainerChoices): Clicking {
  const context = useRef<AudioContext | null>(null);
  const track = useRef<ClickTrack | null>(null);
  const [now, setNow] = useState<Clicking>({ tick: null, trouble: "" });
  const tempoNow = useRef(tempo);
  tempoNow.current = tempo;
  useEffect(() => {
    if (!isOn || !drill) return;
    if (typeof AudioContext === "undefined") {
      setNow({ tick: null, trouble: "This browser has no sound output: the click cannot be heard." });
      return;
    }
    context.current ??= new AudioContext();
    const { current: sound } = context;
    // Where the browser refuses, the clock stands still: that is seen below.
    void sound.resume().catch(() => {});
    const { click, heard, silent, volume } = choices;
    const own = new ClickTrack(sound, drill.passage.bars, tempoNow.current, { click, heard, silent, countIn: 1 }, volume);
    track.current = own;
    const [began, clock] = [performance.now(), sound.currentTime];
    const timer = setInterval(() => {
      const isMute = sound.currentTime === clock && performance.now() - began > MUTE_AFTER_MS;
      const why = sound.state === "suspended" ? "The browser holds the sound back: pause, and press Go again." : "No sound output answers on this device.";
      setNow({ tick: Math.max(0, own.position().tick), trouble: isMute ? why : "" });
    }, LOOK_EVERY_MS);
    return () => {
      clearInterval(timer);
      own.stop();
      track.current = null;
      setNow({ tick: null, trouble: "" });
    };
  }, [isOn, drill, choices]);
  useEffect(() => track.current?.setTempo(tempo), [tempo]);
  useEffect(() => () => void context.current?.close(), []);
  return now;
}
