import { partOf } from "../../core/hands/parts.ts";
import type { PlannedStep, PlannedString } from "../../core/verdict/document.ts";
import { wordsOf } from "../../core/words/contacts.ts";
import { useLook } from "../setup/look.tsx";

const WIDTH = 430;
const HEIGHT = 196;
const ROW = 98;

/**
 * The strings seen end-on at one step: round sections in a row, fretting fingers reaching in
 * from above, the picking hand from below, each touch where it is.
 */
export function EndView({ step, selectedString, label }: { step: PlannedStep; selectedString: number; label: string }) {
  const count = step.strings.length;
  const gap = WIDTH / (count + 0.6);
  const mirrored = useLook().look.frets === "right";
  const fromRight = (string: number) => gap * (string - 0.2);
  const x = (string: number) => (mirrored ? fromRight(string) : WIDTH - fromRight(string));
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="w-full max-w-2xl" role="img" aria-label={label}>
      <text x={2} y={14} fontSize={13} fill="var(--fretting)">
        fretting hand
      </text>
      <text x={2} y={HEIGHT - 26} fontSize={13} fill="var(--picking)">
        picking hand
      </text>
      <AidBands step={step} x={x} gap={gap} />
      <FrettingFingers step={step} x={x} gap={gap} />
      <PickingParts step={step} x={x} gap={gap} />
      {step.strings.map((string) => (
        <Section key={string.string} string={string} x={x(string.string)} radius={5 + string.string * 1.35} selected={string.string === selectedString} />
      ))}
    </svg>
  );
}

function Section({ string, x, radius, selected }: { string: PlannedString; x: number; radius: number; selected: boolean }) {
  const sounding = string.state === "ring" || string.state === "free" || string.state === "muffled";
  const stray = string.state === "stray";
  return (
    <g>
      {stray && <circle cx={x} cy={ROW} r={radius + 9} fill="none" stroke="var(--stray)" strokeWidth={3} strokeDasharray="5 4" />}
      {string.state === "ring" && <circle cx={x} cy={ROW} r={radius + 6} fill="none" stroke="var(--ink)" strokeWidth={1.5} />}
      <circle
        cx={x}
        cy={ROW}
        r={radius}
        fill={stray ? "var(--stray)" : sounding ? "var(--ink)" : "var(--color-base-100)"}
        stroke={stray ? "var(--stray)" : "var(--ink)"}
        strokeWidth={2}
      />
      {string.state === "muffled" && <path d={`M${x - radius} ${ROW}h${radius * 2}`} stroke="var(--color-base-100)" strokeWidth={3} />}
      {string.state === "thud" && <path d={`M${x - 5} ${ROW - 5}l10 10m0-10l-10 10`} stroke="var(--ink)" strokeWidth={2.5} />}
      <text
        x={x}
        y={HEIGHT - 6}
        textAnchor="middle"
        fontSize={15}
        fontWeight={selected ? 800 : 400}
        textDecoration={selected ? "underline" : "none"}
        fill="var(--ink)"
      >
        {string.string}
      </text>
    </g>
  );
}

interface HandProps {
  step: PlannedStep;
  x(string: number): number;
  gap: number;
}

/** One shape per finger: a column down to a pressed string, a bar over strings it touches. */
function FrettingFingers({ step, x, gap }: HandProps) {
  const fingers = new Map<string, { pressed: number[]; touched: number[] }>();
  for (const string of step.strings)
    for (const touch of string.touchedBy) {
      if (partOf(touch).draws !== "finger" || touch.hand === "picking") continue;
      const key = String(touch.finger ?? "");
      const finger = fingers.get(key) ?? { pressed: [], touched: [] };
      (touch.part === "press" ? finger.pressed : finger.touched).push(string.string);
      fingers.set(key, finger);
    }
  const columns = columnsOf(fingers);
  return [...fingers].map(([name, { pressed, touched }], i) => {
    const all = [...pressed, ...touched];
    const left = Math.min(...all.map(x)) - 13;
    const right = Math.max(...all.map(x)) + 13;
    const label = x(columns.get(name)!);
    const top = 22 + (i % 2) * 6;
    return (
      <g key={name}>
        {touched.length > 0 && <rect x={left} y={ROW - 34} width={right - left} height={11} rx={5.5} fill="var(--fretting)" />}
        {touched.map((s) => (
          <rect key={`t${s}`} x={x(s) - 4} y={ROW - 30} width={8} height={30 - 5 - s * 1.35} rx={3} fill="var(--fretting)" />
        ))}
        {pressed.map((s) => (
          <rect key={s} x={x(s) - Math.min(13, gap * 0.3)} y={top} width={Math.min(26, gap * 0.6)} height={ROW - top - 4} rx={11} fill="var(--fretting)" />
        ))}
        {pressed.length === 0 && (
          <rect
            x={label - Math.min(13, gap * 0.3)}
            y={top}
            width={Math.min(26, gap * 0.6)}
            height={ROW - top - 16}
            rx={11}
            fill="var(--fretting)"
            fillOpacity={0.85}
          />
        )}
        <text x={label} y={top + 20} textAnchor="middle" fontSize={16} fontWeight={800} fill="var(--color-secondary-content)">
          {name}
        </text>
      </g>
    );
  });
}

