import { scalePoint, scaleSqrt } from "d3-scale";
import { format } from "date-fns";
import type { TakeCounts } from "../../core/practice/takes.ts";
import { useWidth } from "../parts/use-width.ts";

const ROW = 22;
const MARGIN = { left: 62, right: 20, top: 14, bottom: 20 };
/** The latest ones, as many as can be read beside each other. */
const MOST = 24;
const DATES = 6;

/** Take by take, the first one left: how often each string rang that should be still, and how many mistakes there were in all. */
export function TakesChart({ takes }: { takes: readonly TakeCounts[] }) {
  const { ref, width } = useWidth();
  const shown = takes.slice(-MOST);
  const strings = Math.max(1, ...shown.map(({ strays }) => strays.length));
  const height = MARGIN.top + (strings + 1) * ROW + MARGIN.bottom;
  const x = scalePoint(
    shown.map(({ id }) => id),
    [MARGIN.left + 16, width - MARGIN.right],
  ).align(0);
  const most = Math.max(1, ...shown.flatMap(({ strays }) => strays));
  const radius = scaleSqrt([0, most], [0, ROW / 2 - 1]);
  const y = (row: number) => MARGIN.top + (row + 0.5) * ROW;
  const every = Math.ceil(shown.length / DATES);
  const [first, last] = [shown[0]!, shown.at(-1)!];
  const mistakes = ({ wrong }: TakeCounts) => `${wrong} mistake${wrong === 1 ? "" : "s"}`;
  const says = shown.length === 1 ? `one take, ${mistakes(first)}` : `${shown.length} takes, ${mistakes(first)} in the first, ${mistakes(last)} in the last`;
  return (
    <div ref={ref}>
      <svg viewBox={`0 0 ${width} ${height}`} className="w-full" role="img" aria-label={`Strings that rang astray, take by take: ${says}`}>
        {Array.from({ length: strings }, (_, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: strings have their numbers
          <g key={i}>
            <text x={MARGIN.left - 8} y={y(i)} dominantBaseline="central" textAnchor="end" className="fill-current text-xs">
              string {i + 1}
            </text>
            <line x1={MARGIN.left} x2={width - MARGIN.right} y1={y(i)} y2={y(i)} stroke="currentColor" opacity={0.2} />
          </g>
        ))}
        <text x={MARGIN.left - 8} y={y(strings)} dominantBaseline="central" textAnchor="end" className="fill-current text-xs font-bold">
          mistakes
        </text>
        {shown.map(({ id, at, strays, wrong }, i) => (
          <g key={id}>
            {strays.map((many, string) =>
              many === 0 ? null : (
                // biome-ignore lint/suspicious/noArrayIndexKey: strings have their numbers
                <g key={string}>
                  <circle cx={x(id)} cy={y(string)} r={radius(many)} className="fill-base-100" stroke="currentColor" strokeWidth={1.5} />
                  <text x={x(id)} y={y(string)} dominantBaseline="central" textAnchor="middle" className="fill-current text-xs">
                    {many}
                  </text>
                </g>
              ),
            )}
            <text x={x(id)} y={y(strings)} dominantBaseline="central" textAnchor="middle" className="fill-current text-xs font-bold">
              {wrong}
            </text>
            {(shown.length - 1 - i) % every === 0 && (
              <text x={x(id)} y={height - 4} textAnchor="middle" className="fill-current text-xs">
                {format(at, "d MMM")}
              </text>
            )}
          </g>
        ))}
      </svg>
    </div>
  );
}
