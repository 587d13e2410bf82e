import equal from "fast-deep-equal";
import { useState } from "react";
import { SCHOOL_KEYS, type SchoolKey, schoolOf } from "../../core/hands/schools.ts";
import { INSTRUMENT_PRESETS } from "../../core/passage/presets.ts";
import type { Conditions, Passage, Player } from "../../core/passage/schema.ts";
import { settingsOf } from "../../core/passage/settings.ts";
import { GAIN_WORDS } from "../../core/words/conditions.ts";
import { Dialog } from "../parts/Dialog.tsx";
import { Select } from "../parts/Select.tsx";
import { useInstrumentsQuery, usePlayersQuery } from "../store/api.ts";

const AS_WRITTEN = { value: "", says: "as written" };
const REACHES = [80, 90, 100, 110, 120, 130];

/** The same notes otherwise: other voicings, another place, instrument, gain or player, in any mix. */
export function ConditionsDialog({
  passage,
  conditions,
  title,
  onTake,
  onClose,
}: {
  passage: Passage;
  conditions: Conditions;
  title: string;
  onTake(conditions: Conditions): void;
  onClose(): void;
}) {
  const [chosen, setChosen] = useState(conditions);
  const { data: instruments = [] } = useInstrumentsQuery();
  const { data: players = [] } = usePlayersQuery();
  const settings = settingsOf(passage);
  /** What is left out is as written. */
  const set = (change: { [K in keyof Conditions]: Conditions[K] | undefined }) => {
    const all = Object.entries({ ...chosen, ...change }).filter(([, value]) => value !== undefined);
    setChosen(Object.fromEntries(all) as Conditions);
  };
  const instrumentChoices = [
    ...instruments.map(({ name, value }) => ({ says: name, instrument: value })),
    ...INSTRUMENT_PRESETS.filter((preset) => !instruments.some(({ value }) => equal(value, preset.instrument))).map((preset) => ({
      says: preset.name,
      instrument: preset.instrument,
    })),
  ].filter(({ instrument }) => !equal(instrument, passage.instrument));
  const playerChoices = players.filter(({ value }) => !equal(value, passage.player));
  const playsWith = chosen.player?.playsWith ?? settings.playsWith;
  const asked = SCHOOL_KEYS.filter((key) => schoolOf(key).askedOf?.includes(playsWith) ?? true);
  const setSchool = (key: SchoolKey, value: string) => {
    const player = { ...passage.player, ...chosen.player, [key]: value === "" ? passage.player[key] : value };
    if (player[key] === undefined) delete player[key];
    set({ player: equal(player, passage.player) ? undefined : (player as Player) });
  };
  const said = (key: SchoolKey) => (chosen.player && chosen.player[key] !== passage.player[key] ? (chosen.player[key] ?? "") : "");
  return (
    <Dialog title={title} onClose={onClose} wide>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          onTake(chosen);
          onClose();
        }}
      >
        <div className="grid gap-x-8 gap-y-4 sm:grid-cols-2">
          <Choice
            label="Chords"
            first
            value={chosen.voicing ?? ""}
            options={[
              { value: "open", says: "open voicings" },
              { value: "closed", says: "closed voicings" },
            ]}
            onChoose={(voicing) => set({ voicing: (voicing || undefined) as Conditions["voicing"] })}
          />
          <Choice
            label="Place on the neck"
            value={chosen.near === undefined ? "" : String(chosen.near)}
            options={[1, 3, 5, 7, 9, 10, 12, 14].map((fret) => ({ value: String(fret), says: `about fret ${fret}` }))}
            onChoose={(fret) => set({ near: fret === "" ? undefined : Number(fret) })}
          />
          <Choice
            label="Instrument and tuning"
            value={String(instrumentChoices.findIndex(({ instrument }) => equal(instrument, chosen.instrument))).replace("-1", "")}
            options={instrumentChoices.map(({ says }, i) => ({ value: String(i), says }))}
            onChoose={(i) => set({ instrument: i === "" ? undefined : instrumentChoices[Number(i)]!.instrument })}
          />
          <Choice
            label="Gain"
            value={chosen.gain ?? ""}
            options={Object.entries(GAIN_WORDS)
              .filter(([gain]) => gain !== settings.gain)
              .map(([value, says]) => ({ value, says }))}
            onChoose={(gain) => set({ gain: (gain || undefined) as Conditions["gain"] })}
          />
          {playerChoices.length > 0 && (
            <Choice
              label="Player"
              value={playerChoices.find(({ value }) => equal(value, chosen.player))?.id ?? ""}
              options={playerChoices.map(({ id, name }) => ({ value: id, says: name }))}
              onChoose={(id) => set({ player: playerChoices.find((player) => player.id === id)?.value })}
            />
          )}
          <Choice
            label="Reach of the fretting hand"
            value={chosen.player?.reachMm !== undefined && chosen.player.reachMm !== passage.player.reachMm ? String(chosen.player.reachMm) : ""}
            options={REACHES.map((mm) => ({ value: String(mm), says: `${mm} mm` }))}
            onChoose={(mm) => {
              const { reachMm: _, ...rest } = { ...passage.player, ...chosen.player };
              const reachMm = mm === "" ? passage.player.reachMm : Number(mm);
              const player = { ...rest, ...(reachMm === undefined ? {} : { reachMm }) };
              set({ player: equal(player, passage.player) ? undefined : player });
            }}
          />
        </div>
        <details className="mt-5" open={chosen.player !== undefined}>
          <summary className="cursor-pointer text-lg font-bold">Played otherwise: strokes, chucks, which hand damps …</summary>
          <div className="mt-3 grid gap-x-8 gap-y-4 sm:grid-cols-2">
            {asked.map((key) => (
              <Choice
                key={key}
                label={schoolOf(key).asks}
                value={said(key)}
                options={schoolOf(key)
                  .options.filter(({ value }) => value !== settings[key])
                  .map(({ value, says }) => ({ value, says }))}
                onChoose={(value) => setSchool(key, value)}
              />
            ))}
          </div>
        </details>
        <div className="mt-5 flex justify-end">
          <button type="submit" className="btn btn-primary" disabled={Object.keys(chosen).length === 0 && Object.keys(conditions).length === 0}>
            Compare it
          </button>
        </div>
      </form>
    </Dialog>
  );
}

function Choice({ label, first = false, options, ...rest }: Omit<Parameters<typeof Select>[0], "className"> & { first?: boolean }) {
  return (
    <label className="flex flex-col gap-1" {...(first ? { "data-first": true } : {})}>
      <span className="font-bold">{label}</span>
      <Select label={label} options={[AS_WRITTEN, ...options]} {...rest} />
    </label>
  );
}
