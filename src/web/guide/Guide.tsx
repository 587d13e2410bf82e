import { Search } from "lucide-react";
import { useState } from "react";
import { drawHands } from "../../core/drawing/hands.ts";
import type { Posture } from "../../core/drawing/marks.ts";
import { useLook } from "../look/look.tsx";
import { Dialog } from "../parts/Dialog.tsx";
import { Drawing } from "../parts/Drawing.tsx";
import { PAGE } from "../parts/HandsPicture.tsx";
import { SHORTCUTS } from "./shortcuts.ts";

interface Entry {
  sign: React.ReactNode;
  says: string;
  /** What it is found by besides. */
  also?: string;
}

const drawn = (says: string, drawing: React.ReactNode): Entry => ({
  sign: (
    <svg width="56" height="28" aria-hidden>
      {drawing}
    </svg>
  ),
  says,
});

const SIGNS: readonly Entry[] = [
  drawn("A string that sounds, as long as it sounds", <rect x="2" y="11" width="52" height="6" rx="3" fill="var(--ink)" />),
  drawn("A string that may ring on", <line x1="6" x2="52" y1="14" y2="14" stroke="var(--ink)" strokeWidth="4" strokeDasharray="2 7" strokeLinecap="round" />),
  drawn(
    "A palm-muted tone",
    [2, 10, 18, 26, 34, 42].map((x) => <rect key={x} x={x} y="8" width="4" height="12" fill="var(--ink)" />),
  ),
  drawn("A dead stroke: a click without pitch", <path d="M20 6 36 22M36 6 20 22" stroke="var(--ink)" strokeWidth="3" />),
  drawn("Fretting hand touches (from the top edge, round)", <path d="M16 4a12 12 0 0 0 24 0z" fill="var(--fretting)" />),
  drawn("Picking hand touches (from the bottom edge, square)", <rect x="17" y="13" width="22" height="12" fill="var(--picking)" />),
  drawn("A stray ring: it sounds and nobody asked for it", <path d="M2 14q5-12 10 0t10 0 10 0 10 0 10 0" fill="none" stroke="var(--stray)" strokeWidth="3" />),
];

/** A chord held with everything that a picture of the hands can show. */
const EXAMPLE: Posture = {
  count: 6,
  position: 5,
  marks: [
    { hand: "fretting", part: "underside", finger: 1, fret: 5, strings: [1] },
    { hand: "fretting", part: "press", finger: 2, fret: 6, strings: [3] },
    { hand: "fretting", part: "press", finger: 3, fret: 7, strings: [4] },
    { hand: "fretting", part: "tip", finger: 3, fret: 7, strings: [5] },
    { hand: "fretting", part: "ease", finger: 4, fret: 8, strings: [2] },
    { hand: "picking", part: "palm", strings: [6] },
  ],
  blows: [{ way: "through", strings: [4, 3, 2], direction: "down", fingers: [], dead: [2] }],
  bends: [],
  states: ["damped", "thud", "ring", "ring", "damped", "damped"],
};

const PICTURE: readonly Entry[] = [
  { sign: <b>filled</b>, says: "A finger that presses: 1 index to 4 little finger, T the thumb over the neck; several strings under one finger are one bar" },
  { sign: <b>in outline</b>, says: "A finger that lies on strings without pressing: here the index over string 1, the little finger resting on 2" },
  { sign: <b>a nose</b>, says: "The fingertip that leans against the next string, here the ring finger's against string 5" },
  {
    sign: <b>palm, flat hand</b>,
    says: "What of the picking hand lies on the strings; squares with p i m a c are its thumb and fingers, filled where they pluck",
  },
  { sign: <b>arrow</b>, says: "The stroke and the strings it goes through; a cross for each that gives no pitch" },
  { sign: <b>thick, wavy</b>, says: "Strings that sound, from the finger to the bridge; a wave rings astray" },
];

const spoken = (sign: string, says: string): Entry => ({ sign: <b>{sign}</b>, says, also: sign });

