import { useMemo, useState } from "react";
import { type ChordShape, chordShapeText, looksLikeChordShape, notesOfChordShape, parseChordShape } from "../../core/chords/chord-shape.ts";
import { parseChordName } from "../../core/chords/names.ts";
import { type Voicing, voicingsOf } from "../../core/chords/voicings.ts";
import { drawHands } from "../../core/drawing/hands.ts";
import { postureOfVoicing } from "../../core/drawing/marks.ts";
import type { Passage, Stroke, WrittenGrip } from "../../core/passage/schema.ts";
import { lastFret } from "../../core/passage/settings.ts";
import { limitWords } from "../../core/words/limits.ts";
import type { Weighed } from "../jobs/jobs.ts";
import { useLook } from "../look/look.tsx";
import { Dialog } from "../parts/Dialog.tsx";
import { Drawing } from "../parts/Drawing.tsx";
import { PAGE } from "../parts/HandsPicture.tsx";
import { useWeighed } from "./use-weighed.ts";

const NONE: readonly Voicing[] = [];

type Found = { ok: true; name: string | null; voicings: readonly Voicing[] } | { ok: false; says: string };

/** A chord by name or by shape: type it, choose how to hold it, take it. */
export function ChordDialog({
  passage,
  stroke,
  isRange,
  grip,
  shown,
  tried,
  onTake,
  onGrip,
  onTakeOver,
  onClose,
}: {
  passage: Passage;
  stroke: Stroke | null;
  isRange: boolean;
  /** What the hand holds at the cursor, and whether that begins there. */
  grip: { says: string; beginsHere: boolean } | null;
  /** What the music itself shows to be held at the cursor, where nothing is written. */
  shown: string | null;
  /** The bars around the cursor with a chord in place; null where it cannot stand. */
  tried(name: string | null, shape: ChordShape): Passage | null;
  onTake(name: string | null, shape: ChordShape): void;
  /** What the music shows is written down from here on. */
  onTakeOver(): void;
  /** The chord as a grip from the cursor on, another place to let go, or with null the grip that begins here taken away. */
  onGrip(grip: Pick<WrittenGrip, "chord" | "notes"> | null): void;
  onClose(): void;
}) {
  const [text, setText] = useState(stroke?.chord ?? "");
  const [chosen, setChosen] = useState(0);
  const found = useMemo(() => findChord(text, passage), [text, passage]);
  const voicings = found?.ok ? found.voicings : NONE;
  const at = Math.min(chosen, voicings.length - 1);
  const name = found?.ok ? found.name : null;
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is tried follows from these
  const versions = useMemo(() => voicings.map(({ shape }) => tried(name, shape)), [voicings, name, passage]);
  const { figures: weighed, failed } = useWeighed(versions);
  const take = (voicing: Voicing | undefined) => {
    if (!voicing || !found?.ok) return;
    onTake(found.name, voicing.shape);
    onClose();
  };
  const hold = (voicing: Voicing | undefined) => {
    if (!voicing || !found?.ok) return;
    const notes = notesOfChordShape(voicing.shape).map(({ string, fret }) => {
      const finger = voicing.fingers[string - 1];
      return { string, fret, ...(finger ? { finger: finger as 1 | 2 | 3 | 4 } : {}) };
    });
    onGrip({ ...(found.name ? { chord: found.name } : {}), notes });
    onClose();
  };
  const end = (grip: { notes: [] } | null) => {
    onGrip(grip);
    onClose();
  };
  return (
    <Dialog title={isRange ? "Chord for all that is selected" : "Chord"} onClose={onClose} wide>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          take(voicings[at]);
        }}
      >
        <label className="block">
          Name, such as Am7 or D9/F#; or the shape from the lowest string up, such as x02210
          <input
            className="input mt-1 w-full text-lg"
            value={text}
            data-first
            onFocus={(event) => event.currentTarget.select()}
            spellCheck={false}
            aria-invalid={found?.ok === false}
            aria-describedby="chord-says"
            onChange={(event) => {
              setText(event.target.value);
              setChosen(0);
            }}
            onKeyDown={(event) => {
              const way = { ArrowDown: 1, ArrowUp: -1 }[event.key];
              if (!way || voicings.length === 0) return;
              event.preventDefault();
              setChosen((at + way + voicings.length) % voicings.length);
            }}
          />
        </label>
        <p id="chord-says" role="status" className={`my-2 min-h-7 ${found?.ok === false ? "font-semibold" : "quiet"}`}>
          {saysOf(found)}
        </p>
        <div className="grid grid-cols-2 gap-2 sm:grid-cols-4" role="radiogroup" aria-label="Ways to hold it">
          {voicings.map((voicing, i) => (
            // biome-ignore lint/a11y/useSemanticElements: a picture to choose, not a dot
            <button
              key={chordShapeText(voicing.shape)}
              type="button"
              role="radio"
              aria-checked={i === at}
              aria-label={`${chordShapeText(voicing.shape)}, lowest string first`}
              className={`rounded-lg border-2 p-2 ${i === at ? "border-base-content" : "border-base-300"}`}
              onClick={() => (i === at ? take(voicing) : setChosen(i))}
            >
              <ShapePicture voicing={voicing} />
              <span className="font-bold tracking-wide">{chordShapeText(voicing.shape)}</span>
              <span className="quiet block min-h-10 text-sm">{weighed[i] ? weighedWords(weighed[i]) : versions[i] && !failed ? "…" : ""}</span>
            </button>
          ))}
        </div>
        {failed && <p role="alert">What the hands make of these could not be worked out: {failed}</p>}
        {found === null && <Suggestions passage={passage} onChoose={setText} />}
        <div className="mt-4 flex flex-wrap items-center justify-end gap-2">
          {!grip && shown && (
            <span className="mr-auto flex flex-wrap items-center gap-2">
              The music shows that the hand {shown} here.
              <button
                type="button"
                className="btn btn-sm"
                onClick={() => {
                  onTakeOver();
                  onClose();
                }}
                title="Written down from here on, so that each grip can be changed by itself"
              >
                Write it down
              </button>
            </span>
          )}
          {grip && (
            <span className="mr-auto flex flex-wrap items-center gap-2">
              The hand {grip.says} here.
              {grip.beginsHere ? (
                <button type="button" className="btn btn-sm" onClick={() => end(null)}>
                  Take the grip away
                </button>
              ) : (
                <button type="button" className="btn btn-sm" onClick={() => end({ notes: [] })}>
                  Let go here
                </button>
              )}
            </span>
          )}
          <button
            type="button"
            className="btn"
            disabled={voicings.length === 0}
            onClick={() => hold(voicings[at])}
            title="The hand keeps this chord from here on, whatever the strokes play of it"
          >
            Hold it from here on
          </button>
          <button type="submit" className="btn btn-primary" disabled={voicings.length === 0}>
            Take it
          </button>
        </div>
      </form>
    </Dialog>
  );
}

