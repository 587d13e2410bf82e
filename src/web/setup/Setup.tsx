import { Plus } from "lucide-react";
import { useEffect, useState } from "react";
import { useDispatch } from "react-redux";
import type { SetupItem, SetupKind } from "../../api/wire.ts";
import { SCHOOL_KEYS, schoolOf } from "../../core/hands/schools.ts";
import { INSTRUMENT_PRESETS } from "../../core/passage/presets.ts";
import type { Instrument, Player } from "../../core/passage/schema.ts";
import { Trouble } from "../parts/Trouble.tsx";
import { Waiting } from "../parts/Waiting.tsx";
import {
  troubleOf,
  useChangeSetupMutation,
  useCreateSetupMutation,
  useInstrumentsQuery,
  useMeQuery,
  usePlayersQuery,
  useRemoveSetupMutation,
  useSetDefaultMutation,
} from "../store/api.ts";
import { notify } from "../store/notices-slice.ts";
import type { Dispatch } from "../store/root.ts";
import { Account } from "./Account.tsx";
import { Appearance } from "./Appearance.tsx";
import { InstrumentForm } from "./InstrumentForm.tsx";
import { PlayerForm } from "./PlayerForm.tsx";

type Draft = { id: string | null; version: string; name: string } & ({ kind: "instruments"; value: Instrument } | { kind: "players"; value: Player });

const WORDS = {
  instruments: { title: "Instruments", one: "instrument", fresh: "New instrument" },
  players: { title: "Players", one: "player", fresh: "New player" },
} as const;

/** Instruments, ways to play, and how things look. */
export function Setup() {
  const instruments = useInstrumentsQuery();
  const players = usePlayersQuery();
  const me = useMeQuery();
  const [draft, setDraft] = useState<Draft | null>(null);
  useEffect(() => {
    document.title = "Setup · Rest Hand";
  }, []);
  const isAway = [instruments, players].every(({ data, error }) => data === undefined && error !== undefined && troubleOf(error).status === null);
  return (
    <div className="mx-auto max-w-5xl px-4 py-4 sm:px-6 sm:py-6">
      <h1 className="mb-6 text-3xl font-bold">Setup</h1>
      {isAway ? (
        <div className="flex flex-col gap-10">
          <Trouble
            title="The server cannot be reached"
            says="Instruments and players are kept there. Check that it is still running. How things look is kept here and can be changed."
          >
            <button
              type="button"
              className="btn btn-sm mt-2"
              onClick={() => {
                void instruments.refetch();
                void players.refetch();
              }}
            >
              Try again
            </button>
          </Trouble>
          <Appearance />
        </div>
      ) : draft ? (
        <Editor key={draft.id ?? "new"} draft={draft} onClose={() => setDraft(null)} />
      ) : (
        <div className="flex flex-col gap-10">
          <Items
            kind="players"
            query={players}
            describe={(player) => describePlayer(player)}
            onEdit={(item) => setDraft({ kind: "players", id: item.id, version: item.version, name: item.name, value: item.value })}
            onNew={() => setDraft({ kind: "players", id: null, version: "", name: "", value: {} })}
          />
          <Items
            kind="instruments"
            query={instruments}
            describe={({ tuning, capo, scaleLengthMm }) => `${[...tuning].reverse().join(" ")}${capo > 0 ? `, capo ${capo}` : ""}, ${scaleLengthMm} mm`}
            onEdit={(item) => setDraft({ kind: "instruments", id: item.id, version: item.version, name: item.name, value: item.value })}
            onNew={() => setDraft({ kind: "instruments", id: null, version: "", name: "", value: INSTRUMENT_PRESETS[0]!.instrument })}
          />
          <Appearance />
          {me.data?.person && <Account person={me.data.person} />}
        </div>
      )}
    </div>
  );
}

function describePlayer(player: Player): string {
  const chosen = SCHOOL_KEYS.flatMap((key) =>
    player[key] === undefined ? [] : [`${schoolOf(key).short}: ${schoolOf(key).options.find(({ value }) => value === player[key])!.says}`],
  );
  return chosen.length > 0 ? chosen.join("; ") : "the usual way with everything";
}

