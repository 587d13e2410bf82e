import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { EllipsisVertical, Play, Square } from "lucide-react";
import { useCallback, useEffect, useMemo, useState } from "react";
import { useDispatch } from "react-redux";
import { useNavigate, useParams } from "react-router";
import { freshTreatment } from "../../core/edit/treatments.ts";
import type { Conditions, Passage, Treatment } from "../../core/passage/schema.ts";
import { conditionWords } from "../../core/words/conditions.ts";
import { type Difference, differences } from "../../core/writer/differences.ts";
import { treated } from "../../core/writer/treated.ts";
import { TypedField } from "../parts/TypedField.tsx";
import { useWidth } from "../parts/use-width.ts";
import { edit } from "../store/editing.ts";
import { notify } from "../store/notices-slice.ts";
import type { Dispatch } from "../store/root.ts";
import { ConditionsDialog } from "./ConditionsDialog.tsx";
import { FiguresTable } from "./FiguresTable.tsx";
import { Schools } from "./Schools.tsx";
import { CountRow, Strip } from "./Strip.tsx";
import { useAudition } from "./use-audition.ts";
import { useCompare } from "./use-compare.ts";

interface Version {
  treatment: Treatment | null;
  name: string;
  passage: Passage;
  differences: readonly Difference[];
  /** What its conditions are, and what they came to. */
  conditions: readonly string[];
  told: readonly string[];
}

/** How many versions stand side by side at most, what is written among them. */
const MOST = 4;

