import { useCallback, useEffect, useRef, useState } from "react";
import type { Drill } from "../../core/drills/types.ts";
import { atTempo } from "../../core/passage/tempo.ts";
import { Listener, type ListenState } from "../listen/listener.ts";
import { soundWords } from "../listen/sound-words.ts";
import { keptVolume } from "../listen/use-listen.ts";

/** A drill as it should sound, and as it sounds when its contact fails: over and over, at its first tempo. */
export function useHear() {
  const [state, setState] = useState<ListenState>({ kind: "silent" });
  const [heard, setHeard] = useState<string | null>(null);
  const listener = useRef<Listener | null>(null);
  useEffect(() => {
    const made = new Listener(setState, () => {}, keptVolume());
    listener.current = made;
    return () => made.close();
  }, []);
  const hear = useCallback((drill: Drill, which: "right" | "fails") => {
    const { damping = "planned", without } = drill.sounds[which];
    setHeard(`${drill.id} ${which}`);
    void listener.current?.play(atTempo(drill.passage, drill.tempo.start), {
      damping,
      without,
      string: null,
      fromStep: 0,
      stepOnly: false,
      toStep: null,
      loop: true,
      clicks: false,
    });
  }, []);
  const stop = useCallback(() => {
    setHeard(null);
    listener.current?.stop();
  }, []);
  const isOn = state.kind === "playing" || state.kind === "preparing";
  return { hear, stop, heard: isOn ? heard : null, says: soundWords(state, "again") };
}
