import equal from "fast-deep-equal";
import { useState } from "react";
import type { Edit } from "../../core/edit/edit.ts";
import { INSTRUMENT_PRESETS } from "../../core/passage/presets.ts";
import type { Instrument, Passage, Player } from "../../core/passage/schema.ts";
import { settingsOf } from "../../core/passage/settings.ts";
import { Dialog } from "../parts/Dialog.tsx";
import { Select } from "../parts/Select.tsx";
import { TypedField } from "../parts/TypedField.tsx";
import { useInstrumentsQuery, usePlayersQuery } from "../store/api.ts";

type Head = Extract<Edit, { kind: "set-head" }>["head"];

const METERS = ["2/4", "3/4", "4/4", "5/4", "6/4", "7/4", "3/8", "6/8", "7/8", "9/8", "12/8", "2/2"];

/** What holds for the whole passage, and for the bar at the cursor. Every change takes effect at once and can be undone. */
export function PassageDialog({ passage, bar, onEdit, onClose }: { passage: Passage; bar: number; onEdit(edit: Edit): boolean; onClose(): void }) {
  const { data: instruments = [] } = useInstrumentsQuery();
  const { data: players = [] } = usePlayersQuery();
  const [refused, setRefused] = useState("");
  const settings = settingsOf(passage);
  const here = passage.bars[bar]!;
  const set = (head: Head) =>
    setRefused(
      onEdit({ kind: "set-head", head }) ? "" : "That does not fit this music: it uses a string or a fret that is not there then. Nothing was changed.",
    );
  const instrumentChoices: { id: string; name: string; value: Instrument }[] = [
    ...instruments,
    ...INSTRUMENT_PRESETS.filter((p) => !instruments.some((own) => equal(own.value, p.instrument))).map((p) => ({
      id: p.name,
      name: p.name,
      value: p.instrument,
    })),
  ];
  const playerChoices: { id: string; name: string; value: Player }[] = players;
  return (
    <Dialog title="This passage" onClose={onClose} wide>
      <div className="grid gap-x-8 gap-y-4 sm:grid-cols-2">
        <Choice
          label="Instrument"
          value={instrumentChoices.find((c) => equal(c.value, passage.instrument))?.id ?? ""}
          options={instrumentChoices.map((c) => ({ value: c.id, says: c.name }))}
          onChoose={(id) => set({ instrument: instrumentChoices.find((c) => c.id === id)!.value })}
        />
        <Choice
          label="Player"
          value={playerChoices.find((c) => equal(c.value, passage.player))?.id ?? ""}
          options={playerChoices.map((c) => ({ value: c.id, says: c.name }))}
          onChoose={(id) => set({ player: playerChoices.find((c) => c.id === id)!.value })}
        />
        <Choice
          label="Gain"
          value={settings.gain}
          options={[
            { value: "clean", says: "clean" },
            { value: "edge", says: "on the edge" },
            { value: "high", says: "high: everything is heard" },
          ]}
          onChoose={(gain) => set({ gain: gain as "clean" | "edge" | "high" })}
        />
        <Choice
          label="Strings sound"
          value={passage.ring}
          options={[
            { value: "written", says: "as long as written" },
            { value: "bloom", says: "on, until played again or out of the harmony" },
          ]}
          onChoose={(ring) => set({ ring: ring as Passage["ring"] })}
        />
        <Choice
          label="Feel"
          value={passage.feel === "straight" ? "straight" : passage.feel.swing}
          options={[
            { value: "straight", says: "straight" },
            { value: "eighth", says: "swung eighths" },
            { value: "sixteenth", says: "swung sixteenths" },
          ]}
          onChoose={(feel) => set({ feel: feel === "straight" ? "straight" : { swing: feel as "eighth" | "sixteenth", ratio: 2 } })}
        />
        <Typed
          label="Goal tempo (empty: none)"
          value={passage.goalTempo === undefined ? "" : String(passage.goalTempo)}
          fits={(text) => text === "" || (Number(text) >= 20 && Number(text) <= 400)}
          onTake={(text) => set({ goalTempo: text === "" ? undefined : Number(text) } as Head)}
        />
        <Typed
          label="Tags, with commas between"
          value={passage.tags.join(", ")}
          fits={() => true}
          onTake={(text) =>
            set({
              tags: text
                .split(",")
                .map((tag) => tag.trim())
                .filter(Boolean),
            })
          }
        />
        <label className="flex items-center gap-2 self-end">
          <input
            type="checkbox"
            className="checkbox"
            checked={passage.bars[0]!.pickup ?? false}
            onChange={(event) => onEdit({ kind: "set-pickup", pickup: event.target.checked })}
          />
          The first bar is a pick-up
        </label>
        <Choice
          label={`Meter of bar ${bar + 1}`}
          value={here.meter.join("/")}
          options={[...new Set([here.meter.join("/"), ...METERS])].map((value) => ({ value, says: value.replace("/", " / ") }))}
          onChoose={(meter) => {
            const [count, unit] = meter.split("/").map(Number) as [number, 4];
            onEdit({ kind: "set-meter", bar, meter: [count, unit] });
          }}
        />
        <Typed
          label={`Tempo from bar ${bar + 1} on (empty: as before)`}
          value={here.tempo === undefined ? "" : String(here.tempo)}
          fits={(text) => text === "" || (Number(text) >= 20 && Number(text) <= 400)}
          onTake={(text) => onEdit({ kind: "set-bar-tempo", bar, tempo: text === "" ? null : Number(text) })}
        />
      </div>
      <p role="alert" className="mt-4 font-bold">
        {refused}
      </p>
    </Dialog>
  );
}

function Choice({ label, value, options, onChoose }: Omit<Parameters<typeof Select>[0], "className">) {
  const own = value === "" ? [{ value: "", says: "this passage's own" }] : [];
  return (
    <label className="flex flex-col gap-1">
      <span className="font-bold">{label}</span>
      <Select label={label} value={value} options={[...own, ...options]} onChoose={onChoose} />
    </label>
  );
}

function Typed({ label, ...field }: { label: string; value: string; fits(text: string): boolean; onTake(text: string): void }) {
  return (
    <label className="flex flex-col gap-1">
      <span className="font-bold">{label}</span>
      <TypedField className="input w-full" {...field} />
    </label>
  );
}
