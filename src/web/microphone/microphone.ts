import workletUrl from "./recorder-worklet.ts?worker&url";

/** What comes in: samples, the first of them at a frame of the context's clock. */
export type OnPiece = (samples: Float32Array, frame: number) => void;

export interface Microphone {
  /** Which one it is, as the browser names it. */
  readonly device: string;
  /** Lets it go. */
  stop(): void;
}

/** Nothing of what browsers do to make speech clearer: they would take rings away, and bring noise up. */
const RAW = { echoCancellation: false, noiseSuppression: false, autoGainControl: false } as const;

const REASONS: Readonly<Record<string, string>> = {
  NotAllowedError: "this page may not use the microphone: allow it in the browser's address line, then try again",
  NotFoundError: "there is no microphone: plug one in, then try again",
  NotReadableError: "another program holds the microphone: close it there, then try again",
  OverconstrainedError: "that microphone is not there any more: choose another one",
};

const DEVICE_KEY = "rest-hand:microphone";

/** The microphone that was chosen last; empty for the browser's own choice. */
export function keptDevice(): string {
  return localStorage.getItem(DEVICE_KEY) ?? "";
}

export function keepDevice(id: string): void {
  localStorage.setItem(DEVICE_KEY, id);
}

/** The microphones that there are; without names until one was allowed. */
export async function microphones(): Promise<{ value: string; says: string }[]> {
  const devices = (await navigator.mediaDevices?.enumerateDevices().catch(() => [])) ?? [];
  return devices.filter(({ kind, label }) => kind === "audioinput" && label !== "").map(({ deviceId, label }) => ({ value: deviceId, says: label }));
}

/** Opens the microphone that was chosen, on a context's clock. Fails with why it cannot; `onGone` is called when it is unplugged. */
export async function openMicrophone(context: AudioContext, onPiece: OnPiece, onGone: () => void): Promise<Microphone> {
  if (!navigator.mediaDevices) throw new Error("this browser lets no page use a microphone here: open it as localhost, or over https");
  const chosen = keptDevice();
  const isThere = (await microphones()).some(({ value }) => value === chosen);
  const stream = await navigator.mediaDevices
    .getUserMedia({ audio: { ...RAW, ...(isThere ? { deviceId: { exact: chosen } } : {}) } })
    .catch((error: DOMException) => {
      throw new Error(REASONS[error.name] ?? error.message);
    });
  const letGo = () => {
    for (const track of stream.getTracks()) track.stop();
  };
  try {
    await context.audioWorklet.addModule(workletUrl);
  } catch (error) {
    letGo();
    throw new Error(`recording could not begin: ${(error as Error).message}`);
  }
  const recorder = new AudioWorkletNode(context, "recorder", { numberOfOutputs: 0 });
  recorder.port.onmessage = ({ data }: MessageEvent<{ samples: Float32Array; frame: number }>) => onPiece(data.samples, data.frame);
  const [track] = stream.getAudioTracks();
  track?.addEventListener("ended", onGone);
  const source = context.createMediaStreamSource(stream);
  source.connect(recorder);
  return {
    device: track?.getSettings().deviceId ?? "",
    stop() {
      recorder.port.onmessage = null;
      track?.removeEventListener("ended", onGone);
      source.disconnect();
      letGo();
    },
  };
}
