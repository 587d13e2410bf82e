import type { Passage } from "../../core/passage/schema.ts";
import type { TakeResult } from "../../core/take/take.ts";

type Judged = Extract<TakeResult, { kind: "judged" }>;

const PX_PER_MS = 0.12;
const LANE = 30;
const HEAD = 26;
const NAMES = 76;
const INSET = 5;

/**
 * A take on the strings: every note where it was heard, what rang that should not as a bar with a zigzag, what did not speak as an empty
 * dashed box with a cross, strokes off their beat as arrows over the lanes. The list beside it says the same in words.
 */
export function TakeChart({ passage, times, result, says, chosen }: { passage: Passage; times: number; result: Judged; says: string; chosen: number | null }) {
  const strings = passage.instrument.tuning.length;
  const lastMs = Math.max(0, ...result.notes.map(({ toMs }) => toMs), ...result.strokes.map(({ ms }) => ms ?? 0));
  const [width, height] = [lastMs * PX_PER_MS + 40, HEAD + strings * LANE + 4];
  const x = (ms: number) => ms * PX_PER_MS;
  const top = (string: number) => HEAD + (string - 1) * LANE;
  const bars = result.strokes.flatMap(({ bar, ms }, i) =>
    ms !== null && result.strokes.findIndex((one) => one.bar === bar && one.ms !== null) === i ? [{ bar, ms }] : [],
  );
  const silent = new Set(result.findings.filter(({ kind }) => kind === "silent").map(({ step, string }) => `${step} ${string}`));
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls is reached by keys
    <section className="overflow-x-auto border-y border-base-300" tabIndex={0} aria-label="The take on its strings">
      <div className="flex" style={{ width: width + NAMES, height }}>
        <div className="sticky left-0 z-10 shrink-0 bg-base-100" style={{ width: NAMES }} aria-hidden>
          {passage.instrument.tuning.map((name, s) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: strings have no other name
            <span key={s} className="absolute left-3 flex items-baseline gap-2" style={{ top: top(s + 1) + 3 }}>
              <b>{s + 1}</b> <span className="quiet text-sm">{name}</span>
            </span>
          ))}
        </div>
        <svg width={width} height={height} role="img" aria-label={says}>
          {chosen !== null && <rect x={x(chosen) - 3} y={0} width={6} height={height} fill="var(--ink)" fillOpacity={0.25} />}
          {passage.instrument.tuning.map((_, s) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: strings have no other name
            <line key={s} x1={0} x2={width} y1={top(s + 1) + LANE} y2={top(s + 1) + LANE} stroke="var(--color-base-300)" />
          ))}
          {result.strokes.map(
            ({ step, ms }) => ms !== null && <line key={step} x1={x(ms)} x2={x(ms)} y1={HEAD - 5} y2={height} stroke="var(--color-base-300)" />,
          )}
          {bars.map(({ bar, ms }) => (
            <g key={bar}>
              <line x1={x(ms)} x2={x(ms)} y1={0} y2={height} stroke="var(--ink)" strokeOpacity={0.5} strokeWidth={2} />
              <text x={x(ms) + 5} y={17} fontSize={15} fontWeight={700} fill="var(--ink)">
                {1 + (bar % (passage.bars.length / times))}
              </text>
            </g>
          ))}
          {result.notes.map(({ string, step, fromMs, toMs, isDull }) => {
            const box = { x: x(fromMs) + 1, y: top(string) + INSET, width: Math.max(3, x(toMs) - x(fromMs) - 3), height: LANE - 2 * INSET, rx: 3 };
            const [cx, cy] = [box.x + 10, top(string) + LANE / 2];
            return silent.has(`${step} ${string}`) ? (
              <g key={`${step} ${string}`}>
                <rect {...box} fill="none" stroke="var(--stray)" strokeWidth={2} strokeDasharray="4 3" />
                <path d={`M${cx - 5} ${cy - 5}l10 10m0 -10l-10 10`} stroke="var(--stray)" strokeWidth={2.5} />
              </g>
            ) : (
              <rect
                key={`${step} ${string}`}
                {...box}
                fill="var(--ink)"
                fillOpacity={isDull ? 0.14 : 0.32}
                stroke="var(--ink)"
                strokeOpacity={isDull ? 0.4 : 0.8}
              />
            );
          })}
          {result.findings.map(
            ({ kind, string, step, fromMs, toMs, planned }) =>
              (kind === "stray" || kind === "open") &&
              string !== undefined && (
                <path
                  key={`${kind} ${step} ${string} ${fromMs}`}
                  d={zigzag(x(fromMs), Math.max(x(toMs), x(fromMs) + 12), top(string) + LANE / 2)}
                  fill="none"
                  stroke={planned ? "var(--ink)" : "var(--stray)"}
                  strokeWidth={planned ? 1.5 : 3.5}
                />
              ),
          )}
          {result.findings.map(
            ({ kind, step, fromMs, byMs = 0 }) =>
              (kind === "late" || kind === "missed") && (
                <g key={`${kind} ${step}`} fill="var(--stray)">
                  <path d={arrow(x(fromMs), kind === "missed" ? 0 : Math.sign(byMs))} stroke="var(--stray)" strokeWidth={2} />
                </g>
              ),
          )}
        </svg>
      </div>
    </section>
  );
}

function zigzag(from: number, to: number, y: number): string {
  const many = Math.max(2, Math.round((to - from) / 6));
  return Array.from({ length: many + 1 }, (_, i) => `${i === 0 ? "M" : "L"}${from + (i / many) * (to - from)} ${y + (i % 2 === 0 ? 5 : -5)}`).join("");
}

/** From where it should have been: to the right is late, to the left early, a cross where nothing came. */
function arrow(x: number, way: number): string {
  if (way === 0) return `M${x - 5} 6l10 10m0 -10l-10 10`;
  return `M${x - 12 * way} 11L${x} 11M${x - 5 * way} 6L${x} 11L${x - 5 * way} 16`;
}
