import type { Judged, Said } from "../../core/take/said.ts";

/** What was measured of a take, for who asks for it. */
export function Figures({ result, said }: { result: Judged; said: readonly Said[] }) {
  const { notes, untold, strokes, tempo, upMs, upDb, clipped } = result;
  const heard = strokes.filter(({ ms }) => ms !== null).length;
  const about = [
    `${tempo} quarters a minute`,
    `${heard} of ${strokes.length} strokes heard`,
    `${notes.length} notes`,
    `${untold.length} places that cannot be told`,
    ...(upMs === null ? [] : [`up-strokes against down-strokes: ${[Math.round(upMs) === 0 ? "even" : inMs(upMs), ...inLoudness(upDb)].join(", ")}`]),
    ...(clipped > 0 ? [`${clipped} samples at the end of the scale`] : []),
  ];
  return (
    <details className="mt-3">
      <summary className="cursor-pointer font-bold">Figures</summary>
      <p className="mt-1">{about.join(" · ")}</p>
      {said.length > 0 && (
        // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls is reached by keys
        <section className="mt-2 overflow-x-auto" tabIndex={0} aria-label="Figures of what was found">
          <table className="table w-auto tabular-nums">
            <thead>
              <tr>
                <th scope="col">place</th>
                <th scope="col">string</th>
                <th scope="col">from, s</th>
                <th scope="col">lasts, ms</th>
                <th scope="col">off its beat</th>
                <th scope="col">against a full pluck</th>
              </tr>
            </thead>
            <tbody>
              {said.map(({ place, says, fromMs, toMs, finding }) => (
                <tr key={`${place} ${says}`}>
                  <th scope="row" className="whitespace-nowrap">
                    {place}
                  </th>
                  <td>{finding?.string ?? "all"}</td>
                  <td>{(fromMs / 1000).toFixed(2)}</td>
                  <td>{toMs > fromMs ? Math.round(toMs - fromMs) : ""}</td>
                  <td className="whitespace-nowrap">{finding?.byMs === undefined ? "" : inMs(finding.byMs)}</td>
                  <td>{finding?.db === undefined ? "" : `${finding.db} dB`}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
    </details>
  );
}

function inMs(ms: number): string {
  return `${Math.abs(Math.round(ms))} ms ${ms < 0 ? "early" : "late"}`;
}

function inLoudness(db: number | null): string[] {
  if (db === null) return [];
  return [Math.round(db) === 0 ? "as loud" : `${Math.abs(Math.round(db))}\u00a0dB ${db < 0 ? "softer" : "louder"}`];
}
