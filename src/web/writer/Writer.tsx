import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { Plus } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import { useDispatch } from "react-redux";
import { chordShapeText } from "../../core/chords/chord-shape.ts";
import { parseSequence } from "../../core/chords/sequence.ts";
import { freshTreatment, withNames } from "../../core/edit/treatments.ts";
import type { Passage, Rule, Treatment } from "../../core/passage/schema.ts";
import { settingsOf } from "../../core/passage/settings.ts";
import { conditionWords } from "../../core/words/conditions.ts";
import { harmonyOf } from "../../core/writer/harmony.ts";
import { STARTERS } from "../../core/writer/starters.ts";
import { treated } from "../../core/writer/treated.ts";
import { edit } from "../store/editing.ts";
import { notify } from "../store/notices-slice.ts";
import type { Dispatch } from "../store/root.ts";
import { DrummerQuestion, playsWithDrummer } from "./DrummerQuestion.tsx";
import { Preview } from "./Preview.tsx";
import { Proposals } from "./Proposals.tsx";
import { RuleList } from "./RuleList.tsx";
import { isOnBackbeat, RULE_KINDS, RULE_WORDS } from "./rule-words.ts";
import { Sequence } from "./Sequence.tsx";
import { TypedLine } from "./TypedLine.tsx";

