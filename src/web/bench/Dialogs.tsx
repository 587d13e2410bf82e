import { useDispatch } from "react-redux";
import type { ChordShape } from "../../core/chords/chord-shape.ts";
import { applyEdit, type Edit, type Place } from "../../core/edit/edit.ts";
import { excerptOf } from "../../core/edit/excerpt.ts";
import { gripAt, gripHolding, shownGripAt } from "../../core/edit/grips.ts";
import { placeAt, ticksAt } from "../../core/edit/range.ts";
import { fractionOf, type Ticks } from "../../core/music/ticks.ts";
import type { Passage, Stroke } from "../../core/passage/schema.ts";
import { gripWords } from "../../core/words/grips.ts";
import { edit } from "../store/editing.ts";
import type { Dispatch } from "../store/root.ts";
import { ChordDialog } from "./ChordDialog.tsx";
import { MoveDialog } from "./MoveDialog.tsx";
import { PassageDialog } from "./PassageDialog.tsx";
import { barRange, type Range } from "./selection.ts";

export type OpenDialog = "passage" | "chord" | "move" | null;

/** The dialog that is open on the bench, if one is. */
export function Dialogs({
  open,
  passage,
  cursor: { bar, tick },
  range,
  stroke,
  length,
  onClose,
}: {
  open: OpenDialog;
  passage: Passage;
  cursor: Place;
  range: Range | null;
  stroke: Stroke | null;
  /** Of a chord that is put where nothing stands. */
  length: Ticks;
  onClose(): void;
}) {
  const dispatch = useDispatch<Dispatch>();
  const change = (made: Edit) => dispatch(edit(made));
  if (open === "passage") return <PassageDialog passage={passage} bar={Math.min(bar, passage.bars.length - 1)} onEdit={change} onClose={onClose} />;
  if (open === "move") return <MoveDialog passage={passage} range={range ?? barRange(passage, { bar, tick })} onEdit={change} onClose={onClose} />;
  if (open !== "chord") return null;
  const place = { bar, tick };
  const begun = gripAt(passage, place);
  const held = begun ?? gripHolding(passage, place);
  const at = ticksAt(passage, place);
  const shown = held ? null : shownGripAt(passage, at);
  const where = range ?? { from: at, to: at + 1 };
  const strings = passage.instrument.tuning.length;
  /** The bars around it with a chord in place. */
  const tried = (name: string | null, shape: ChordShape): Passage | null => {
    const draft = structuredClone(passage);
    if (!applyEdit(draft, { kind: "set-chord", ...where, length, name, shape })) return null;
    return excerptOf(draft, bar - 1, (placeAt(draft, where.to - 1)?.bar ?? bar) + 1);
  };
  return (
    <ChordDialog
      passage={passage}
      stroke={stroke}
      isRange={range !== null}
      tried={tried}
      onTake={(name, shape) => change({ kind: "set-chord", ...where, length, name, shape })}
      grip={held ? { says: gripWords(held, strings), beginsHere: begun !== undefined } : null}
      shown={shown ? gripWords(shown.grip, strings) : null}
      onTakeOver={() => change({ kind: "take-over-grips", from: at })}
      onGrip={(grip) => change({ kind: "set-grip", place, grip: grip && { ...grip, at: fractionOf(tick) } })}
      onClose={onClose}
    />
  );
}
