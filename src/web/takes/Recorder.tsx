import { Mic, Square, Trash2 } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import type { Samples } from "../jobs/jobs.ts";
import { microphones, type Recording, type RecordingState, record } from "../microphone/recording.ts";
import { Select } from "../parts/Select.tsx";
import { Trouble } from "../parts/Trouble.tsx";

const DEVICE_KEY = "rest-hand:microphone";
/** The loudest of a take lies between these: quieter, faint rings drown in the noise; louder, it is cut off. */
const QUIET = 0.08;
const LOUD = 0.95;

type State = { kind: "idle" } | { kind: "asking" } | { kind: "recording"; recording: Recording } | { kind: "failed"; says: string };

/** Records a take: asks for the microphone, shows how loud it comes in, and gives what was recorded. */
export function Recorder({ disabled, onTake }: { disabled: boolean; onTake(sound: Samples): void }) {
  const [state, setState] = useState<State>({ kind: "idle" });
  const [going, setGoing] = useState<RecordingState>({ seconds: 0, peak: 0 });
  const [loudest, setLoudest] = useState(0);
  const [says, setSays] = useState<string | null>(null);
  const [devices, setDevices] = useState<{ value: string; says: string }[]>([]);
  const [device, setDevice] = useState(() => localStorage.getItem(DEVICE_KEY) ?? "");
  const running = useRef<Recording | null>(null);
  const isHere = useRef(true);
  useEffect(() => {
    isHere.current = true;
    const update = () => void microphones().then(setDevices);
    update();
    navigator.mediaDevices?.addEventListener("devicechange", update);
    return () => {
      navigator.mediaDevices?.removeEventListener("devicechange", update);
      isHere.current = false;
      running.current?.stop();
    };
  }, []);

  const end = (isKept: boolean) => {
    const sound = running.current?.stop();
    running.current = null;
    setState({ kind: "idle" });
    if (sound && isKept) onTake(sound);
  };
  const begin = async () => {
    setState({ kind: "asking" });
    setSays(null);
    setLoudest(0);
    setGoing({ seconds: 0, peak: 0 });
    try {
      const known = devices.some(({ value }) => value === device) ? device : "";
      const recording = await record(
        known,
        (now) => {
          setGoing(now);
          setLoudest((most) => Math.max(most, now.peak));
        },
        (why) => {
          setSays(why);
          end(true);
        },
      );
      // Allowed only after the page was left: nobody records.
      if (!isHere.current) {
        recording.stop();
        return;
      }
      running.current = recording;
      setState({ kind: "recording", recording });
      setDevices(await microphones());
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
        <b className="text-2xl tabular-nums" data-testid="recorded">
          {Math.floor(going.seconds / 60)}:{String(Math.floor(going.seconds % 60)).padStart(2, "0")}
        </b>
        <button type="button" className="btn btn-ghost" onClick={() => end(false)}>
          <Trash2 size={18} aria-hidden /> Throw away
        </button>
      </section>
    );
  return (
    <>
      <button type="button" className="btn btn-primary btn-lg" disabled={disabled || state.kind === "asking"} onClick={() => void begin()}>
        <Mic size={20} aria-hidden /> {state.kind === "asking" ? "Asking for the microphone" : "Record"}
      </button>
      {devices.length > 1 && (
        <Select
          className="select w-auto max-w-60"
          label="Microphone"
          value={devices.some(({ value }) => value === device) ? device : devices[0]!.value}
          options={devices}
          onChoose={(chosen) => {
            setDevice(chosen);
            localStorage.setItem(DEVICE_KEY, chosen);
          }}
        />
      )}
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

/** How loud it comes in, on a scale of 60 dB with the range that is right marked, and said. */
function Meter({ peak, loudest }: { peak: number; loudest: number }) {
  const share = (level: number) => Math.min(1, Math.max(0, 1 + (20 * Math.log10(level + 1e-6)) / 60));
  const words = loudest >= LOUD ? "too loud: turn it down" : loudest >= QUIET ? "loud enough" : "too quiet so far: nearer, or turn it up";
  return (
    <div className="flex min-w-60 flex-1 items-center gap-3">
      <svg viewBox="0 0 300 26" className="h-7 w-full max-w-sm" role="img" aria-label="Level of the microphone" preserveAspectRatio="none">
        <rect x={0.5} y={0.5} width={299} height={25} fill="none" stroke="var(--ink)" />
        <rect x={0} y={4} width={300 * share(peak)} height={18} fill="var(--ink)" fillOpacity={0.55} />
        <rect
          x={300 * share(QUIET)}
          y={2}
          width={300 * (share(LOUD) - share(QUIET))}
          height={22}
          fill="none"
          stroke="var(--ink)"
          strokeWidth={2}
          strokeDasharray="4 3"
        />
        <rect x={300 * share(loudest) - 2} y={0} width={4} height={26} fill="var(--ink)" />
      </svg>
      <span className="whitespace-nowrap" role="status">
        {words}
      </span>
    </div>
  );
}
