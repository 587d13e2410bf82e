import type { Fault } from "../../core/passage/parse.ts";

/** An error that says what is wrong, where, and what to do. */
export function Trouble({
  title,
  says,
  faults = [],
  children,
}: {
  title: string;
  says?: string | undefined;
  faults?: readonly Fault[];
  children?: React.ReactNode;
}) {
  return (
    <div role="alert" className="border-l-4 border-base-content py-1 pl-4">
      <p className="font-bold">{title}</p>
      {says && <p>{says}</p>}
      {faults.length > 0 && (
        <ul className="mt-1 max-h-48 overflow-auto">
          {faults.slice(0, 50).map((fault) => (
            <li key={`${fault.place}${fault.says}`}>
              <span className="font-semibold">{fault.place}</span>: {fault.says}
            </li>
          ))}
        </ul>
      )}
      {children}
    </div>
  );
}