/** Several ways to play the same notes, side by side: seen, counted and heard from the same place. */
export function Treatments({ passage }: { passage: Passage }) {
  const { id = "" } = useParams();
  const navigate = useNavigate();
  const dispatch = useDispatch<Dispatch>();
  const all = passage.treatments ?? [];
  const [hidden, setHidden] = useState<readonly string[]>([]);
  const [bar, setBar] = useState(0);
  const shown = useMemo(() => (passage.treatments ?? []).filter((t) => !hidden.includes(t.id)).slice(0, MOST - 1), [passage.treatments, hidden]);
  const versions = useMemo(() => {
    const { treatments: _, ...written } = passage;
    const main: Version = { treatment: null, name: "as written", passage: written, differences: [], conditions: [], told: [] };
    return [main, ...shown.map((t): Version => ofTreatment(passage, t))];
  }, [passage, shown]);
  const passages = useMemo(() => versions.map((version) => version.passage), [versions]);
  const last = passage.bars.length - 1;
  const fromBar = Math.min(bar, last);
  const { width, ref } = useWidth();
  /** A telephone shows one bar at a time. */
  const many = width < 560 ? 1 : 2;
  const toBar = Math.min(last, fromBar + many - 1);
  const { plans, levels, failed } = useCompare(passages, fromBar, toBar);
  const audition = useAudition(passages, plans, levels, fromBar);

  // Digits choose what is heard: the place in the music stays.
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.altKey || event.ctrlKey || event.metaKey || (event.target as Element).closest("input, select, textarea, dialog, [role=menu]")) return;
      const index = /^Digit([1-4])$/.exec(event.code)?.[1];
      if (index && Number(index) <= passages.length) audition.hear(Number(index) - 1);
      else if (event.key === "Escape") audition.stop();
      else return;
      event.preventDefault();
    };
    addEventListener("keydown", onKey);
    return () => removeEventListener("keydown", onKey);
  }, [passages.length, audition.hear, audition.stop]);

  const [added, setAdded] = useState<string | null>(null);
  const seen = useCallback((section: HTMLElement | null) => section?.scrollIntoView({ block: "nearest" }), []);
  const [asked, setAsked] = useState<{ treatment: Treatment; isNew: boolean } | null>(null);
  const compare = () => setAsked({ treatment: freshTreatment(all, crypto.randomUUID()), isNew: true });
  const take = ({ treatment, isNew }: { treatment: Treatment; isNew: boolean }, conditions: Conditions) => {
    const { conditions: _, ...rest } = treatment;
    const name = isNew ? nameFor(conditionWords(conditions, passage), all) : treatment.name;
    dispatch(edit({ kind: "set-treatment", treatment: { ...rest, name, ...(Object.keys(conditions).length > 0 ? { conditions } : {}) } }));
    if (!isNew) return;
    // What is new is to be seen: of those shown before it takes the first one's place.
    setHidden([...all.filter((other) => !shown.includes(other) || (shown.length === MOST - 1 && other === shown[0])).map((other) => other.id)]);
    setAdded(treatment.id);
  };
  const dialog = asked && (
    <ConditionsDialog
      passage={passage}
      conditions={asked.treatment.conditions ?? {}}
      title={asked.isNew ? "Compare the same notes" : `${asked.treatment.name}: otherwise than written`}
      onTake={(conditions) => take(asked, conditions)}
      onClose={() => setAsked(null)}
    />
  );
  const add = (from: Treatment | null) => {
    const fresh = freshTreatment(all, crypto.randomUUID());
    dispatch(edit({ kind: "set-treatment", treatment: from ? { ...structuredClone(from), id: fresh.id, name: `${from.name}, another` } : fresh }));
    return fresh.id;
  };
  const promote = (treatment: Treatment) => {
    dispatch(edit({ kind: "promote-treatment", id: treatment.id }));
    dispatch(notify({ says: `${treatment.name} is what is written now. Undo takes it back.` }));
  };

  if (all.length === 0)
    return (
      <div className="mx-auto max-w-2xl p-8 text-lg">
        <h2 className="mb-2 text-2xl font-bold">No treatments yet</h2>
        <p className="mb-4">
          A treatment is another way with the same notes: other strokes and mutes, other voicings, another place on the neck, another instrument or player. See,
          count and hear here what each is worth.
        </p>
        <div className="flex flex-wrap gap-2">
          <button type="button" className="btn btn-primary" onClick={() => navigate(`/writer/${id}?treatment=${add(null)}`)}>
            Other strokes, in the Writer
          </button>
          <button type="button" className="btn" onClick={compare}>
            Other voicings, place, instrument or player
          </button>
        </div>
        <Schools passage={passage} onCompare={(player) => take({ treatment: freshTreatment(all, crypto.randomUUID()), isNew: true }, { player })} />
        {dialog}
      </div>
    );
  return (
    <div className="h-full overflow-auto p-4">
      <div className="mb-2 flex flex-wrap items-center gap-3">
        <button type="button" className="btn btn-sm" disabled={fromBar === 0} onClick={() => setBar(Math.max(0, fromBar - many))}>
          bars before
        </button>
        <b className="tabular-nums">{toBar > fromBar ? `Bars ${fromBar + 1} and ${toBar + 1}` : `Bar ${fromBar + 1}`}</b>
        <button type="button" className="btn btn-sm" disabled={toBar >= last} onClick={() => setBar(fromBar + many)}>
          bars after
        </button>
        <p className="quiet">
          Keys 1 to {versions.length} change what is heard, at the same place and equally loud. Double lines mark strokes, rings mark gestures that are
          otherwise than written.
        </p>
        <span role="status" className="font-semibold" data-testid="audition-state">
          {audition.says}
        </span>
        <span className="ml-auto flex gap-2">
          <button type="button" className="btn btn-sm" disabled={all.length >= 16} onClick={compare}>
            Compare otherwise
          </button>
          <button type="button" className="btn btn-sm" disabled={all.length >= 16} onClick={() => navigate(`/writer/${id}?treatment=${add(null)}`)}>
            New treatment
          </button>
        </span>
      </div>
      {failed && <p role="alert">The comparison failed: {failed}. Change a rule or reload.</p>}
      <div ref={ref}>
        <CountRow passage={passage} fromBar={fromBar} toBar={toBar} width={width} />
        {versions.map((version, i) => (
          <section
            key={version.treatment?.id ?? "main"}
            ref={version.treatment?.id === added ? seen : null}
            aria-label={version.name}
            className="mb-3 border-t border-base-300 pt-1"
          >
            <div className="flex flex-wrap items-center gap-2">
              <button
                type="button"
                className={`btn btn-sm ${audition.heard === i ? "btn-primary" : ""}`}
                aria-pressed={audition.heard === i}
                aria-label={audition.heard === i ? "Stop" : `Hear ${version.name}`}
                onClick={() => (audition.heard === i ? audition.stop() : audition.hear(i))}
              >
                {audition.heard === i ? <Square size={16} aria-hidden /> : <Play size={16} aria-hidden />} {i + 1}
              </button>
              {version.treatment ? <Name treatment={version.treatment} /> : <b className="px-1 text-lg">{version.name}</b>}
              <span className="quiet">{version.treatment && [...version.conditions, differenceWords(version.differences)].join(", ")}</span>
              {version.treatment && (
                <Actions
                  name={version.name}
                  onWrite={() => navigate(`/writer/${id}?treatment=${version.treatment!.id}`)}
                  onConditions={() => setAsked({ treatment: version.treatment!, isNew: false })}
                  onPromote={() => promote(version.treatment!)}
                  onCopy={() => add(version.treatment)}
                  onHide={() => setHidden([...hidden, version.treatment!.id])}
                  onRemove={() => dispatch(edit({ kind: "remove-treatment", id: version.treatment!.id }))}
                />
              )}
            </div>
            {version.told.length > 0 && <p className="px-1 text-sm">{version.told.join(" ")}</p>}
            <Strip
              passage={version.passage}
              plan={plans[i] ?? null}
              against={i > 0 ? (plans[0] ?? null) : null}
              fromBar={fromBar}
              toBar={toBar}
              differences={version.differences}
              heard={audition.heard === i ? audition.place : null}
              width={width}
              label={`${version.name}, bars ${fromBar + 1} to ${toBar + 1}: ${differenceWords(version.differences)}`}
            />
          </section>
        ))}
      </div>
      {all.length > shown.length && (
        <p className="mb-3 flex flex-wrap items-center gap-2">
          Not shown:
          {all
            .filter((t) => !shown.includes(t))
            .map((t) => (
              <button
                key={t.id}
                type="button"
                className="btn btn-xs"
                onClick={() => setHidden([...all.filter((o) => o.id !== t.id && (hidden.includes(o.id) || o === shown.at(-1))).map((o) => o.id)])}
              >
                show {t.name}
              </button>
            ))}
        </p>
      )}
      <FiguresTable versions={versions} plans={plans} />
      <Schools passage={passage} onCompare={(player) => take({ treatment: freshTreatment(all, crypto.randomUUID()), isNew: true }, { player })} />
      {dialog}
    </div>
  );
}

