import { parsePitch } from "../../core/music/pitch.ts";
import { INSTRUMENT_PRESETS } from "../../core/passage/presets.ts";
import type { Instrument } from "../../core/passage/schema.ts";
import { RadioQuestion } from "../parts/RadioQuestion.tsx";
import { NumberField, TypedField } from "../parts/TypedField.tsx";

const KINDS: readonly { value: Instrument["kind"]; says: string }[] = [
  { value: "electric-guitar", says: "electric guitar" },
  { value: "acoustic-guitar", says: "steel-string acoustic" },
  { value: "nylon-guitar", says: "nylon-string guitar" },
  { value: "electric-bass", says: "electric bass" },
];

/** Kind, strings and tuning, frets, capo, scale length. */
export function InstrumentForm({ instrument, onChange }: { instrument: Instrument; onChange(instrument: Instrument): void }) {
  const { tuning } = instrument;
  const set = (change: Partial<Instrument>) => onChange({ ...instrument, ...change });
  return (
    <div className="flex flex-col gap-5">
      <label className="flex flex-col gap-1">
        <span className="font-bold">Start from</span>
        <select
          className="select w-full max-w-md"
          value=""
          onChange={(event) => {
            const preset = INSTRUMENT_PRESETS[Number(event.target.value)];
            if (preset) onChange(preset.instrument);
          }}
        >
          <option value="">an ordinary instrument …</option>
          {INSTRUMENT_PRESETS.map((preset, i) => (
            <option key={preset.name} value={i}>
              {preset.name}
            </option>
          ))}
        </select>
      </label>
      <RadioQuestion name="kind" asks="Kind" value={instrument.kind} options={KINDS} onChoose={(kind) => set({ kind })} />
      <fieldset>
        <legend className="mb-1 font-bold">Strings, highest first</legend>
        <div className="flex flex-wrap items-end gap-3">
          {tuning.map((pitch, s) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: strings have no other name
            <PitchField key={s} string={s + 1} pitch={pitch} onPitch={(next) => set({ tuning: tuning.map((p, i) => (i === s ? next : p)) })} />
          ))}
          <span className="flex gap-1">
            <button type="button" className="btn btn-sm" disabled={tuning.length >= 8} onClick={() => set({ tuning: [...tuning, lower(tuning.at(-1)!)] })}>
              one more
            </button>
            <button type="button" className="btn btn-sm" disabled={tuning.length <= 4} onClick={() => set({ tuning: tuning.slice(0, -1) })}>
              one less
            </button>
          </span>
        </div>
      </fieldset>
      <div className="flex flex-wrap gap-6">
        <Labelled label="Frets" value={instrument.frets} least={12} most={36} onTake={(frets) => set({ frets })} />
        <Labelled label="Capo at fret (0: none)" value={instrument.capo} least={0} most={12} onTake={(capo) => set({ capo })} />
        <Labelled label="Scale length in mm" value={instrument.scaleLengthMm} least={400} most={1000} onTake={(scaleLengthMm) => set({ scaleLengthMm })} />
      </div>
    </div>
  );
}

/** A string a fourth below another. */
function lower(pitch: string): string {
  const names = ["C", "C#", "D", "D#", "E", "F", "F#", "G", "G#", "A", "A#", "B"];
  const midi = (parsePitch(pitch) ?? 40) - 5;
  return `${names[midi % 12]}${Math.floor(midi / 12) - 1}`;
}

function PitchField({ string, pitch, onPitch }: { string: number; pitch: string; onPitch(pitch: string): void }) {
  return (
    <label className="flex flex-col items-center">
      <span className="quiet text-sm">{string}</span>
      <TypedField
        className="input input-sm w-16 text-center text-base"
        aria-label={`Pitch of string ${string}, such as E4 or F#2`}
        value={pitch}
        fits={(text) => parsePitch(text) !== null}
        takes="typing"
        onTake={(text) => onPitch(text[0]!.toUpperCase() + text.slice(1))}
      />
    </label>
  );
}

function Labelled({ label, ...field }: { label: string; value: number; least: number; most: number; onTake(value: number): void }) {
  return (
    <label className="flex flex-col gap-1">
      <span className="font-bold">{label}</span>
      <NumberField {...field} className="input input-sm w-28 text-base" takes="typing" />
    </label>
  );
}
