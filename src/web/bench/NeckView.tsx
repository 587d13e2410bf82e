import { fretFromNutMm } from "../../core/music/neck.ts";
import type { Instrument } from "../../core/passage/schema.ts";
import { lastFret, openLengthMm } from "../../core/passage/settings.ts";
import type { Contact } from "../../core/shapes/types.ts";
import type { PlannedStep } from "../../core/verdict/document.ts";
import { useLook } from "../setup/look.tsx";

const WIDTH = 430;
const ROW = 9;
const PAD = 6;

/**
 * The strings from nut to bridge, to scale: where fingers press, where either hand touches. What lies nutwards of a
 * pressed fret does nothing to that string.
 */
export function NeckView({
  instrument,
  step,
  contacts,
  presses,
}: {
  instrument: Instrument;
  step: PlannedStep;
  contacts: readonly Contact[];
  presses: readonly Press[];
}) {
  const strings = instrument.tuning.length;
  const { look } = useLook();
  const length = openLengthMm(instrument);
  const mirrored = look.frets === "right";
  const x = (mm: number) => (mirrored ? WIDTH - PAD - (mm / length) * (WIDTH - 2 * PAD) : PAD + (mm / length) * (WIDTH - 2 * PAD));
  const y = (string: number) => PAD + (look.top === "lowest" ? strings - string : string - 1) * ROW + ROW / 2;
  const height = strings * ROW + 2 * PAD + 14;
  const frets = Array.from({ length: lastFret(instrument) }, (_, i) => i + 1);
  const bar = (from: number, to: number) => ({ x: Math.min(x(from), x(to)), width: Math.max(4, Math.abs(x(to) - x(from))) });
  return (
    <svg viewBox={`0 0 ${WIDTH} ${height}`} className="mt-1 w-full max-w-2xl" role="img" aria-label={`From nut to bridge: ${wordsOf(contacts, presses)}`}>
      {frets.map((fret) => (
        <line
          key={fret}
          x1={x(fretFromNutMm(length, fret))}
          x2={x(fretFromNutMm(length, fret))}
          y1={PAD}
          y2={PAD + strings * ROW}
          stroke="var(--ink)"
          strokeOpacity={fret % 12 === 0 ? 0.7 : 0.25}
        />
      ))}
      {[0, length].map((mm) => (
        <line key={mm} x1={x(mm)} x2={x(mm)} y1={PAD - 2} y2={PAD + strings * ROW + 2} stroke="var(--ink)" strokeWidth={3} />
      ))}
      {[5, 7, 9, 12, 15]
        .filter((fret) => fret <= frets.length)
        .map((fret) => (
          <text
            key={fret}
            x={(x(fretFromNutMm(length, fret - 1)) + x(fretFromNutMm(length, fret))) / 2}
            y={height - 2}
            textAnchor="middle"
            fontSize={10}
            fill="var(--color-neutral)"
          >
            {fret}
          </text>
        ))}
      {step.strings.map(({ string, state }) => (
        <line
          key={string}
          x1={x(0)}
          x2={x(length)}
          y1={y(string)}
          y2={y(string)}
          stroke={state === "stray" ? "var(--stray)" : "var(--ink)"}
          strokeWidth={0.6 + string * 0.2}
        />
      ))}
      {contacts.map((contact) => {
        const { fromMm, toMm } = contact.touch;
        const fretting = contact.hand !== "picking";
        return (
          <rect
            key={`${contact.hand}${contact.part}${contact.finger ?? ""}${contact.string}`}
            {...bar(fromMm, toMm)}
            y={y(contact.string) - 3.5}
            height={7}
            rx={fretting ? 3.5 : 0}
            fill={fretting ? "var(--fretting)" : "var(--picking)"}
          />
        );
      })}
      {presses.map(({ string, fret }) => (
        <circle key={string} cx={x(fretFromNutMm(length, fret)) + (mirrored ? 4 : -4)} cy={y(string)} r={4} fill="var(--ink)" />
      ))}
    </svg>
  );
}

/** A string pressed at a fret. */
export interface Press {
  string: number;
  fret: number;
}

function wordsOf(contacts: readonly Contact[], presses: readonly Press[]): string {
  const pressed = presses.map(({ string, fret }) => `string ${string} pressed at fret ${fret}`);
  const touched = contacts.map(({ string, touch }) => `string ${string} touched ${Math.round((touch.fromMm + touch.toMm) / 2)} mm from the nut`);
  return [...pressed, ...touched].join("; ") || "nothing is pressed or touched";
}