function Items<K extends SetupKind>({
  kind,
  query,
  describe,
  onEdit,
  onNew,
}: {
  kind: K;
  query: { data?: SetupItem<K>[] | undefined; error?: unknown; isLoading: boolean; refetch(): unknown };
  describe(value: SetupItem<K>["value"]): string;
  onEdit(item: SetupItem<K>): void;
  onNew(): void;
}) {
  const [setDefault] = useSetDefaultMutation();
  const [remove] = useRemoveSetupMutation();
  const dispatch = useDispatch<Dispatch>();
  const words = WORDS[kind];
  const announce = async (done: Promise<{ error?: unknown }>) => {
    const { error } = await done;
    if (error) {
      const { title, says } = troubleOf(error);
      dispatch(notify({ says: says ? `${title}: ${says}` : title }));
    }
  };
  return (
    <section aria-label={words.title}>
      <div className="mb-2 flex items-center gap-3">
        <h2 className="mr-auto text-2xl font-bold">{words.title}</h2>
        <button type="button" className="btn btn-sm" onClick={onNew}>
          <Plus size={16} aria-hidden /> {words.fresh}
        </button>
      </div>
      {query.isLoading && <Waiting says={`Fetching your ${kind}`} />}
      {query.error !== undefined && query.data === undefined && (
        <Trouble {...troubleOf(query.error)}>
          <button type="button" className="btn btn-sm mt-2" onClick={() => query.refetch()}>
            Try again
          </button>
        </Trouble>
      )}
      {query.data?.length === 0 && <p className="quiet">None yet. New passages take an ordinary one.</p>}
      <ul className="divide-y divide-base-300">
        {query.data?.map((item) => (
          <li key={item.id} className="flex gap-x-4 gap-y-2 py-3 max-sm:flex-col sm:items-center">
            <div className="mr-auto min-w-0">
              <p className="text-lg font-bold">
                {item.name}
                {item.isDefault && <span className="badge badge-outline ml-2">for new passages</span>}
              </p>
              <p className="quiet">{describe(item.value)}</p>
              <p className="quiet text-sm">{item.passages === 0 ? "not used" : `${item.passages} passage${item.passages === 1 ? "" : "s"}`}</p>
            </div>
            <div className="flex shrink-0 gap-2">
              <button type="button" className="btn btn-sm" onClick={() => onEdit(item)} aria-label={`Change ${item.name}`}>
                Change
              </button>
              {!item.isDefault && (
                <button
                  type="button"
                  className="btn btn-sm btn-ghost"
                  onClick={() => void announce(setDefault({ kind, id: item.id }))}
                  aria-label={`Take ${item.name} for new passages`}
                >
                  for new passages
                </button>
              )}
              {item.passages === 0 && (
                <button
                  type="button"
                  className="btn btn-sm btn-ghost"
                  onClick={() => void announce(remove({ kind, id: item.id, basedOn: item.version }))}
                  aria-label={`Remove ${item.name}`}
                >
                  Remove
                </button>
              )}
            </div>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Changes one instrument or player; nothing is kept before Save. */
function Editor({ draft, onClose }: { draft: Draft; onClose(): void }) {
  const [name, setName] = useState(draft.name);
  const [value, setValue] = useState(draft.value);
  const [create, created] = useCreateSetupMutation();
  const [change, changed] = useChangeSetupMutation();
  const dispatch = useDispatch<Dispatch>();
  const words = WORDS[draft.kind];
  const error = created.error ?? changed.error;
  const nameOk = name.trim() !== "";

  const save = async () => {
    const body = { kind: draft.kind, name: name.trim(), value };
    const done = draft.id === null ? await create(body) : await change({ ...body, id: draft.id, basedOn: draft.version });
    if (done.error) return;
    const count = (done.data as { changedPassages?: number }).changedPassages ?? 0;
    dispatch(notify({ says: count > 0 ? `Saved. ${count} passage${count === 1 ? " is" : "s are"} planned anew with it.` : "Saved." }));
    onClose();
  };

  return (
    <form
      className="flex flex-col gap-6"
      onSubmit={(event) => {
        event.preventDefault();
        if (nameOk) void save();
      }}
    >
      <h2 className="text-2xl font-bold">{draft.id === null ? words.fresh : `Change this ${words.one}`}</h2>
      <label className="flex flex-col gap-1">
        <span className="font-bold">Name</span>
        <input
          className="input w-full max-w-md"
          value={name}
          maxLength={80}
          // biome-ignore lint/a11y/noAutofocus: the form was just asked for
          autoFocus
          aria-invalid={!nameOk}
          placeholder={draft.kind === "players" ? "such as: me, with a pick" : "such as: the black bass"}
          onChange={(event) => setName(event.target.value)}
        />
      </label>
      {draft.kind === "players" ? (
        <PlayerForm player={value as Player} onChange={setValue} />
      ) : (
        <InstrumentForm instrument={value as Instrument} onChange={setValue} />
      )}
      {error !== undefined && <Trouble {...troubleOf(error)} />}
      <div className="sticky bottom-0 flex gap-3 border-t border-base-300 bg-base-100 py-3">
        <button type="submit" className="btn btn-primary" disabled={!nameOk || created.isLoading || changed.isLoading}>
          {created.isLoading || changed.isLoading ? "Saving …" : "Save"}
        </button>
        <button type="button" className="btn btn-ghost" onClick={onClose}>
          Leave it as it was
        </button>
      </div>
    </form>
  );
}
