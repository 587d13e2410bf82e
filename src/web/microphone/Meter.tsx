/** The loudest of a take lies between these: quieter, faint rings drown in the noise; louder, it is cut off. */
const QUIET = 0.08;
const LOUD = 0.95;

/** How loud it comes in (1 at the end of the scale), on a scale of 60 dB with the range that is right marked, and said. */
export function Meter({ peak, loudest }: { peak: number; loudest: number }) {
  const share = (level: number) => Math.min(1, Math.max(0, 1 + (20 * Math.log10(level + 1e-6)) / 60));
  const words = loudest >= LOUD ? "too loud: turn it down" : loudest >= QUIET ? "loud enough" : "too quiet so far: nearer, or turn it up";
  return (
    <div className="flex min-w-60 flex-1 items-center gap-3">
      <svg viewBox="0 0 300 26" className="h-7 w-full max-w-sm" role="img" aria-label="Level of the microphone" preserveAspectRatio="none">
        <rect x={0.5} y={0.5} width={299} height={25} fill="none" stroke="var(--ink)" />
        <rect x={0} y={4} width={300 * share(peak)} height={18} fill="var(--ink)" fillOpacity={0.55} />
        <rect
          x={300 * share(QUIET)}
          y={2}
          width={300 * (share(LOUD) - share(QUIET))}
          height={22}
          fill="none"
          stroke="var(--ink)"
          strokeWidth={2}
          strokeDasharray="4 3"
        />
        <rect x={300 * share(loudest) - 2} y={0} width={4} height={26} fill="var(--ink)" />
      </svg>
      <span className="whitespace-nowrap" role="status">
        {words}
      </span>
    </div>
  );
}
