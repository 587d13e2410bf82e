import { formatDistanceToNow, startOfDay, subDays } from "date-fns";
import { Printer } from "lucide-react";
import { useEffect, useMemo, useState } from "react";
import { Link } from "react-router";
import type { StudentReport, Teachings } from "../../api/wire.ts";
import { Select } from "../parts/Select.tsx";
import { SureButton } from "../parts/SureButton.tsx";
import { Trouble } from "../parts/Trouble.tsx";
import { titleOf } from "../parts/title-of.ts";
import { Waiting } from "../parts/Waiting.tsx";
import { troubleOf, useLetGoMutation, useReportQuery, useTeachingQuery } from "../store/api.ts";

const PERIODS = [
  { value: "7", says: "the last 7 days" },
  { value: "28", says: "the last 4 weeks" },
  { value: "91", says: "the last 3 months" },
] as const;

/** Who practised what, and what is hardest, student by student; to be read before a lesson, or printed for it. */
export function Students() {
  const { data, error, refetch } = useTeachingQuery();
  const [days, setDays] = useState<string>(PERIODS[0].value);
  useEffect(() => {
    document.title = "Students · Rest Hand";
  }, []);
  const since = useMemo(() => subDays(startOfDay(new Date()), Number(days) - 1).toISOString(), [days]);
  return (
    <div className="mx-auto max-w-5xl px-4 py-4 sm:px-6 sm:py-6 print:max-w-none print:p-0 print:text-black">
      <div className="mb-6 flex flex-wrap items-end gap-3">
        <h1 className="text-3xl font-bold">Students</h1>
        <Link to="/" className="btn btn-ghost mr-auto print:hidden">
          Shelf
        </Link>
        <span className="hidden print:inline">{PERIODS.find(({ value }) => value === days)!.says}</span>
        {data && data.students.length > 0 && (
          <span className="flex items-center gap-2 print:hidden">
            <Select className="select w-auto" label="Since when" value={days} options={PERIODS} onChoose={setDays} />
            <button type="button" className="btn" onClick={() => print()}>
              <Printer size={18} aria-hidden /> Print
            </button>
          </span>
        )}
      </div>
      {error !== undefined && data === undefined && (
        <Trouble {...troubleOf(error)}>
          <button type="button" className="btn btn-sm mt-2" onClick={refetch}>
            Try again
          </button>
        </Trouble>
      )}
      {!data && error === undefined && <Waiting says="Fetching your students" />}
      {data?.students.length === 0 && (
        <div className="mt-16 max-w-2xl text-xl">
          <p className="mb-3 font-bold">You have no students here.</p>
          <p>
            In{" "}
            <Link className="link" to="/setup">
              Setup
            </Link>
            , under Account, invite one as your student; somebody who has an account takes the same address.
          </p>
        </div>
      )}
      <div className="flex flex-col gap-10">
        {data?.students.map((student) => (
          <Student key={student.id} student={student} since={since} />
        ))}
      </div>
    </div>
  );
}

const ZONE = Intl.DateTimeFormat().resolvedOptions().timeZone;

function Student({ student: { id, name, shows }, since }: { student: Teachings["students"][number]; since: string }) {
  const { data, error } = useReportQuery({ student: id, since, zone: ZONE }, { refetchOnMountOrArgChange: true, skip: !shows });
  const [letGo] = useLetGoMutation();
  return (
    <section aria-label={name} className="break-inside-avoid">
      <div className="flex flex-wrap items-center gap-3 border-b border-base-300 pb-1 print:border-black">
        <h2 className="text-2xl font-bold">{name}</h2>
        {data?.report && <span className="quiet">{sumWords(data.report)}</span>}
        <span className="ml-auto print:hidden">
          <SureButton says="Let go" label={`Let ${name} go`} sure={`Yes, ${name} is no student of mine any more`} onSure={() => void letGo(id)} />
        </span>
      </div>
      {!shows && <p className="mt-2">{name} does not show what is practised. Whether they do is theirs to choose, in their Setup.</p>}
      {error !== undefined && data === undefined && <Trouble {...troubleOf(error)} />}
      {shows && !data && error === undefined && <Waiting says={`Adding up what ${name} practised`} />}
      {data?.report && <Report report={data.report} />}
    </section>
  );
}

type Report = NonNullable<StudentReport["report"]>;

function sumWords({ seconds, days }: Report): string {
  return seconds === 0 ? "nothing was practised" : `${minutes(seconds)} on ${days} day${days === 1 ? "" : "s"}`;
}

function minutes(seconds: number): string {
  return seconds < 60 ? "less than a minute" : `${Math.round(seconds / 60)} min`;
}

function Report({ report: { subjects, hardest } }: { report: Report }) {
  if (subjects.length === 0) return null;
  return (
    <>
      <table className="mt-2 w-full text-left tabular-nums max-lg:block print:table">
        <thead className="max-lg:hidden print:table-header-group">
          <tr className="quiet">
            {["Practised", "Time", "Tries", "As a whole", "Takes", "Last"].map((head, i) => (
              <th key={head} scope="col" className={`py-1 pr-4 font-normal whitespace-nowrap ${i === 0 ? "w-full" : ""}`}>
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody className="max-lg:block print:table-row-group">
          {subjects.map((subject) => (
            <tr
              key={`${subject.passage} ${subject.figure} ${subject.title}`}
              className="border-t border-base-300 py-1 align-top max-lg:flex max-lg:first:border-t-0 max-lg:flex-wrap max-lg:gap-x-4 print:table-row print:border-black"
            >
              <th scope="row" className="py-1 pr-4 max-lg:w-full max-lg:py-0">
                {titleOf(subject)}
              </th>
              {cellsOf(subject).map((says, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: cells have no other name
                <td key={i} className="whitespace-nowrap max-lg:empty:hidden lg:py-1 lg:pr-4 print:py-1 print:pr-4">
                  {says}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {hardest.length > 0 && (
        <div className="mt-3">
          <h3 className="font-bold">Hardest now</h3>
          <ul>
            {hardest.map(({ of, title, tries, clean, reached, goal }) => (
              <li key={`${of} ${title}`}>
                {title} <span className="quiet">in {of}:</span> {clean} of {tries} clean
                {reached === null ? ", at no tempo yet" : `, up to ${reached} of ${goal}`}
              </li>
            ))}
          </ul>
        </div>
      )}
    </>
  );
}

/** What came of it, cell by cell, each with its own words: on a narrow screen there are no heads over them. */
function cellsOf({ seconds, tries, clean, whole, takes, last }: Report["subjects"][number]): (string | null)[] {
  return [
    minutes(seconds),
    tries > 0 ? `${clean} of ${tries} clean` : null,
    whole && wholeWords(whole),
    takes && takeWords(takes),
    formatDistanceToNow(last, { addSuffix: true }),
  ];
}

function wholeWords({ reached, goal }: NonNullable<Report["subjects"][number]["whole"]>): string {
  return reached === null ? `not clean yet, goal ${goal}` : `clean up to ${reached} of ${goal}`;
}

function takeWords({ many, first, last }: NonNullable<Report["subjects"][number]["takes"]>): string {
  return many === 1 ? `1 take, ${last} wrong` : `${many} takes, ${first} wrong at first, ${last} now`;
}
