import { SHORTCUTS } from "../bench/shortcuts.ts";
import { Dialog } from "./Dialog.tsx";

/** Legend, keys and the usual cautions, one action away from everywhere. */
export function Guide({ onClose }: { onClose(): void }) {
  return (
    <Dialog title="Signs and keys" onClose={onClose} wide>
      <div className="grid gap-8 md:grid-cols-2">
        <section>
          <h3 className="mb-2 font-bold">What the signs mean</h3>
          <dl className="grid grid-cols-[auto_1fr] items-center gap-x-4 gap-y-3">
            <Sign label="A string that sounds, as long as it sounds">
              <rect x="2" y="11" width="52" height="6" rx="3" fill="var(--ink)" />
            </Sign>
            <Sign label="A string that may ring on">
              <line x1="6" x2="52" y1="14" y2="14" stroke="var(--ink)" strokeWidth="4" strokeDasharray="2 7" strokeLinecap="round" />
            </Sign>
            <Sign label="A palm-muted tone">
              {[2, 10, 18, 26, 34, 42].map((x) => (
                <rect key={x} x={x} y="8" width="4" height="12" fill="var(--ink)" />
              ))}
            </Sign>
            <Sign label="A dead stroke: a click without pitch">
              <path d="M20 6 36 22M36 6 20 22" stroke="var(--ink)" strokeWidth="3" />
            </Sign>
            <Sign label="Fretting hand touches (from the top edge, round)">
              <path d="M16 4a12 12 0 0 0 24 0z" fill="var(--fretting)" />
            </Sign>
            <Sign label="Picking hand touches (from the bottom edge, square)">
              <rect x="17" y="13" width="22" height="12" fill="var(--picking)" />
            </Sign>
            <Sign label="A stray ring: it sounds and nobody asked for it">
              <path d="M2 14q5-12 10 0t10 0 10 0 10 0 10 0" fill="none" stroke="var(--stray)" strokeWidth="3" />
            </Sign>
          </dl>
          <h3 className="mt-6 mb-2 font-bold">Look after your hands and ears</h3>
          <ul className="list-disc space-y-1 pl-5">
            <li>Pain, numbness or tingling: stop, rest. What lasts belongs before a doctor.</li>
            <li>Stop before a blister forms, and take breaks.</li>
            <li>Least tension that does the work. A thumbnail that turns white means the pick is gripped too hard.</li>
            <li>Long barres, the thumb over the edge and a bent wrist: in small doses.</li>
            <li>High gain is loud. Turn down, protect your ears.</li>
            <li>A contact that does not fit your hand is replaced, never forced.</li>
          </ul>
        </section>
        <section>
          <h3 className="mb-2 font-bold">Keys on the bench</h3>
          <dl className="grid grid-cols-[auto_1fr] gap-x-4 gap-y-1.5">
            {SHORTCUTS.map(({ keys, does }) => (
              <div key={does} className="contents">
                <dt>
                  {keys.map((key) => (
                    <kbd key={key} className="kbd kbd-sm mr-1">
                      {key}
                    </kbd>
                  ))}
                </dt>
                <dd>{does}</dd>
              </div>
            ))}
          </dl>
        </section>
      </div>
    </Dialog>
  );
}

function Sign({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <div className="contents">
      <dt>
        <svg width="56" height="28" aria-hidden>
          {children}
        </svg>
      </dt>
      <dd>{label}</dd>
    </div>
  );
}
