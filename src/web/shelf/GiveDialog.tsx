import { format } from "date-fns";
import { useEffect, useState } from "react";
import { useDispatch } from "react-redux";
import { LINK_DAYS, type ListedPassage, type Teachings } from "../../api/wire.ts";
import type { DrillPlan } from "../../core/drills/types.ts";
import { useJob } from "../jobs/use-job.ts";
import { CopyAddress } from "../parts/CopyAddress.tsx";
import { Dialog } from "../parts/Dialog.tsx";
import { Select } from "../parts/Select.tsx";
import { Trouble } from "../parts/Trouble.tsx";
import { api, troubleOf, useGiveMutation, useLinksQuery, useMakeLinkMutation, useTeachingQuery, useWithdrawLinkMutation } from "../store/api.ts";
import { notify } from "../store/notices-slice.ts";
import type { Dispatch } from "../store/root.ts";

/** Gives a passage to students, or makes an address under which anybody can read it. */
export function GiveDialog({ passage, onClose }: { passage: ListedPassage; onClose(): void }) {
  const { data, error } = useTeachingQuery();
  return (
    <Dialog title={`Give ${passage.title}`} onClose={onClose}>
      {error !== undefined && data === undefined && <Trouble {...troubleOf(error)} />}
      {data && data.students.length > 0 && <ToStudents passage={passage} students={data.students} onGiven={onClose} />}
      <ByLink passage={passage} />
    </Dialog>
  );
}

/** So long a session is in which every drill has its turn, in minutes. */
const ALL_DRILLS = 240;

function ToStudents({ passage, students, onGiven }: { passage: ListedPassage; students: Teachings["students"]; onGiven(): void }) {
  const [give, { error, isLoading }] = useGiveMutation();
  const [chosen, setChosen] = useState<readonly string[]>(students.length === 1 ? [students[0]!.id] : []);
  const [drills, setDrills] = useState<readonly string[]>([]);
  const [note, setNote] = useState("");
  const { known, failed } = useDrills(passage.id);
  const dispatch = useDispatch<Dispatch>();
  const send = async () => {
    const asked = (known ?? []).filter(({ id }) => drills.includes(id));
    const { data } = await give({ passage: passage.id, students: [...chosen], note: note.trim(), drills: asked });
    if (!data) return;
    dispatch(notify({ says: `${passage.title}: ${givenWords(data)}.` }));
    onGiven();
  };
  return (
    <form
      aria-label="To students"
      className="mb-6 flex flex-col gap-4 border-b border-base-300 pb-6"
      onSubmit={(event) => {
        event.preventDefault();
        void send();
      }}
    >
      <p>
        Each gets a copy of their own, with its treatments. Whoever has it already is offered this version and takes it or leaves it; what they changed is kept.
      </p>
      <Choices legend="To" options={students.map(({ id, name }) => ({ id, says: name }))} chosen={chosen} onChoose={setChosen} isFirst />
      <label className="flex flex-col gap-1">
        <span className="font-bold">Your words with it</span>
        <textarea className="textarea w-full text-base" rows={2} maxLength={1000} value={note} onChange={(event) => setNote(event.target.value)} />
      </label>
      {failed && <Trouble title="The drills could not be made" says={failed} />}
      {!known && !failed && <p className="quiet">Making drills out of the plan …</p>}
      {known && known.length > 0 && (
        <Choices
          legend="Drills that come first in their sessions"
          options={known.map(({ id, title }) => ({ id, says: title }))}
          chosen={drills}
          onChoose={setDrills}
        />
      )}
      {error !== undefined && <Trouble {...troubleOf(error)} />}
      <button type="submit" className="btn btn-primary self-start" disabled={isLoading || chosen.length === 0}>
        {isLoading ? "Giving …" : "Give"}
      </button>
    </form>
  );
}

function givenWords({ copies, offers, same }: { copies: number; offers: number; same: number }): string {
  const parts = [
    copies > 0 && `${copies} ${copies === 1 ? "has" : "have"} it now`,
    offers > 0 && `${offers} ${offers === 1 ? "is" : "are"} offered this version`,
    same > 0 && `${same} had it already`,
  ];
  return parts.filter(Boolean).join(", ");
}