/** Strum patterns and articulations from rules: chords in, rules on top, what comes of it beside. */
export function Writer({ passage }: { passage: Passage }) {
  const dispatch = useDispatch<Dispatch>();
  const all = passage.treatments ?? [];
  const [chosen, setChosen] = useState<string | null>(() => new URLSearchParams(location.search).get("treatment"));
  const [fresh, setFresh] = useState<Treatment>(() => freshTreatment(all, crypto.randomUUID()));
  const treatment = all.find(({ id }) => id === chosen) ?? all.find(({ id }) => id === fresh.id) ?? (chosen === null ? all[0] : undefined) ?? fresh;
  const result = useMemo(() => treated(withNames(passage), treatment), [passage, treatment]);
  const [asked, setAsked] = useState<{ rules: Rule[] } | null>(null);
  const patternRef = useRef<HTMLInputElement>(null);
  const chordsRef = useRef<HTMLInputElement>(null);
  const isEmpty = passage.bars.every((bar) => bar.strokes.length === 0);
  // Nothing to strum yet: chords come first.
  const begins = useRef(isEmpty);
  useEffect(() => {
    if (begins.current) chordsRef.current?.focus();
  }, []);

  const save = (change: Partial<Treatment>) => dispatch(edit({ kind: "set-treatment", treatment: { ...treatment, ...change } }));
  /** Percussion on the backbeat doubles a drummer's snare: asked once per set of rules that brings it. */
  const setRules = (rules: Rule[]) => {
    if (isOnBackbeat(rules) && !isOnBackbeat(treatment.rules) && playsWithDrummer() !== "no") setAsked({ rules });
    else save({ rules });
  };
  const writeChords = (text: string) => {
    const read = parseSequence(text, passage.instrument);
    if (!read.ok) return;
    dispatch(edit({ kind: "write-chords", bar: 0, chords: read.bars }));
    if (treatment.rules.length === 0) save({ rules: [{ kind: "plain" }, RULE_WORDS.pattern.fresh] });
    setTimeout(() => patternRef.current?.focus());
  };
  const isAnything = treatment.rules.length > 0 || Object.keys(treatment.overrides).length > 0 || treatment.conditions !== undefined;
  const promote = () => {
    if (!isAnything) return;
    if (!all.some(({ id }) => id === treatment.id)) save({});
    dispatch(edit({ kind: "promote-treatment", id: treatment.id }));
    dispatch(notify({ says: `${treatment.name} is what is written now. Undo takes it back.` }));
  };
  const { playsWith } = settingsOf(passage);

  return (
    <div
      className="grid h-full min-h-0 max-lg:overflow-auto lg:grid-cols-[27rem_1fr]"
      // Before a button or a menu takes the key for its own.
      onKeyDownCapture={(event) => {
        if (event.key !== "Enter" || !(event.ctrlKey || event.metaKey)) return;
        event.preventDefault();
        event.stopPropagation();
        promote();
      }}
    >
      <section aria-label="Rules" className="flex flex-col gap-4 border-base-300 p-4 lg:min-h-0 lg:overflow-auto lg:border-r">
        <TypedLine
          label="Chords"
          hint="Am7 | D9/F# G | x02210: bars parted by |; Enter writes them from bar 1 on"
          value={chordsText(passage)}
          read={(text) => {
            const read = parseSequence(text, passage.instrument);
            return read.ok ? null : read;
          }}
          onTake={() => {}}
          onEnter={writeChords}
          inputRef={chordsRef}
        />
        {!isEmpty && <Sequence passage={passage} />}
        <div className="flex items-end gap-2">
          <label className="min-w-0 flex-1">
            <span className="font-bold">Treatment</span>
            <select className="select w-full" value={treatment.id} onChange={(event) => setChosen(event.target.value)}>
              {!all.some(({ id }) => id === treatment.id) && <option value={treatment.id}>{treatment.name}</option>}
              {all.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </select>
          </label>
          <button
            type="button"
            className="btn"
            onClick={() => {
              const next = freshTreatment(all, crypto.randomUUID());
              setFresh(next);
              setChosen(next.id);
            }}
          >
            <Plus size={16} aria-hidden /> New
          </button>
        </div>
        <fieldset>
          <legend className="font-bold">Begin with a groove</legend>
          <div className="flex flex-wrap gap-1.5">
            {STARTERS.filter((starter) => starter.playsWith.includes(playsWith)).map(({ name, tune, says, rules }) => (
              <button key={name} type="button" className="btn btn-sm" title={`${says} (as in “${tune}”)`} onClick={() => setRules([...rules])}>
                {name}
              </button>
            ))}
          </div>
        </fieldset>
        <Proposals passage={passage} onTake={(rules) => save({ rules: [...rules] })} />
        {treatment.conditions && (
          <p>
            <b>Not as written:</b> {conditionWords(treatment.conditions, passage).join(", ")}. {result.under.map(({ says }) => says).join(" ")}
          </p>
        )}
        <div>
          <h2 className="mb-1 font-bold">Rules, first to last</h2>
          {treatment.rules.length === 0 && <p className="quiet mb-2">None yet: the passage is as written. Take a groove above, or add a rule.</p>}
          <RuleList rules={treatment.rules} reports={result.reports} bars={passage.bars.length} patternRef={patternRef} onChange={setRules} />
          <AddRule onAdd={(rule) => setRules([...treatment.rules, rule])} />
        </div>
      </section>
      <Preview
        passage={result.passage}
        treatment={treatment}
        clashes={result.clashes}
        onOverride={(overrides) => save({ overrides })}
        onPromote={promote}
        canPromote={isAnything}
      />
      {asked && (
        <DrummerQuestion
          onAnswer={(takes) => {
            if (takes) save({ rules: asked.rules });
            setAsked(null);
          }}
        />
      )}
    </div>
  );
}

function AddRule({ onAdd }: { onAdd(rule: Rule): void }) {
  return (
    <Menu>
      <MenuButton className="btn btn-sm mt-2">
        <Plus size={16} aria-hidden /> Add a rule
      </MenuButton>
      <MenuItems anchor="top start" className="z-20 max-h-96 w-96 overflow-auto rounded-lg border border-base-300 bg-base-100 p-1.5 shadow-lg">
        {RULE_KINDS.map((kind) => (
          <MenuItem key={kind}>
            <button type="button" className="w-full rounded px-3 py-1.5 text-left data-focus:bg-base-300" onClick={() => onAdd(RULE_WORDS[kind].fresh)}>
              <b>{RULE_WORDS[kind].title}</b>
              <span className="quiet block text-sm">{RULE_WORDS[kind].says}</span>
            </button>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
}

/** The chords that are written, bar by bar, so that they can be changed where they stand. Empty when the music is not chords. */
function chordsText(passage: Passage): string {
  const held = harmonyOf(passage.bars);
  if (held.length === 0 || held.some(({ notes }) => notes.length < 2)) return "";
  const words = passage.bars.map((bar) => harmonyOf([bar]).map(({ name, notes }) => wordFor(passage, name ?? "", notes)));
  const last = words.findLastIndex((bar) => bar.length > 0);
  return words
    .slice(0, last + 1)
    .map((bar, b) =>
      (bar.length > 0
        ? bar
        : [
            words
              .slice(0, b)
              .findLast((w) => w.length > 0)!
              .at(-1)!,
          ]
      ).join(" "),
    )
    .join(" | ");
}

function wordFor({ instrument }: Passage, name: string, notes: readonly { string: number; fret: number }[]): string {
  const shape = instrument.tuning.map((_, s) => notes.find((note) => note.string === s + 1)?.fret ?? null);
  const own = chordShapeText(shape).replaceAll(" ", "-");
  if (name === "" || name === own) return own;
  const easiest = parseSequence(name, instrument);
  const isEasiest = easiest.ok && easiest.bars[0]![0]!.shape.every((fret, s) => fret === shape[s]);
  return isEasiest ? name : `${name}=${own}`;
}
