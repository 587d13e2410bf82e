import type { Voicing } from "../../core/chords/voicings.ts";
import { useLook } from "../setup/look.tsx";

const WIDTH = 150;
const ROW = 14;
const NUT = 22;

/** A chord on a piece of neck, strings lying as in the score: fingers where they press, open and unused strings at the nut. */
export function ShapeView({ voicing: { shape, fingers } }: { voicing: Voicing }) {
  const { look } = useLook();
  const fretted = shape.filter((fret): fret is number => fret !== null && fret > 0);
  const first = fretted.length > 0 && Math.max(...fretted) > 4 ? Math.min(...fretted) : 1;
  const frets = Math.max(4, ...fretted.map((fret) => fret - first + 1));
  const fretWidth = (WIDTH - NUT - 6) / frets;
  const row = (string: number) => (look.top === "lowest" ? shape.length - 1 - string : string) * ROW + 9;
  const height = shape.length * ROW + 18;
  const mirror = look.frets === "right";
  const x = (along: number) => (mirror ? WIDTH - along : along);
  return (
    <svg viewBox={`0 0 ${WIDTH} ${height}`} className="w-full" aria-hidden>
      {Array.from({ length: frets + 1 }, (_, i) => (
        <line
          // biome-ignore lint/suspicious/noArrayIndexKey: frets have no other name
          key={i}
          x1={x(NUT + i * fretWidth)}
          x2={x(NUT + i * fretWidth)}
          y1={9}
          y2={9 + (shape.length - 1) * ROW}
          stroke="var(--ink)"
          strokeOpacity={0.45}
          strokeWidth={i === 0 && first === 1 ? 4 : 1}
        />
      ))}
      {first > 1 && (
        <text x={x(NUT + fretWidth / 2)} y={height - 2} textAnchor="middle" fontSize={11} fill="var(--ink)">
          fret {first}
        </text>
      )}
      {shape.map((fret, s) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: strings have no other name
        <g key={s}>
          <line x1={x(NUT)} x2={x(WIDTH - 6)} y1={row(s)} y2={row(s)} stroke="var(--ink)" strokeOpacity={0.45} strokeWidth={0.8 + s * 0.25} />
          {fret === null && <path d={`M${x(9) - 4} ${row(s) - 4}l8 8m0-8l-8 8`} stroke="var(--ink)" strokeWidth={1.8} />}
          {fret === 0 && <circle cx={x(9)} cy={row(s)} r={4.5} fill="none" stroke="var(--ink)" strokeWidth={1.8} />}
          {fret !== null && fret > 0 && (
            <>
              <circle cx={x(NUT + (fret - first + 0.5) * fretWidth)} cy={row(s)} r={6.8} fill="var(--fretting)" />
              <text
                x={x(NUT + (fret - first + 0.5) * fretWidth)}
                y={row(s) + 4}
                textAnchor="middle"
                fontSize={11}
                fontWeight={800}
                fill="var(--color-secondary-content)"
              >
                {fingers[s] ?? ""}
              </text>
            </>
          )}
        </g>
      ))}
    </svg>
  );
}