function Choices(props: {
  legend: string;
  options: readonly { id: string; says: string }[];
  chosen: readonly string[];
  onChoose(ids: readonly string[]): void;
  isFirst?: boolean;
}) {
  const { legend, options, chosen, onChoose, isFirst } = props;
  return (
    <fieldset>
      <legend className="font-bold">{legend}</legend>
      <ul className="max-h-44 overflow-auto">
        {options.map(({ id, says }, i) => (
          <li key={id}>
            <label className="flex items-center gap-2 py-1">
              <input
                type="checkbox"
                className="checkbox checkbox-sm"
                checked={chosen.includes(id)}
                {...(isFirst && i === 0 ? { "data-first": true } : {})}
                onChange={() => onChoose(chosen.includes(id) ? chosen.filter((other) => other !== id) : [...chosen, id])}
              />
              {says}
            </label>
          </li>
        ))}
      </ul>
    </fieldset>
  );
}

/** The drills of a passage of the library, but for the whole, which is in every session; null until they are made. */
function useDrills(id: string): { known: { id: string; title: string }[] | null; failed: string | null } {
  const dispatch = useDispatch<Dispatch>();
  const { failed, run } = useJob();
  const [known, setKnown] = useState<{ id: string; title: string }[] | null>(null);
  const [away, setAway] = useState<string | null>(null);
  useEffect(() => {
    void dispatch(api.endpoints.passage.initiate(id, { forceRefetch: true, subscribe: false })).then(({ data, error }) => {
      if (!data) return setAway(troubleOf(error).title);
      void run<DrillPlan>(
        (jobs) => jobs.drills(data.passage, [], ALL_DRILLS, {}) as Promise<DrillPlan>,
        ({ drills }) => setKnown(drills.filter(({ kind }) => kind !== "whole" && kind !== "once").map((drill) => ({ id: drill.id, title: drill.title }))),
      );
    });
  }, [id, dispatch, run]);
  return { known, failed: away ?? failed };
}

const DAYS = LINK_DAYS.map((days) => ({ value: String(days), says: days === 7 ? "a week" : `${days} days` }));

function ByLink({ passage }: { passage: ListedPassage }) {
  const { data } = useLinksQuery();
  const [make, made] = useMakeLinkMutation();
  const [withdraw] = useWithdrawLinkMutation();
  const [days, setDays] = useState(DAYS[0]!.value);
  const own = data?.filter((link) => link.passage === passage.id) ?? [];
  return (
    <section aria-label="By a link">
      <h3 className="text-lg font-bold">A link to read it</h3>
      <p className="mb-2">Whoever has the address sees this passage as it then is, with its plan, and hears it; without an account, and without changing it.</p>
      <div className="flex flex-wrap items-center gap-2">
        <span>It holds for</span>
        <Select className="select w-auto" label="How long the link holds" value={days} options={DAYS} onChoose={setDays} />
        <button
          type="button"
          className="btn"
          disabled={made.isLoading}
          onClick={() => void make({ passage: passage.id, days: Number(days) as (typeof LINK_DAYS)[number] })}
        >
          Make a link
        </button>
      </div>
      {made.error !== undefined && <Trouble {...troubleOf(made.error)} />}
      {made.data && <CopyAddress address={`${location.origin}/shared#${made.data.secret}`} says="Send this address; it is shown this once:" />}
      <ul className="mt-2 divide-y divide-base-300">
        {own.map(({ id, expiresAt }) => (
          <li key={id} className="flex items-center gap-3 py-2">
            <span className="mr-auto">A link until {format(expiresAt, "d MMMM")}</span>
            <button
              type="button"
              className="btn btn-sm btn-ghost"
              onClick={() => void withdraw(id)}
              aria-label={`Withdraw the link until ${format(expiresAt, "d MMMM")}`}
            >
              Withdraw
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
