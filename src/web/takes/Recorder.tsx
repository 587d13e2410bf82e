import { Mic, Square, Trash2 } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import type { Passage } from "../../core/passage/schema.ts";
import type { Samples } from "../jobs/jobs.ts";
import { keptVolume } from "../listen/use-listen.ts";
import { ChooseMicrophone } from "../microphone/ChooseMicrophone.tsx";
import { Meter } from "../microphone/Meter.tsx";
import { Select } from "../parts/Select.tsx";
import { Trouble } from "../parts/Trouble.tsx";
import { COUNTS, type Count, type Recording, type RecordingState, record } from "./recording.ts";

const COUNT_KEY = "rest-hand:counted";
const COUNT_WORDS: readonly { value: Count; says: string }[] = [
  { value: "in", says: "one bar counted in" },
  { value: "through", says: "counted in, and the click goes on (with headphones)" },
  { value: "none", says: "without a click" },
];

type State = { kind: "idle" } | { kind: "asking" } | { kind: "recording" } | { kind: "failed"; says: string };

/** Records a take: asks for the microphone, counts in, shows how loud it comes in, and gives what was recorded. */
export function Recorder({ passage, disabled, onTake }: { passage: Passage; disabled: boolean; onTake(sound: Samples): void }) {
  const [state, setState] = useState<State>({ kind: "idle" });
  const [going, setGoing] = useState<RecordingState>({ seconds: 0, peak: 0 });
  const [loudest, setLoudest] = useState(0);
  const [says, setSays] = useState<string | null>(null);
  const [held, setHeld] = useState<string | null>(null);
  const [count, setCount] = useState<Count>(() => COUNTS.find((one) => one === localStorage.getItem(COUNT_KEY)) ?? "in");
  const running = useRef<Recording | null>(null);
  const isHere = useRef(true);
  useEffect(() => {
    isHere.current = true;
    return () => {
      isHere.current = false;
      running.current?.stop();
    };
  }, []);

  const end = (isKept: boolean) => {
    const sound = running.current?.stop();
    running.current = null;
    setState({ kind: "idle" });
    if (sound && isKept && sound.samples.length > 0) onTake(sound);
  };
  const begin = async () => {
    setState({ kind: "asking" });
    setSays(null);
    setHeld(null);
    setLoudest(0);
    setGoing({ seconds: 0, peak: 0 });
    try {
      const recording = await record({
        bars: passage.bars,
        tempo: passage.tempo,
        count,
        volume: keptVolume(),
        onState(now) {
          setGoing(now);
          setLoudest((most) => (now.seconds > 0 ? Math.max(most, now.peak) : most));
        },
        onEnd(why) {
          setSays(why);
          end(true);
        },
        onHeld: setHeld,
      });
      // Allowed only after the page was left: nobody records.
      if (!isHere.current) {
        recording.stop();
        return;
      }
      running.current = recording;
      setState({ kind: "recording" });
    } catch (error) {
      setState({ kind: "failed", says: (error as Error).message });
    }
  };
  if (state.kind === "recording")
    return (
      <section className="flex w-full flex-wrap items-center gap-x-4 gap-y-3" aria-label="Recording">
        <button type="button" className="btn btn-primary btn-lg" onClick={() => end(true)}>
          <Square size={20} aria-hidden /> Stop and look
        </button>
        <Meter peak={going.peak} loudest={loudest} />
        {going.seconds <= 0 && count !== "none" ? (
          <b className="text-2xl">counting in</b>
        ) : (
          <b className="text-2xl tabular-nums" data-testid="recorded">
            {Math.floor(going.seconds / 60)}:{String(Math.floor(going.seconds % 60)).padStart(2, "0")}
          </b>
        )}
        <button type="button" className="btn btn-ghost" onClick={() => end(false)}>
          <Trash2 size={18} aria-hidden /> Throw away
        </button>
        {held && (
          <p className="w-full" role="alert">
            {held}
          </p>
        )}
      </section>
    );
  return (
    <>
      <button type="button" className="btn btn-primary btn-lg" disabled={disabled || state.kind === "asking"} onClick={() => void begin()}>
        <Mic size={20} aria-hidden /> {state.kind === "asking" ? "Asking for the microphone" : "Record"}
      </button>
      <Select<Count>
        className="select w-auto max-w-60"
        label="How a take is counted in"
        value={count}
        options={COUNT_WORDS}
        onChoose={(chosen) => {
          setCount(chosen);
          localStorage.setItem(COUNT_KEY, chosen);
        }}
      />
      <ChooseMicrophone />
      {state.kind === "failed" && (
        <div className="order-last w-full">
          <Trouble title="Nothing is recorded" says={`${state.says[0]!.toUpperCase()}${state.says.slice(1)}.`} />
        </div>
      )}
      {says && (
        <p className="order-last w-full" role="status">
          {says}
        </p>
      )}
    </>
  );
}
