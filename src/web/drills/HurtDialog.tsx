import type { DrillContact } from "../../core/drills/types.ts";
import { SORE_PLACES, type SorePlace } from "../../core/practice/record.ts";
import { touchWords } from "../../core/words/contacts.ts";
import { Dialog } from "../parts/Dialog.tsx";

/** Something hurts: it is noted already. What to do now is rest, or another way to keep the string still; never to go on. */
export function HurtDialog({
  where,
  contact,
  onWhere,
  onLeaveOut,
  onBan,
  onEnd,
  onClose,
}: {
  where: SorePlace | null;
  /** The contact that the drill is about, if another one can take its place. */
  contact: DrillContact | null;
  onWhere(where: SorePlace): void;
  onLeaveOut(): void;
  onBan(contact: DrillContact): void;
  onEnd(): void;
  onClose(): void;
}) {
  return (
    <Dialog title="Stop here" onClose={onClose}>
      <div className="flex flex-col gap-4 text-lg">
        <p>
          It is noted. Put the instrument down, let the arms hang, shake the hands out. Soreness at the fingertips goes with days of rest, before a blister
          forms. Pain, numbness or tingling that comes back or lasts: see a doctor before you play on.
        </p>
        <fieldset>
          <legend className="mb-2 font-bold">Where? (it helps to see whether it comes back)</legend>
          <div className="flex flex-wrap gap-2">
            {SORE_PLACES.map((place) => (
              <button
                key={place}
                type="button"
                className={`btn ${where === place ? "btn-primary" : ""}`}
                aria-pressed={where === place}
                onClick={() => onWhere(place)}
              >
                {place}
              </button>
            ))}
          </div>
        </fieldset>
        <div className="flex flex-col items-stretch gap-2">
          <button type="button" className="btn btn-lg btn-primary" data-first onClick={onEnd}>
            End for today
          </button>
          <button type="button" className="btn btn-lg" onClick={onLeaveOut}>
            Rest, then another drill
          </button>
          {contact && (
            <button type="button" className="btn btn-lg h-auto py-2" onClick={() => onBan(contact)}>
              End, and plan the passage without this: {touchWords(contact)}
            </button>
          )}
        </div>
      </div>
    </Dialog>
  );
}