/** What a voicing brings in the bars around it: rings, gestures, and how fast it goes. */
function weighedWords({ strays, rushed, gestures, limits }: Weighed): string {
  const count = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`;
  return [
    strays === 0 ? "nothing rings astray" : count(strays, "stray ring", "stray rings"),
    ...(rushed > 0 ? [count(rushed, "rushed move", "rushed moves")] : []),
    `${gestures} gestures a bar`,
    ...(limits ? [limits.hands ? `hands ${limitWords(limits.hands)}` : "no hands keep up"] : []),
  ].join(", ");
}

/** A chord on a piece of neck, strings lying as in the score. */
function ShapePicture({ voicing }: { voicing: Voicing }) {
  const { look } = useLook();
  const svg = useMemo(() => drawHands(postureOfVoicing(voicing), { paint: PAGE, frets: look.frets, top: look.top, bridge: false }), [voicing, look]);
  return <Drawing svg={svg} />;
}

/** Chords that most players know, after those of the passage (common practice). */
const COMMON = ["C", "G", "D", "A", "E", "Am", "Em", "Dm"];
const SUGGESTED = 8;

/** Chords to choose from before anything is typed: those that the passage has, then common ones, each in its easiest shape. */
function Suggestions({ passage, onChoose }: { passage: Passage; onChoose(name: string): void }) {
  const found = useMemo(() => {
    const names = passage.bars.flatMap(({ strokes, grips = [] }) => [...strokes, ...grips].flatMap(({ chord }) => (chord ? [chord] : [])));
    return [...new Set([...names, ...COMMON])].slice(0, SUGGESTED).flatMap((name) => {
      const chord = findChord(name, passage);
      return chord?.ok ? [{ name, voicing: chord.voicings[0]! }] : [];
    });
  }, [passage]);
  return (
    <section className="grid grid-cols-2 gap-2 sm:grid-cols-4" aria-label="Chords to begin with">
      {found.map(({ name, voicing }) => (
        <button key={name} type="button" className="rounded-lg border-2 border-base-300 p-2" onClick={() => onChoose(name)}>
          <ShapePicture voicing={voicing} />
          <span className="font-bold">{name}</span>
        </button>
      ))}
    </section>
  );
}

function findChord(text: string, { instrument }: Passage): Found | null {
  if (text.trim() === "") return null;
  if (looksLikeChordShape(text)) {
    const read = parseChordShape(text, instrument.tuning.length);
    if (!read.ok) return read;
    const high = read.shape.find((fret) => fret !== null && fret > lastFret(instrument));
    if (high !== undefined) return { ok: false, says: `This neck has ${lastFret(instrument)} frets.` };
    return { ok: true, name: null, voicings: [{ shape: read.shape, fingers: read.shape.map(() => null) }] };
  }
  const read = parseChordName(text);
  if (!read.ok) return read;
  const voicings = voicingsOf(read.chord, instrument, 8);
  return voicings.length > 0 ? { ok: true, name: read.chord.name, voicings } : { ok: false, says: "No hand can hold this chord on this instrument." };
}

function saysOf(found: Found | null): string {
  if (!found) return "";
  if (!found.ok) return found.says.replace(/^./, (first) => first.toUpperCase());
  return found.voicings.length > 1 ? "Easiest first. Arrow keys choose, Enter takes." : "Enter takes it.";
}