/** The string over which each finger is drawn: where it presses, else one that no other finger is drawn over. */
function columnsOf(fingers: ReadonlyMap<string, { pressed: readonly number[]; touched: readonly number[] }>): Map<string, number> {
  const columns = new Map<string, number>();
  const busiestLast = [...fingers].sort(
    ([, a], [, b]) => Number(a.pressed.length === 0) - Number(b.pressed.length === 0) || a.touched.length - b.touched.length,
  );
  for (const [name, { pressed, touched }] of busiestLast) {
    const taken = new Set(columns.values());
    const own = [...(pressed.length > 0 ? pressed : touched)].sort((a, b) => b - a);
    columns.set(name, own.find((string) => !taken.has(string)) ?? own[0]!);
  }
  return columns;
}

/** What lies on the strings in one piece: parts of the picking hand one bar each, or one a finger. */
function PickingParts({ step, x, gap }: HandProps) {
  const parts = new Map<string, { name: string; strings: number[] }>();
  for (const string of step.strings)
    for (const touch of string.touchedBy) {
      if (touch.hand !== "picking") continue;
      const byFinger = partOf(touch).draws === "bar-a-finger";
      const key = `${touch.part}${byFinger ? touch.finger : ""}`;
      const part = parts.get(key) ?? { name: byFinger ? String(touch.finger) : wordsOf(touch).sign, strings: [] };
      part.strings.push(string.string);
      parts.set(key, part);
    }
  return [...parts].map(([key, { name, strings }]) => {
    const left = Math.min(...strings.map(x)) - gap * 0.42;
    const right = Math.max(...strings.map(x)) + gap * 0.42;
    return (
      <g key={key}>
        <path d={`M${left} ${ROW + 20}H${right}V${ROW + 44}H${left}z`} fill="var(--picking)" />
        {strings.map((s) => (
          <rect key={s} x={x(s) - 7} y={ROW + 5 + s * 1.35} width={14} height={16 - s * 1.35 + 3} fill="var(--picking)" />
        ))}
        <text x={(left + right) / 2} y={ROW + 35} textAnchor="middle" fontSize={13} fontWeight={700} fill="var(--color-accent-content)">
          {name}
        </text>
      </g>
    );
  });
}

/** An aid around the neck: a band behind the fingers over every string it keeps still. */
function AidBands({ step, x, gap }: HandProps) {
  const bands = new Map<string, { name: string; strings: number[] }>();
  for (const string of step.strings)
    for (const touch of string.touchedBy) {
      if (partOf(touch).draws !== "band") continue;
      const band = bands.get(touch.part) ?? { name: wordsOf(touch).sign, strings: [] };
      band.strings.push(string.string);
      bands.set(touch.part, band);
    }
  return [...bands].map(([part, { name, strings }]) => (
    <g key={part}>
      {strings.map((s) => (
        <path key={s} d={`M${x(s) - gap * 0.45} ${ROW - 19}h${gap * 0.9}v6h${-gap * 0.9}z`} fill="var(--fretting)" fillOpacity={0.55} />
      ))}
      <text x={WIDTH - 4} y={14} textAnchor="end" fontSize={13} fill="var(--fretting)">
        {name}
      </text>
    </g>
  ));
}
