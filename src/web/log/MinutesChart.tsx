import { scaleBand, scaleLinear } from "d3-scale";
import { addDays, format, isSameDay, startOfDay } from "date-fns";
import { useWidth } from "../parts/use-width.ts";

const HEIGHT = 130;
const MARGIN = { left: 30, right: 4, top: 10, bottom: 20 };
const DAYS = 28;
const DAY_KEY = "yyyy-MM-dd";

export function dayKey(at: Date): string {
  return format(at, DAY_KEY);
}

/** Minutes of practice on each of the last four weeks' days. A day without is a day without: nothing is made of it. */
export function MinutesChart({ minutes, today }: { minutes: ReadonlyMap<string, number>; today: Date }) {
  const days = Array.from({ length: DAYS }, (_, i) => addDays(startOfDay(today), i - DAYS + 1));
  const of = (date: Date) => minutes.get(dayKey(date)) ?? 0;
  const { ref, width } = useWidth();
  const x = scaleBand(days.map(dayKey), [MARGIN.left, width - MARGIN.right]).padding(0.25);
  const y = scaleLinear([0, Math.max(10, ...days.map(of))], [HEIGHT - MARGIN.bottom, MARGIN.top]).nice(3);
  const played = days.filter((date) => of(date) > 0);
  const sum = Math.round(played.reduce((all, date) => all + of(date), 0));
  return (
    <div ref={ref}>
      <svg
        viewBox={`0 0 ${width} ${HEIGHT}`}
        className="w-full"
        role="img"
        aria-label={`Minutes a day over four weeks: ${sum} minutes on ${played.length} day${played.length === 1 ? "" : "s"}`}
      >
        {y.ticks(3).map((tick) => (
          <g key={tick}>
            <line x1={MARGIN.left} x2={width - MARGIN.right} y1={y(tick)} y2={y(tick)} stroke="currentColor" opacity={0.2} />
            <text x={MARGIN.left - 5} y={y(tick)} dominantBaseline="central" textAnchor="end" className="fill-current text-xs">
              {tick}
            </text>
          </g>
        ))}
        {days.map((date, i) => (
          <g key={dayKey(date)}>
            <rect x={x(dayKey(date))} width={x.bandwidth()} y={y(of(date))} height={y(0) - y(of(date))} rx={2} className="fill-current">
              <title>{`${format(date, "d MMMM")}: ${Math.round(of(date))} min`}</title>
            </rect>
            {(i % 7 === 6 || isSameDay(date, today)) && (
              <text
                x={x(dayKey(date))! + (isSameDay(date, today) ? x.bandwidth() : x.bandwidth() / 2)}
                y={HEIGHT - 4}
                textAnchor={isSameDay(date, today) ? "end" : "middle"}
                className="fill-current text-xs"
              >
                {isSameDay(date, today) ? "today" : format(date, "d MMM")}
              </text>
            )}
          </g>
        ))}
      </svg>
    </div>
  );
}