function ofTreatment(passage: Passage, treatment: Treatment): Version {
  const { passage: made, under } = treated(passage, treatment);
  return {
    treatment,
    name: treatment.name,
    passage: made,
    differences: differences(passage, made),
    conditions: conditionWords(treatment.conditions ?? {}, passage),
    told: under.map(({ says }) => says),
  };
}

/** A name out of words that no treatment has yet. */
function nameFor(words: readonly string[], all: readonly Treatment[]): string {
  const name = words
    .join(", ")
    .replace(/^./, (first) => first.toUpperCase())
    .slice(0, 70);
  const taken = new Set(all.map((treatment) => treatment.name));
  for (let number = 1; ; number++) {
    const free = number === 1 ? name : `${name} (${number})`;
    if (!taken.has(free)) return free;
  }
}

function differenceWords(all: readonly Difference[]): string {
  if (all.length === 0) return "as it is written";
  return `${all.length} stroke${all.length === 1 ? "" : "s"} otherwise`;
}

function Name({ treatment }: { treatment: Treatment }) {
  const dispatch = useDispatch<Dispatch>();
  return (
    <TypedField
      className="input input-ghost input-sm w-56 text-lg font-bold"
      aria-label="Name of the treatment"
      value={treatment.name}
      maxLength={80}
      fits={(name) => name !== ""}
      onTake={(name) => dispatch(edit({ kind: "set-treatment", treatment: { ...treatment, name } }))}
    />
  );
}

function Actions({
  name,
  ...actions
}: {
  name: string;
  onWrite(): void;
  onConditions(): void;
  onPromote(): void;
  onCopy(): void;
  onHide(): void;
  onRemove(): void;
}) {
  const items = [
    ["Voicings, place, instrument, player", actions.onConditions],
    ["Another like it", actions.onCopy],
    ["Do not show it", actions.onHide],
    ["Take it away", actions.onRemove],
  ] as const;
  return (
    <span className="ml-auto flex items-center gap-1">
      <button type="button" className="btn btn-sm" onClick={actions.onWrite} aria-label={`Rules of ${name}`}>
        Rules
      </button>
      <button type="button" className="btn btn-sm" onClick={actions.onPromote} aria-label={`Make ${name} the main one`}>
        Make it the main one
      </button>
      <Menu>
        <MenuButton className="btn btn-ghost btn-sm px-1" aria-label={`More for ${name}`}>
          <EllipsisVertical size={18} aria-hidden />
        </MenuButton>
        <MenuItems anchor="bottom end" className="z-20 rounded-lg border border-base-300 bg-base-100 p-1.5 shadow-lg">
          {items.map(([says, onClick]) => (
            <MenuItem key={says}>
              <button type="button" className="block w-full rounded px-3 py-1.5 text-left data-focus:bg-base-300" onClick={onClick}>
                {says}
              </button>
            </MenuItem>
          ))}
        </MenuItems>
      </Menu>
    </span>
  );
}
