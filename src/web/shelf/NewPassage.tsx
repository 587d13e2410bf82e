import { useState } from "react";
import { useNavigate } from "react-router";
import { isTempo, TEMPO } from "../../core/music/tempo.ts";
import { INSTRUMENT_PRESETS } from "../../core/passage/presets.ts";
import { PASSAGE_VERSION } from "../../core/passage/schema.ts";
import { Dialog } from "../parts/Dialog.tsx";
import { Trouble } from "../parts/Trouble.tsx";
import { troubleOf, useCreateMutation, useInstrumentsQuery, usePlayersQuery } from "../store/api.ts";

const METERS: readonly [number, 2 | 4 | 8][] = [
  [4, 4],
  [3, 4],
  [5, 4],
  [6, 8],
  [12, 8],
];

/** A new, empty passage: title, instrument, meter, tempo. */
export function NewPassage({ onClose }: { onClose(): void }) {
  const [create, { error, isLoading }] = useCreateMutation();
  const { data: own = [] } = useInstrumentsQuery();
  const { data: players = [] } = usePlayersQuery();
  const [chosen, setChosen] = useState<string | null>(null);
  const usual = own.find((item) => item.isDefault)?.id ?? "preset-0";
  const instrumentId = chosen ?? usual;
  const [title, setTitle] = useState("");
  const [meter, setMeter] = useState(0);
  const [tempo, setTempo] = useState("90");
  const navigate = useNavigate();
  const tempoOk = isTempo(Number(tempo));

  const submit = async () => {
    const bars = Array.from({ length: 4 }, () => ({ meter: METERS[meter]!, strokes: [] }));
    const made = await create({
      format: "rest-hand-passage",
      version: PASSAGE_VERSION,
      title: title.trim() || "Untitled passage",
      instrument: own.find((item) => item.id === instrumentId)?.value ?? INSTRUMENT_PRESETS[Number(instrumentId.slice("preset-".length))]!.instrument,
      player: players.find((item) => item.isDefault)?.value ?? {},
      tempo: Number(tempo),
      bars,
    });
    if (made.data) navigate(`/bench/${made.data.id}`);
  };

  return (
    <Dialog title="New passage" onClose={onClose}>
      <form
        className="flex flex-col gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          if (tempoOk) void submit();
        }}
      >
        <label className="flex flex-col gap-1">
          Title
          <input
            className="input w-full"
            value={title}
            maxLength={200}
            data-first
            onChange={(event) => setTitle(event.target.value)}
            placeholder="Untitled passage"
          />
        </label>
        <label className="flex flex-col gap-1">
          Instrument
          <select className="select w-full" value={instrumentId} onChange={(event) => setChosen(event.target.value)}>
            {own.length > 0 && (
              <optgroup label="Yours">
                {own.map((item) => (
                  <option key={item.id} value={item.id}>
                    {item.name}
                  </option>
                ))}
              </optgroup>
            )}
            <optgroup label="Ordinary ones">
              {INSTRUMENT_PRESETS.map((p, i) => (
                <option key={p.name} value={`preset-${i}`}>
                  {p.name} ({[...p.instrument.tuning].reverse().join(" ")})
                </option>
              ))}
            </optgroup>
          </select>
        </label>
        <div className="flex gap-4">
          <label className="flex flex-1 flex-col gap-1">
            Meter
            <select className="select w-full" value={meter} onChange={(event) => setMeter(Number(event.target.value))}>
              {METERS.map((m, i) => (
                <option key={m.join()} value={i}>
                  {m[0]} / {m[1]}
                </option>
              ))}
            </select>
          </label>
          <label className="flex flex-1 flex-col gap-1">
            Tempo, quarters a minute
            <input
              className="input w-full"
              inputMode="numeric"
              value={tempo}
              onChange={(event) => setTempo(event.target.value)}
              aria-invalid={!tempoOk}
              aria-describedby="tempo-range"
            />
            <span id="tempo-range" className={tempoOk ? "quiet text-sm" : "text-sm font-bold"}>
              {TEMPO.lowest} to {TEMPO.highest}
            </span>
          </label>
        </div>
        {error && <Trouble {...troubleOf(error)} />}
        <button type="submit" className="btn btn-primary self-start" disabled={isLoading || !tempoOk}>
          {isLoading ? "Making it …" : "Start"}
        </button>
      </form>
    </Dialog>
  );
}
