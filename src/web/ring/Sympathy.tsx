import { useMemo, useState } from "react";
import { type Answer, sympathyTable } from "../../core/loudness/sympathy.ts";
import { pitchName } from "../../core/music/pitch.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { openPitches, settingsOf } from "../../core/passage/settings.ts";

/** Who sets whom off: every string and fret, and the open strings that answer it loudly enough to be heard. */
export function Sympathy({ passage }: { passage: Passage }) {
  const { instrument } = passage;
  const { gain } = settingsOf(passage);
  const table = useMemo(() => sympathyTable(instrument, gain), [instrument, gain]);
  const open = openPitches(instrument);
  const [at, setAt] = useState<{ string: number; fret: number }>({ string: 1, fret: 0 });
  const here = { string: Math.min(at.string, open.length), fret: Math.min(at.fret, table[0]!.length - 1) };
  const answers = table[here.string - 1]![here.fret]!;
  const move = (event: React.KeyboardEvent) => {
    const way = ({ ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [-1, 0], ArrowDown: [1, 0] } as const)[event.key as "ArrowLeft"];
    if (!way) return;
    event.preventDefault();
    const next = { string: here.string + way[0], fret: here.fret + way[1] };
    if (!table[next.string - 1]?.[next.fret]) return;
    setAt(next);
    event.currentTarget.querySelector<HTMLElement>(`[data-cell="${next.string}-${next.fret}"]`)?.focus();
  };
  return (
    <section aria-label="Who sets whom off">
      <h2 className="text-xl font-bold">Who sets whom off</h2>
      <p className="quiet mb-2">
        Strike a string at a fret, and these open strings answer loudly enough to be heard with {gain} gain, if nothing touches them. In bold: 10 dB and more
        over.
      </p>
      <div className="grid gap-x-8 gap-y-3 xl:grid-cols-[auto_1fr]">
        <div className="overflow-x-auto">
          {/* biome-ignore lint/a11y/noStaticElementInteractions: arrow keys among the buttons inside */}
          <div onKeyDown={move}>
            <table className="border-separate border-spacing-0.5 text-center tabular-nums">
              <thead>
                <tr>
                  <th scope="col" className="quiet pr-2 text-left font-normal">
                    fret
                  </th>
                  {table[0]!.map((_, fret) => (
                    // biome-ignore lint/suspicious/noArrayIndexKey: frets have no other name
                    <th key={fret} scope="col" className="quiet font-normal">
                      {fret}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {table.map((row, s) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: strings have no other name
                  <tr key={s}>
                    <th scope="row" className="pr-2 text-left">
                      {s + 1} <span className="quiet text-sm font-normal">{instrument.tuning[s]}</span>
                    </th>
                    {row.map((cell, fret) => {
                      const isHere = here.string === s + 1 && here.fret === fret;
                      const heard = cell.filter((answer) => answer.db >= 0).sort((a, b) => a.string - b.string);
                      return (
                        // biome-ignore lint/suspicious/noArrayIndexKey: frets have no other name
                        <td key={fret}>
                          <button
                            type="button"
                            data-cell={`${s + 1}-${fret}`}
                            tabIndex={isHere ? 0 : -1}
                            aria-pressed={isHere}
                            aria-label={`string ${s + 1}, fret ${fret}, ${pitchName(open[s]! + fret)}: ${heard.length > 0 ? `sets off ${heard.map((a) => a.string).join(", ")}` : "sets off nothing"}`}
                            className={`block h-8 w-full min-w-11 rounded border px-1 ${isHere ? "border-2 border-base-content" : "border-base-300"}`}
                            onClick={() => setAt({ string: s + 1, fret })}
                          >
                            {heard.map((answer) => (
                              <span key={answer.string} className={answer.db >= 10 ? "font-extrabold" : "quiet"}>
                                {answer.string}
                              </span>
                            ))}
                          </button>
                        </td>
                      );
                    })}
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        </div>
        <div aria-live="polite" data-testid="answers">
          <h3 className="text-lg font-bold">
            String {here.string}, {here.fret === 0 ? "open" : `fret ${here.fret}`}, {pitchName(open[here.string - 1]! + here.fret)}
          </h3>
          <ul>
            {answers.map((answer) => (
              <li key={answer.string} className={answer.db >= 0 ? "" : "quiet"}>
                {answerWords(answer)}
              </li>
            ))}
          </ul>
        </div>
      </div>
    </section>
  );
}

function answerWords({ string, db, partials }: Answer): string {
  const loud = db >= 0 ? `${db} dB over what is heard` : Number.isFinite(db) ? `${-db} dB too soft to be heard` : "does not answer";
  if (!partials) return `string ${string}: ${loud}`;
  const [own, played] = partials;
  const why = own === 1 && played === 1 ? "the same pitch" : `its partial ${own} meets partial ${played} of what is struck`;
  return `string ${string}: ${loud}; ${why}`;
}
