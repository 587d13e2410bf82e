import { scaleLinear, scaleTime } from "d3-scale";
import { line } from "d3-shape";
import { format } from "date-fns";
import type { DrillProgress, ProgressPoint } from "../../core/practice/progress.ts";

const [WIDTH, HEIGHT] = [420, 96];
const MARGIN = { left: 34, right: 12, top: 12, bottom: 18 };

/** The tempo that was clean, session by session, against the goal: a dot is filled where all was clean, and a ring where not. */
export function TempoChart({ drill, from, to }: { drill: DrillProgress; from: number; to: number }) {
  const reached = drill.points.filter((point): point is ProgressPoint & { reached: number } => point.reached !== null);
  const goal = drill.points.at(-1)!.goal;
  const tempos = [goal, ...reached.map((point) => point.reached)];
  const x = scaleTime([from, to], [MARGIN.left, WIDTH - MARGIN.right]);
  const y = scaleLinear([Math.min(...tempos) - 4, Math.max(...tempos) + 2], [HEIGHT - MARGIN.bottom, MARGIN.top]);
  const path = line<(typeof reached)[number]>(
    (point) => x(point.at),
    (point) => y(point.reached),
  )(reached);
  const [first, last] = [reached[0], reached.at(-1)];
  const says =
    first && last ? `from ${first.reached} on ${day(first.at)} to ${last.reached} on ${day(last.at)}, goal ${goal}` : `nothing clean yet, goal ${goal}`;
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="w-full max-w-lg" role="img" aria-label={`${drill.title}: ${says}`}>
      <line x1={MARGIN.left} x2={WIDTH - MARGIN.right} y1={y(goal)} y2={y(goal)} stroke="currentColor" strokeDasharray="5 4" opacity={0.7} />
      <text x={MARGIN.left - 5} y={y(goal)} dominantBaseline="central" textAnchor="end" className="fill-current text-xs font-bold">
        {goal}
      </text>
      {first && Math.abs(y(first.reached) - y(goal)) > 14 && (
        <text x={MARGIN.left - 5} y={y(first.reached)} dominantBaseline="central" textAnchor="end" className="fill-current text-xs">
          {first.reached}
        </text>
      )}
      <path d={path ?? ""} fill="none" stroke="currentColor" strokeWidth={2} />
      {drill.points.map((point) => (
        <circle
          key={point.at}
          cx={x(point.at)}
          cy={point.reached === null ? HEIGHT - MARGIN.bottom : y(point.reached)}
          r={4}
          className={point.clean === point.tries ? "fill-current" : "fill-base-100"}
          stroke="currentColor"
          strokeWidth={2}
        />
      ))}
      {x.ticks(4).map((tick) => (
        <text key={tick.getTime()} x={x(tick)} y={HEIGHT - 3} textAnchor="middle" className="fill-current text-xs">
          {format(tick, "d MMM")}
        </text>
      ))}
    </svg>
  );
}

function day(at: number): string {
  return format(at, "d MMMM");
}
