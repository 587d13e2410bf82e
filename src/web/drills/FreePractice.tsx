import { useEffect, useMemo, useState } from "react";
import { Link } from "react-router";
import type { SetupItem } from "../../api/wire.ts";
import { FREE_FIGURES, freePassage } from "../../core/drills/free.ts";
import { MoveTimer } from "../parts/MoveTimer.tsx";
import { Select } from "../parts/Select.tsx";
import { Trouble } from "../parts/Trouble.tsx";
import { Waiting } from "../parts/Waiting.tsx";
import { troubleOf, useChangeSetupMutation, useInstrumentsQuery, usePlayersQuery } from "../store/api.ts";
import { Drills } from "./Drills.tsx";

/** Practice without a passage: one move of a hand at a time, on an instrument and for a player of the Setup. */
export function FreePractice() {
  const { data: instruments, error: noInstruments, refetch: fetchInstruments } = useInstrumentsQuery();
  const { data: players, error: noPlayers, refetch: fetchPlayers } = usePlayersQuery();
  const [figureId, setFigure] = useState(FREE_FIGURES[0]!.id);
  const [instrumentId, setInstrument] = useState("");
  const [playerId, setPlayer] = useState("");
  useEffect(() => {
    document.title = "Practise a move · Rest Hand";
  }, []);
  const instrument = instruments?.find(({ id }) => id === instrumentId) ?? instruments?.find(({ isDefault }) => isDefault) ?? instruments?.[0];
  const player = players?.find(({ id }) => id === playerId) ?? players?.find(({ isDefault }) => isDefault) ?? players?.[0];
  const figure = FREE_FIGURES.find(({ id }) => id === figureId)!;
  const passage = useMemo(() => (instrument && player ? freePassage(figure, instrument.value, player.value) : null), [figure, instrument, player]);
  const error = (!instruments && noInstruments) || (!players && noPlayers);
  if (error)
    return (
      <div className="mx-auto mt-16 max-w-2xl text-lg">
        <Trouble {...troubleOf(error)}>
          <button
            type="button"
            className="btn btn-sm mt-2"
            onClick={() => {
              void fetchInstruments();
              void fetchPlayers();
            }}
          >
            Try again
          </button>
        </Trouble>
      </div>
    );
  if (!passage || !instruments || !players) return <Waiting says="Opening the Setup" />;
  const named = (items: readonly { id: string; name: string }[]) => items.map(({ id, name }) => ({ value: id, says: name }));
  return (
    <div className="flex h-full flex-col">
      <div className="mx-auto w-full max-w-5xl px-4 pt-4 sm:px-6 print:hidden">
        <Link to="/" className="btn btn-ghost btn-sm">
          Shelf
        </Link>
        <h1 className="mt-2 text-2xl font-bold">Practise a move</h1>
        <fieldset className="mt-3 flex flex-wrap gap-2">
          <legend className="sr-only">Move</legend>
          {FREE_FIGURES.map(({ id, title }) => (
            <label key={id} className={`btn btn-sm ${id === figureId ? "btn-primary" : ""}`}>
              <input type="radio" className="sr-only" name="move" checked={id === figureId} onChange={() => setFigure(id)} />
              {title}
            </label>
          ))}
        </fieldset>
        <p className="mt-2 text-lg">{figure.says}</p>
        <div className="mt-2 flex flex-wrap gap-4">
          <label className="flex items-center gap-2">
            on
            <Select className="select select-sm w-auto" label="Instrument" value={instrument!.id} options={named(instruments)} onChoose={setInstrument} />
          </label>
          <label className="flex items-center gap-2">
            by
            <Select className="select select-sm w-auto" label="Player" value={player!.id} options={named(players)} onChoose={setPlayer} />
          </label>
        </div>
        <Measuring player={player!} />
      </div>
      <div className="min-h-0 flex-1">
        <Drills key={figureId} passage={passage} figure={figureId} />
      </div>
    </div>
  );
}

/** How long this player's moves take, measured and set. */
function Measuring({ player: { id, name, value, version } }: { player: SetupItem<"players"> }) {
  const [change, { error, data }] = useChangeSetupMutation();
  return (
    <details className="mt-3">
      <summary className="cursor-pointer font-bold">How fast are these hands? Ten seconds for each move</summary>
      <div className="mt-2">
        <MoveTimer
          player={value}
          onTake={(times) => void change({ kind: "players", id, name, value: { ...value, moveMs: { ...value.moveMs, ...times } }, basedOn: version })}
        />
        {error && <Trouble {...troubleOf(error)} />}
        <p role="status">
          {data && !error ? `${name} plays with these times now, in ${data.changedPassages} passage${data.changedPassages === 1 ? "" : "s"} too.` : ""}
        </p>
      </div>
    </details>
  );
}
