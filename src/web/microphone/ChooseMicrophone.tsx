import { useEffect, useRef, useState } from "react";
import { Select } from "../parts/Select.tsx";
import { measureDelay } from "./delay.ts";
import { keepDevice, keptDevice, microphones } from "./microphone.ts";

/** Which microphone it is, where there are several, and how much later than meant it hears. */
export function ChooseMicrophone() {
  const [devices, setDevices] = useState<{ value: string; says: string }[]>([]);
  const [device, setDevice] = useState(keptDevice);
  const [measuring, setMeasuring] = useState(false);
  const [says, setSays] = useState<string | null>(null);
  useEffect(() => {
    const update = () => void microphones().then(setDevices);
    update();
    navigator.mediaDevices?.addEventListener("devicechange", update);
    return () => navigator.mediaDevices?.removeEventListener("devicechange", update);
  }, []);
  const left = useRef(new AbortController());
  useEffect(() => {
    left.current = new AbortController();
    return () => left.current.abort();
  }, []);
  const measure = async () => {
    const { signal } = left.current;
    setMeasuring(true);
    setSays("Eight clicks come out of the loudspeaker; with headphones on, clap along with them.");
    try {
      const delay = await measureDelay(signal);
      setSays(delay ? `It hears ${delay.ms} ms late, give or take ${delay.withinMs}. That is taken off from now on.` : NOT_HEARD);
    } catch (error) {
      // The page was left: nobody asks any more.
      if (signal.aborted) return;
      setSays(`The delay could not be measured: ${(error as Error).message}.`);
    }
    setMeasuring(false);
    setDevices(await microphones());
  };
  return (
    <>
      {devices.length > 1 && (
        <Select
          className="select w-auto max-w-60"
          label="Microphone"
          value={devices.some(({ value }) => value === device) ? device : devices[0]!.value}
          options={devices}
          onChoose={(chosen) => {
            setDevice(chosen);
            keepDevice(chosen);
          }}
        />
      )}
      <button type="button" className="link quiet text-sm" disabled={measuring} onClick={() => void measure()}>
        Measure its delay
      </button>
      {says && (
        <span className="order-last w-full" role="status">
          {says}
        </span>
      )}
    </>
  );
}

const NOT_HEARD = "The clicks are not heard in it: turn the loudspeaker up, or clap along louder. Nothing was changed.";
