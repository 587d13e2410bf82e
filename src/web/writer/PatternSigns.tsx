import { PATTERN_EXAMPLES, PATTERN_SIGN_WORDS } from "./pattern-words.ts";

/** Every sign of the pattern line, and lines to try: an example is taken with a press, seen and heard at once. */
export function PatternSigns({ onTake }: { onTake(pattern: string): void }) {
  return (
    <details className="text-sm">
      <summary className="cursor-pointer font-semibold">All signs, with examples</summary>
      <dl className="my-2 grid grid-cols-[auto_1fr] gap-x-3 gap-y-0.5">
        {PATTERN_SIGN_WORDS.map(({ sign, says }) => (
          <div key={sign} className="col-span-2 grid grid-cols-subgrid">
            <dt className="font-mono text-base font-bold">{sign}</dt>
            <dd>{says}</dd>
          </div>
        ))}
      </dl>
      <ul className="space-y-1">
        {PATTERN_EXAMPLES.map(({ pattern, says }) => (
          <li key={pattern}>
            <button type="button" className="w-full rounded-md border border-base-300 px-2 py-1 text-left hover:bg-base-300" onClick={() => onTake(pattern)}>
              <span className="block font-mono text-base font-bold">{pattern}</span>
              <span className="quiet">{says}</span>
            </button>
          </li>
        ))}
      </ul>
    </details>
  );
}