const SENTENCES: readonly Entry[] = [
  spoken("ring 4 at 7", "The ring finger presses string 4 at fret 7. A chord is spelled finger by finger once, then named."),
  spoken("same shape at 5", "The fingers that pressed together last, on the same strings, the first of them at fret 5"),
  spoken("let go, press", "Pressure off, fingers stay on the strings; pressure on again"),
  spoken("off", "A finger leaves the strings. What is not named stays where it is."),
  spoken("index over 1 to 3", "Its underside lies on strings 1 to 3 without pressing. It leans wherever it presses, until you read: index up."),
  spoken("ring tip on 6", "The fingertip leans against that string. Tips do so by themselves; they are named where they do not."),
  spoken("idle fingers on 1, 2", "Fingers with nothing to press lie there together; which of them is in front does not matter"),
  spoken("palm follows", "The side of the hand lies on the strings from two below the one picked on and goes along; close: from the next one on"),
  spoken(
    "down, up, dead up",
    "The stroke; its strings are named when they are others than the notes put down or those of the last stroke. Through strings that all lie under fingers it is dead without being said.",
  ),
  spoken("1, 2 & (press), else let go", "On the sheet: at these counts, and let go again right after each"),
  spoken("thumb 5, index 3", "Which finger plucks which string"),
];

const KEYS: readonly Entry[] = SHORTCUTS.map(({ keys, does }) => ({
  // What is done with the pointer is no key.
  sign: keys.map((key) =>
    key.startsWith("drag ") ? (
      <b key={key}>{key}</b>
    ) : (
      <kbd key={key} className="kbd kbd-sm mr-1">
        {key}
      </kbd>
    ),
  ),
  says: does,
  also: keys.join(" "),
}));

const CARE = [
  "Pain, numbness or tingling: stop, rest. What lasts belongs before a doctor.",
  "Stop before a blister forms, and take breaks.",
  "Least tension that does the work. A thumbnail that turns white means the pick is gripped too hard.",
  "Long barres, the thumb over the edge and a bent wrist: in small doses.",
  "High gain is loud. Turn down, protect your ears.",
  "A contact that does not fit your hand is replaced, never forced.",
];

/** Signs, how the hands are said, keys and the usual cautions, one action away from everywhere; a word finds its lines. */
export function Guide({ onClose }: { onClose(): void }) {
  const [word, setWord] = useState("");
  const isFound = (text: string) => text.toLowerCase().includes(word.trim().toLowerCase());
  const { look } = useLook();
  const found = (entries: readonly Entry[]) => entries.filter(({ says, also = "" }) => isFound(`${says} ${also}`));
  const [signs, picture, sentences, keys] = [found(SIGNS), found(PICTURE), found(SENTENCES), found(KEYS)];
  const care = CARE.filter(isFound);
  return (
    <Dialog title="Signs and keys" onClose={onClose} wide>
      <label className="input mb-4 w-full max-w-md">
        <Search size={18} aria-hidden />
        <input
          data-first
          type="search"
          placeholder="Find: palm, bend, undo …"
          aria-label="Find in the guide"
          className="outline-none"
          value={word}
          onChange={(event) => setWord(event.target.value)}
        />
      </label>
      <div className="grid items-start gap-x-10 gap-y-6 lg:grid-cols-2">
        <div className="space-y-6">
          <Entries title="What the signs mean" entries={signs} columns="grid-cols-[3.5rem_1fr] items-center" />
          {picture.length > 0 && (
            <div>
              <Entries title="The picture of both hands" entries={picture} columns="items-baseline sm:grid-cols-[7rem_1fr]" />
              <Drawing
                svg={drawHands(EXAMPLE, { paint: PAGE, frets: look.frets, top: look.top })}
                label="An example of the picture"
                className="mt-2 max-w-lg"
              />
            </div>
          )}
          <Entries title="The hands in words" entries={sentences} columns="items-baseline sm:grid-cols-[10rem_1fr]" />
          {care.length > 0 && (
            <section>
              <h3 className="mb-2 font-bold">Look after your hands and ears</h3>
              <ul className="list-disc space-y-1 pl-5">
                {care.map((says) => (
                  <li key={says}>{says}</li>
                ))}
              </ul>
            </section>
          )}
        </div>
        <Entries title="Keys on the bench" entries={keys} columns="items-baseline sm:grid-cols-[10.5rem_1fr]" />
      </div>
      {signs.length + picture.length + sentences.length + keys.length + care.length === 0 && <p className="quiet">Nothing here speaks of “{word.trim()}”.</p>}
    </Dialog>
  );
}

function Entries({ title, entries, columns }: { title: string; entries: readonly Entry[]; columns: string }) {
  if (entries.length === 0) return null;
  return (
    <section>
      <h3 className="mb-2 font-bold">{title}</h3>
      <dl className={`grid gap-x-4 gap-y-1.5 ${columns}`}>
        {entries.map(({ sign, says }) => (
          <div key={says} className="contents">
            <dt className="max-sm:mt-3">{sign}</dt>
            <dd>{says}</dd>
          </div>
        ))}
      </dl>
    </section>
  );
}
