import type { Gift } from "../../api/wire.ts";

/** What a teacher asks for with a passage that they gave. */
export function Asked({ gift: { by, note, drills } }: { gift: Gift }) {
  if (note === "" && drills.length === 0) return null;
  return (
    <aside aria-label={`From ${by}`} className="mt-4 border-l-4 border-base-content py-1 pl-4">
      {note !== "" && (
        <p className="text-lg whitespace-pre-line">
          <b>{by}:</b> {note}
        </p>
      )}
      {drills.length > 0 && (
        <p>
          {by} asks for: {drills.map(({ title }) => title).join(", ")}.
        </p>
      )}
    </aside>
  );
}
