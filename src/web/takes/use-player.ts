import { useCallback, useEffect, useRef, useState } from "react";
import type { Samples } from "../jobs/jobs.ts";
import { keptVolume } from "../listen/use-listen.ts";

/** Plays a piece of a sound; says which one is heard now. */
export function usePlayer() {
  const [heard, setHeard] = useState<string | null>(null);
  const context = useRef<AudioContext | null>(null);
  const source = useRef<AudioBufferSourceNode | null>(null);
  const stop = useCallback(() => {
    source.current?.stop();
    source.current = null;
    setHeard(null);
  }, []);
  useEffect(
    () => () => {
      source.current?.stop();
      void context.current?.close();
      context.current = null;
    },
    [],
  );
  const play = useCallback(
    (name: string, { samples, sampleRate }: Samples, fromMs: number, toMs: number) => {
      stop();
      context.current ??= new AudioContext();
      void context.current.resume();
      const piece = samples.subarray(Math.max(0, Math.round((fromMs * sampleRate) / 1000)), Math.round((toMs * sampleRate) / 1000));
      if (piece.length === 0) return;
      const buffer = context.current.createBuffer(1, piece.length, sampleRate);
      buffer.getChannelData(0).set(piece);
      const node = new AudioBufferSourceNode(context.current, { buffer });
      const volume = new GainNode(context.current, { gain: keptVolume() });
      node.connect(volume).connect(context.current.destination);
      node.onended = () => {
        if (source.current === node) stop();
      };
      source.current = node;
      setHeard(name);
      node.start();
    },
    [stop],
  );
  return { heard, play, stop };
}
