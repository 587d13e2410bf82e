import { format } from "date-fns";
import { useState } from "react";
import type { ListedSession } from "../../api/wire.ts";
import { outcomeWords } from "../../core/practice/outcomes.ts";
import { playedIn } from "../../core/practice/progress.ts";
import { SureButton } from "../parts/SureButton.tsx";
import { TypedField } from "../parts/TypedField.tsx";
import { titleOf } from "../parts/title-of.ts";
import { useNoteSessionMutation, useRemoveSessionMutation } from "../store/api.ts";

const AT_FIRST = 8;

/** Sessions, the latest first: what came of each drill, what hurt, what was noted. */
export function Sessions({ sessions }: { sessions: readonly ListedSession[] }) {
  const [many, setMany] = useState(AT_FIRST);
  return (
    <section aria-label="Sessions">
      <h2 className="mb-2 text-xl font-bold">Sessions</h2>
      <ul className="divide-y divide-base-300">
        {sessions.slice(0, many).map((session) => (
          <SessionRow key={session.id} session={session} />
        ))}
      </ul>
      {sessions.length > many && (
        <button type="button" className="btn btn-sm mt-2" onClick={() => setMany(many + 3 * AT_FIRST)}>
          Earlier ones ({sessions.length - many})
        </button>
      )}
    </section>
  );
}

function SessionRow({ session }: { session: ListedSession }) {
  const { id, startedAt, outcomes, takes, discomforts, note } = session;
  const [setNote] = useNoteSessionMutation();
  const [remove] = useRemoveSessionMutation();
  const minutes = Math.round(playedIn(session) / 60);
  const tried = outcomes.filter(({ tries }) => tries > 0);
  return (
    <li className="py-3">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <b className="text-lg">{titleOf(session)}</b>
        <span className="quiet mr-auto">
          {format(startedAt, "EEEE d MMMM, HH:mm")} · {minutes} min
        </span>
        <SureButton label={`Delete the session of ${format(startedAt, "d MMMM, HH:mm")}`} sure="Yes, delete this session" onSure={() => void remove(id)} />
      </div>
      {discomforts.length > 0 && (
        <p>
          <b>It hurt:</b> {discomforts.map(({ where }) => where ?? "not said where").join(", ")}.
        </p>
      )}
      {tried.length === 0 && takes.length === 0 && <p className="quiet">Nothing was tried.</p>}
      {takes.length > 0 && (
        <ul>
          {takes.map((take) => (
            <li key={take.id}>
              Take at {format(take.at, "HH:mm")}: <span className="quiet">{take.says}</span>
            </li>
          ))}
        </ul>
      )}
      {tried.length > 0 && (
        <ul className="sm:columns-2">
          {tried.map((outcome) => (
            <li key={outcome.drill.id} className="break-inside-avoid">
              {outcome.drill.title}: <span className="quiet">{outcomeWords(outcome)}</span>
            </li>
          ))}
        </ul>
      )}
      <TypedField
        className="input input-ghost input-sm -ml-2 w-full text-base"
        aria-label={`Note on the session of ${format(startedAt, "d MMMM, HH:mm")}`}
        placeholder="note"
        value={note}
        maxLength={4000}
        fits={() => true}
        onTake={(typed) => void setNote({ id, note: typed })}
      />
    </li>
  );
}
