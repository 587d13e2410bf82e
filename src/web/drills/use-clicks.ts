import { useEffect, useRef, useState } from "react";
import type { Drill } from "../../core/drills/types.ts";
import type { Samples } from "../jobs/jobs.ts";
import { startJob } from "../jobs/use-job.ts";
import { type Clicked, ClickTrack } from "../listen/click-track.ts";
import { keptVolume } from "../listen/use-listen.ts";
import { Backings } from "./backings.ts";
import type { TrainerChoices } from "./choices.ts";
import { Ears, type HeardRound, hearingOf } from "./ears.ts";

/** How often the picture asks where the music is, in ms. */
const LOOK_EVERY_MS = 40;
/** A clock that has not moved for so long has no sound output behind it. */
const MUTE_AFTER_MS = 3000;

export interface Clicking {
  /** Ticks of the drill's passage that are now, below 0 while it is counted in; null while nothing goes on. */
  tick: number | null;
  /** How many times it has been through. */
  round: number;
  /** Why something is not heard; empty where all is. */
  trouble: string;
}

const STILL: Clicking = { tick: null, round: 0, trouble: "" };

/** Clicks while it is on, counted in, and listens where that is chosen. Another tempo begins with a round, another drill with the next bar: the beat goes on. */
export function useClicks(drill: Drill | null, tempo: number, isOn: boolean, choices: TrainerChoices, onHeard: (round: HeardRound) => void): Clicking {
  const context = useRef<AudioContext | null>(null);
  const track = useRef<ClickTrack | null>(null);
  const backings = useRef<Backings<AudioBuffer> | null>(null);
  const [now, setNow] = useState<Clicking>(STILL);
  const [noBacking, setNoBacking] = useState("");
  const [noEars, setNoEars] = useState("");
  const ears = useRef<Ears | null>(null);
  const latest = useRef({ drill, tempo, onHeard });
  latest.current = { drill, tempo, onHeard };
  const goesOn = isOn && drill !== null;
  useEffect(() => {
    const first = latest.current.drill;
    if (!goesOn || !first) return;
    if (typeof AudioContext === "undefined") {
      setNow({ ...STILL, trouble: "This browser has no sound output: the click cannot be heard." });
      return;
    }
    context.current ??= new AudioContext();
    const { current: sound } = context;
    // Where the browser refuses, the clock stands still: that is seen below.
    void sound.resume().catch(() => {});
    const { click, heard, silent, volume, backing } = choices;
    const job = backing === "none" ? null : startJob();
    setNoBacking("");
    backings.current =
      job &&
      new Backings(
        (passage, how) => job.result(job.jobs.samples(passage, how) as Promise<Samples>),
        ({ samples, sampleRate }) => {
          const made = sound.createBuffer(1, Math.max(1, samples.length), sampleRate);
          made.copyToChannel(samples as Float32Array<ArrayBuffer>, 0);
          return made;
        },
        backing,
        setNoBacking,
      );
    setNoEars("");
    ears.current = choices.listens ? new Ears(hearingOf(sound), (round) => latest.current.onHeard(round), setNoEars) : null;
    const own = new ClickTrack(
      sound,
      clicked(first, latest.current.tempo, backings.current, ears.current),
      { click, heard, silent, countIn: 1 },
      volume,
      keptVolume(),
    );
    track.current = own;
    const [began, clock] = [performance.now(), sound.currentTime];
    const timer = setInterval(() => {
      const isMute = sound.currentTime === clock && performance.now() - began > MUTE_AFTER_MS;
      const why = sound.state === "suspended" ? "The browser holds the sound back: pause, and press Go again." : "No sound output answers on this device.";
      setNow({ ...own.position(), trouble: isMute ? why : "" });
    }, LOOK_EVERY_MS);
    return () => {
      clearInterval(timer);
      own.stop();
      job?.stop();
      ears.current?.close();
      ears.current = null;
      track.current = null;
      backings.current = null;
      setNow(STILL);
    };
  }, [goesOn, choices]);
  const shown = useRef(drill);
  useEffect(() => {
    if (shown.current !== drill && drill) {
      ears.current?.forget();
      track.current?.follow(clicked(drill, latest.current.tempo, backings.current, ears.current));
    }
    shown.current = drill;
  }, [drill]);
  useEffect(() => {
    track.current?.setTempo(tempo);
    if (latest.current.drill) backings.current?.prepare(latest.current.drill, tempo, 0);
  }, [tempo]);
  useEffect(() => () => void context.current?.close(), []);
  const trouble = now.trouble || (noBacking && `What lies under the click could not be made: ${noBacking}. The click goes on.`) || noEars;
  return { ...now, trouble };
}

function clicked(drill: Drill, tempo: number, backings: Backings<AudioBuffer> | null, ears: Ears | null): Clicked {
  return {
    bars: drill.passage.bars,
    tempo,
    backing: (round) => backings?.under(drill, round) ?? null,
    ...(ears ? { onRound: (round) => ears.expect(drill, round) } : {}),
  };
}
