import { barLength, beatTicks } from "../../music/beats.ts";
import { ticksOf } from "../../music/ticks.ts";
import type { Stroke } from "../../passage/schema.ts";
import { setTone } from "../../passage/tones.ts";
import { strokeDirections } from "../../timeline/strokes.ts";
import { deaden, isPlayed } from "../draft.ts";
import type { RuleFor } from "./rule.ts";
import { EIGHTH, report, times } from "./rule.ts";

/** Notes alone, as a start: dead strokes that hold nothing go, everything else is played open. Strokes in `kept` stay. */
export const plain: RuleFor<"plain"> = (draft, _rule, bars, kept) => {
  let changed = 0;
  for (const b of bars) {
    const bar = draft.bars[b]!;
    bar.strokes = bar.strokes.filter((stroke) => {
      if (stroke.notes.length > 0 || kept.has(stroke.id ?? "")) return true;
      changed++;
      return false;
    });
    for (const stroke of bar.strokes) if (makePlain(stroke)) changed++;
  }
  return report(changed, `${times(changed, "stroke")} back to plain notes`);
};

/** Down and up, where nothing else is written. */
export const strokes: RuleFor<"strokes"> = (draft, { school, order, restart = "never" }, bars) => {
  if (draft.settings.playsWith === "fingers" || draft.settings.playsWith === "slap")
    return report(0, "", "Fingers pluck: down and up are for a pick or a thumb that strums.");
  let changed = 0;
  let place = 0;
  let sounded = 0;
  for (const b of bars) {
    const bar = draft.bars[b]!;
    const open = { ...bar, strokes: bar.strokes.map(({ stroke: _, ...rest }) => rest as Stroke) };
    const ways = strokeDirections(open, { ...draft.settings, playsWith: "pick", strokes: school }, draft.strings);
    if (restart === "bar") place = 0;
    bar.strokes.forEach((stroke, s) => {
      const at = draft.starts[b]! + ticksOf(stroke.at);
      if (restart === "motif" && at > sounded) place = 0;
      sounded = at + ticksOf(stroke.length);
      if (stroke.stroke === "none") return;
      const way = school === "free" && order ? (order[place++ % order.length] === "d" ? "down" : "up") : ways[s]!;
      if (stroke.stroke !== way) changed++;
      stroke.stroke = way;
    });
  }
  const words = {
    pendulum: "as the pendulum swings",
    down: "all down",
    economy: "on the way to the next string",
    free: (order ?? "ddud").toUpperCase().split("").join(" "),
  };
  const anew = school !== "free" || restart === "never" ? "" : restart === "bar" ? ", anew in each bar" : ", anew after each rest";
  return report(changed, `${times(changed, "stroke")} ${words[school]}${anew}`);
};

/** The whole hand swings for single notes: through all strings, of which one sounds. */
export const throughAll: RuleFor<"through-all"> = (draft, _rule, bars) => {
  if (draft.settings.playsWith === "fingers" || draft.settings.playsWith === "slap")
    return report(0, "", "Fingers pluck their strings alone: this is for a pick or a thumb that strums.");
  let changed = 0;
  for (const b of bars)
    for (const stroke of draft.bars[b]!.strokes) {
      if (!isPlayed(stroke) || stroke.notes.length !== 1 || (stroke.notes[0]!.from ?? "stroke") !== "stroke") continue;
      if (stroke.strings?.length === draft.strings) continue;
      stroke.strings = draft.all();
      delete stroke.click;
      changed++;
    }
  return report(
    changed,
    `${times(changed, "single note")} struck through all strings: the others must be damped`,
    "No single note here: chords are strummed already.",
  );
};

/** A dead up-stroke just before every stroke on the beat. */
export const shuffleUps: RuleFor<"shuffle-ups"> = (draft, _rule, bars) => {
  let changed = 0;
  const wanted = new Set(bars);
  for (const b of bars)
    for (const stroke of [...draft.bars[b]!.strokes]) {
      const tick = ticksOf(stroke.at);
      const { meter } = draft.bars[b]!;
      if (!isPlayed(stroke) || tick % beatTicks(meter) !== 0) continue;
      const [bar, at] = tick >= EIGHTH ? [b, tick - EIGHTH] : [b - 1, barLength(draft.bars[b - 1]?.meter ?? meter) - EIGHTH];
      if (!wanted.has(bar)) continue;
      const before = draft.strokeAt(bar, at);
      if (before?.as === "ghost" && before.stroke === "up") continue;
      if (before) {
        deaden(before, "ghost", draft.across(draft.held(bar, at)));
        before.stroke = "up";
      } else draft.dead(bar, at, "ghost", draft.across(draft.held(bar, at)), "up", EIGHTH);
      changed++;
    }
  const straight = draft.passage.feel === "straight" ? " The feel is straight: this groove is swung." : "";
  return report(changed, `${times(changed, "dead up-stroke")}, each just before a down-stroke.${straight}`);
};

function makePlain(stroke: Stroke): boolean {
  const before = JSON.stringify(stroke);
  if (stroke.notes.length > 0) {
    delete stroke.as;
    delete stroke.strings;
  }
  if (stroke.stroke !== "none") delete stroke.stroke;
  delete stroke.accent;
  delete stroke.click;
  for (const note of stroke.notes) setTone(note, "open");
  return JSON.stringify(stroke) !== before;
}
