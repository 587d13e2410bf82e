import { Search } from "lucide-react";
import { useState } from "react";
import { SHORTCUTS } from "../bench/shortcuts.ts";
import { Dialog } from "./Dialog.tsx";

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

const spoken = (sign: string, says: string): Entry => ({ sign: <b className="whitespace-nowrap">{sign}</b>, says, also: sign });

const SENTENCES: readonly Entry[] = [
  spoken("ring 4 at 7", "The ring finger presses string 4 at fret 7. A chord is told finger by finger once, then by its name."),
  spoken("let go, press", "Pressure off, fingers stay on the strings; pressure on again"),
  spoken("off", "A finger leaves the strings. What is not told stays where it is."),
  spoken("index over 1 to 3", "Its underside lies on strings 1 to 3 without pressing. It leans wherever it presses, until it is told: index up."),
  spoken("ring tip on 6", "The fingertip leans against that string. Tips do so by themselves; told is where they do not."),
  spoken("idle little on 1, 2", "Fingers with nothing to press lie there; the one named is the front one"),
  spoken("palm follows", "The side of the hand lies on the strings below the one picked and goes along, two below unless told"),
  spoken("down, up, dead up", "The stroke; its strings are told when they are others than the notes put down or those of the last stroke"),
  spoken("thumb 5, index 3", "Which finger plucks which string"),
];

const KEYS: readonly Entry[] = SHORTCUTS.map(({ keys, does }) => ({
  sign: keys.map((key) => (
    <kbd key={key} className="kbd kbd-sm mr-1">
      {key}
    </kbd>
  )),
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

/** Signs, how the hands are told, keys and the usual cautions, one action away from everywhere; a word finds its lines. */
export function Guide({ onClose }: { onClose(): void }) {
  const [word, setWord] = useState("");
  const isFound = (text: string) => text.toLowerCase().includes(word.trim().toLowerCase());
  const [signs, sentences, keys] = [SIGNS, SENTENCES, KEYS].map((entries) => entries.filter(({ says, also = "" }) => isFound(`${says} ${also}`))) as [
    Entry[],
    Entry[],
    Entry[],
  ];
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
          <Entries title="How the hands are told" entries={sentences} columns="items-baseline sm:grid-cols-[9rem_1fr]" />
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
      {signs.length + sentences.length + keys.length + care.length === 0 && <p className="quiet">Nothing here speaks of “{word.trim()}”.</p>}
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
            <dt>{sign}</dt>
            <dd>{says}</dd>
          </div>
        ))}
      </dl>
    </section>
  );
}
