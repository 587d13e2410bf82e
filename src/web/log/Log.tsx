import { Download } from "lucide-react";
import { useEffect, useMemo, useState } from "react";
import { Link } from "react-router";
import type { ListedSession } from "../../api/wire.ts";
import { minutesByDay, progressOf, takesIn } from "../../core/practice/progress.ts";
import { downloadFrom } from "../parts/download.ts";
import { Select } from "../parts/Select.tsx";
import { SureButton } from "../parts/SureButton.tsx";
import { Trouble } from "../parts/Trouble.tsx";
import { titleOf } from "../parts/title-of.ts";
import { Waiting } from "../parts/Waiting.tsx";
import { troubleOf, useRemoveLogMutation, useSessionsQuery, useStandingsQuery } from "../store/api.ts";
import { Due } from "./Due.tsx";
import { KeptRecordings } from "./KeptRecordings.tsx";
import { dayKey, MinutesChart } from "./MinutesChart.tsx";
import { Sessions } from "./Sessions.tsx";
import { TakesChart } from "./TakesChart.tsx";
import { TempoChart } from "./TempoChart.tsx";

/** What was practised, what came of it, and what is due. */
export function Log() {
  const { data: sessions, error: noSessions, refetch } = useSessionsQuery({}, { refetchOnMountOrArgChange: true });
  const { data: standings, error: noStandings, refetch: fetchStandings } = useStandingsQuery(undefined, { refetchOnMountOrArgChange: true });
  useEffect(() => {
    document.title = "Log · Rest Hand";
  }, []);
  const error = (!sessions && noSessions) || (!standings && noStandings);
  const today = useMemo(() => new Date(), []);
  const minutes = useMemo(() => minutesByDay(sessions ?? [], dayKey), [sessions]);
  return (
    <div className="mx-auto max-w-5xl px-4 py-4 sm:px-6 sm:py-6">
      <div className="mb-6 flex flex-wrap items-end gap-3">
        <h1 className="text-3xl font-bold">Log</h1>
        <Link to="/" className="btn btn-ghost mr-auto">
          Shelf
        </Link>
        {sessions && sessions.length > 0 && <Files />}
      </div>
      {error && (
        <Trouble {...troubleOf(error)}>
          <button
            type="button"
            className="btn btn-sm mt-2"
            onClick={() => {
              void refetch();
              void fetchStandings();
            }}
          >
            Try again
          </button>
        </Trouble>
      )}
      {!error && !(sessions && standings) && <Waiting says="Opening the log" />}
      {sessions?.length === 0 && (
        <div className="mt-16 max-w-2xl text-xl">
          <p className="mb-3 font-bold">Nothing was practised yet.</p>
          <p>Open a passage, go to Drills, and start five minutes: what comes of them is kept here, and what is due again is said on its day.</p>
        </div>
      )}
      {sessions && sessions.length > 0 && standings && (
        <div className="flex flex-col gap-10">
          <Due standings={standings} today={today} />
          <section aria-label="Minutes a day">
            <h2 className="mb-1 text-xl font-bold">Minutes a day</h2>
            <MinutesChart minutes={minutes} today={today} />
          </section>
          <Progress sessions={sessions} today={today} />
          <Sore sessions={sessions} />
          <KeptRecordings />
          <Sessions sessions={sessions} />
        </div>
      )}
    </div>
  );
}

/** The log as files, and gone for good after a second press. */
function Files() {
  const [removeAll, { error }] = useRemoveLogMutation();
  return (
    <>
      <button type="button" className="btn btn-sm" onClick={() => downloadFrom("/api/practice/export?format=csv")}>
        <Download size={16} aria-hidden /> Table (CSV)
      </button>
      <button type="button" className="btn btn-sm" onClick={() => downloadFrom("/api/practice/export?format=json")}>
        <Download size={16} aria-hidden /> All of it (JSON)
      </button>
      <SureButton says="Delete all" sure="Yes, delete the whole log" onSure={() => void removeAll()} />
      {error && <Trouble {...troubleOf(error)} />}
    </>
  );
}

const subjectOf = ({ passage, figure, title }: ListedSession) => passage ?? (figure ? `move ${figure}` : `gone ${title}`);
const DAY_MS = 86_400_000;
/** A chart shows so many days at least. */
const LEAST_DAYS = 14;

/** Drill by drill of one passage: the tempo against the goal over days, and how much was clean. */
function Progress({ sessions, today }: { sessions: readonly ListedSession[]; today: Date }) {
  const subjects = useMemo(
    () => [...new Map(sessions.map((session) => [subjectOf(session), titleOf(session)]))].map(([value, says]) => ({ value, says })),
    [sessions],
  );
  const [chosen, setChosen] = useState(subjects[0]!.value);
  const shown = subjects.some(({ value }) => value === chosen) ? chosen : subjects[0]!.value;
  const own = sessions.filter((session) => subjectOf(session) === shown);
  const drills = progressOf(own);
  const takes = takesIn(own);
  const to = today.getTime();
  const from = Math.min(to - LEAST_DAYS * DAY_MS, ...own.map(({ startedAt }) => Date.parse(startedAt)));
  return (
    <section aria-label="Progress">
      <div className="mb-3 flex flex-wrap items-center gap-3">
        <h2 className="text-xl font-bold">Progress of</h2>
        <Select className="select w-auto" label="Passage" value={shown} options={subjects} onChoose={setChosen} />
        <span className="quiet ml-auto">
          dashed: the goal · <span aria-hidden>●</span> all clean · <span aria-hidden>○</span> not all clean
        </span>
      </div>
      {drills.length === 0 && takes.length === 0 && <p>Nothing of it was tried yet.</p>}
      <ul className="grid gap-x-8 gap-y-5 md:grid-cols-2">
        {drills.map((drill) => (
          <li key={drill.id}>
            <p className="flex items-baseline gap-3">
              <b className="mr-auto">{drill.title}</b>
              <span className="quiet whitespace-nowrap tabular-nums">
                {Math.round((100 * drill.clean) / drill.tries)}% of {drill.tries} clean
              </span>
            </p>
            <TempoChart drill={drill} from={from} to={to} />
          </li>
        ))}
      </ul>
      {takes.length > 0 && (
        <div className="mt-6">
          <h3 className="text-lg font-bold">Takes: strings that rang astray</h3>
          <TakesChart takes={takes} />
        </div>
      )}
    </section>
  );
}

/** How many days back pain is counted. */
const SORE_DAYS = 14;

/** What hurt lately, and that it comes back, where it does. */
function Sore({ sessions }: { sessions: readonly ListedSession[] }) {
  const since = Date.now() - SORE_DAYS * DAY_MS;
  const lately = sessions.flatMap(({ discomforts }) => discomforts).filter(({ at }) => Date.parse(at) > since);
  if (lately.length === 0) return null;
  const places = new Map<string, number>();
  for (const { where } of lately) places.set(where ?? "not said where", (places.get(where ?? "not said where") ?? 0) + 1);
  return (
    <section aria-label="What hurt" className="rounded-lg border-2 border-base-content p-4">
      <h2 className="text-xl font-bold">What hurt in the last two weeks</h2>
      <p className="text-lg">
        {[...places].map(([place, many]) => `${place}${many > 1 ? `, ${many} times` : ""}`).join("; ")}.{" "}
        {lately.length > 1
          ? "It comes back: rest for some days, and see a doctor or a physiotherapist who knows musicians."
          : "Rest until it does not any more."}
      </p>
    </section>
  );
}
