import { GESTURES, MOVES } from "../../src/core/hands/gestures.ts";
import { KINDS, partOf } from "../../src/core/hands/parts.ts";
import { SCHOOL_KEYS, schoolOf } from "../../src/core/hands/schools.ts";

/** One row or condition of the engine switched off: a text that stands once in a file, and what stands there instead. */
export interface Mutant {
  name: string;
  file: string;
  from: string;
  to: string;
  /** The tests that should notice, where it is none that states a fact of the trade. */
  tests?: readonly string[];
  /** What it stands for; it has to be judged again when this text is another. The file's own text when left out. */
  row?: string;
}

const CORE = "src/core/";
const off = (name: string, file: string, from: string, to = ""): Mutant => ({ name, file: CORE + file, from, to });

/** Every contact of the catalogue refused at the gate. */
const PARTS: Mutant[] = KINDS.filter(({ part }) => part !== "press").map((kind) => ({
  name: `part: no ${kind.hand} ${kind.part}`,
  file: `${CORE}shapes/gate.ts`,
  from: "  const { string } = contact;\n",
  to: `  const { string } = contact;\n  if (contact.hand === "${kind.hand}" && contact.part === "${kind.part}") return "would-choke";\n`,
  row: JSON.stringify(partOf(kind)),
}));

/** Every gesture for nothing and in no time. */
const GESTURES_OFF: Mutant[] = MOVES.map((kind) => ({
  name: `gesture: ${kind} is free`,
  file: `${CORE}hands/gestures.ts`,
  from: "export type MoveKind = keyof typeof GESTURES;",
  to: `GESTURES.${kind}.ms = 0;\nObject.assign(PRICES, { ${kind}: 0 });\nexport type MoveKind = keyof typeof GESTURES;`,
  row: JSON.stringify(GESTURES[kind]) + GESTURES[kind].isForced.toString(),
}));

/** Every school unheard. */
const SCHOOLS_OFF: Mutant[] = SCHOOL_KEYS.map((key) => ({
  name: `school: nobody asks about ${key}`,
  file: `${CORE}hands/schools.ts`,
  from: "chosen[key] ?? defaultSchool",
  to: `(key === "${key}" ? undefined : chosen[key]) ?? defaultSchool`,
  row: JSON.stringify(schoolOf(key)),
}));

const FACTS = ["facts.test.ts"];

const F = "shapes/fretting.ts";
const LEAN = "shapes/lean.ts";
const IDLE = "shapes/idle-fingers.ts";
const P = "shapes/picking.ts";
const PALM = "shapes/palm.ts";

/** Conditions of the shapes. */
const SHAPES: Mutant[] = [
  off("no index behind", LEAN, "  if (!press && held.length === 0 && !home) return [NOTHING];\n", "  if (!press) return [NOTHING];\n"),
  off(
    "the index leans on nothing while it presses",
    LEAN,
    "    return leans(context, press.fret, strings, [], refusals, rolledFrom(context, press));",
    "    return [NOTHING];",
  ),
  off(
    "an idle index lies no further than the strings pressed",
    LEAN,
    "const furthest = presses.length > 0 ? Math.min(context.count, tip) : context.count;",
    "const furthest = presses.length > 0 ? Math.min(bassMostOf(presses), tip) : 1;",
  ),
  { ...off("an index that stays where it pressed lies no further", LEAN, ", ...resting.map((c) => c.string + 1));", ", ...[] as number[]);"), tests: FACTS },
  { ...off("an index that rests reaches no further", LEAN, ", ...resting.map((c) => c.string + 1));", ", ...resting.map((c) => c.string));"), tests: FACTS },
  { ...off("in a rest the thumb lies on any strings", P, "lowestUsed > 0 ? lowestUsed + 1 : followed", "lowestUsed + 1"), tests: FACTS },
  { ...off("idle fingers lie on what resting ones have", IDLE, "open.slice(leading(open, isResting))", "open"), tests: FACTS },
  { ...off("the palm is lifted for a rest", "shapes/situation.ts", "stroke === null && wasMuted", "stroke === null && wasMuted && false"), tests: FACTS },
  off("no tip on the bass side", F, '  return [...contacts, ...touched(context, kind("tip"), [bassMost + 1], place, refusals)];', "  return contacts;"),
  off(
    "fingers leave when their note is over",
    F,
    '    contacts.push(...touched(context, kind("ease"), underBarre({ finger, strings }), { finger, fret }, refusals));\n',
  ),
  off(
    "a finger that bends does other work",
    F,
    "  if ((context.bending & fingerBit(press.finger)) !== 0) {\n    if (trebleMost",
    "  if (context.bending > 99) {\n    if (trebleMost",
  ),
  off("one presses, three damp: not", F, 'if (context.kind !== "electric-bass" || (pressing', "if (true || (pressing"),
  off(
    "no partial barre",
    F,
    'const contacts = touched(context, kind("underside"), between, { ...place, isCovered: true });',
    "const contacts: Contact[] = [];",
  ),
  off("a barre eases only where it pressed", F, "underBarre({ finger, strings }), { finger, fret }", "strings, { finger, fret }"),
  off("idle fingers reach past the grip", IDLE, "const beside = range(1, bassMost > 0 ? bassMost : context.count);", "const beside = range(1, context.count);"),
  off("idle fingers reach across what sounds", IDLE, "if (bassMost > 0 && !isBeside(run)) {", "if (bassMost > 99 && !isBeside(run)) {"),
  off("a finger covers any number of strings", IDLE, "const PER_FINGER = 2;", "const PER_FINGER = 9;"),
  off("an arched index lies flat", LEAN, 'if (settings.index === "arched") return refuse(', 'if (settings.index === ("never" as string)) return refuse('),
  off("the thumb goes over unasked", F, 'if (context.settings.thumbOver === "no") {', "if (context.count > 99) {"),
  off(
    "a wrap comes unasked",
    "shapes/wrap.ts",
    'if (settings.fretWrap === "never") return OFF;',
    'if (settings.fretWrap === ("nobody" as string)) return OFF;',
  ),
  off(
    "a wrap lies under open strings",
    "shapes/wrap.ts",
    "  if (!first) return { on: true, issues: [] };",
    "  if (!first || steps.length > 0) return { on: true, issues: [] };",
  ),
  off(
    "a wrap that is ruled out stays",
    "shapes/wrap.ts",
    'pin.want === "ban" && pin.contact.part === "fret-wrap"',
    'pin.want === "demand" && pin.contact.part === "fret-wrap"',
  ),
  off(
    "a hand that only plays damps as well",
    "shapes/gate.ts",
    'if (damps !== "both" && damps !== contact.hand',
    'if (damps === ("none" as string) && damps !== contact.hand',
  ),
  off("a barre covers nothing while the other hand damps", F, "{ ...place, isCovered: true }", "place"),
  off("no back of the thumb", P, "[s, s + 1].filter(isFree)", "[s].filter(isFree)"),
  off("touches act on the dead side too", "shapes/gate.ts", 'return hand === "aid" ? pressed === 0 : fret > pressed;', "return true;"),
  off("a wanted string may be choked", "shapes/gate.ts", "if (!isWanted(intent)) return null;", "return null;"),
  off(
    "a lone finger leaves a muffled string its pitch",
    "shapes/gate.ts",
    'intent === "muffled" && partOf(contact).muffles && !contact.narrow',
    'intent === "muffled"',
  ),
  off(
    "a free string may be choked",
    "shapes/situation.ts",
    'intent === "ring" || intent === "free" || intent === "muffled"',
    'intent === "ring" || intent === "muffled"',
  ),
  off("a tapping hand damps as well", "shapes/shapes.ts", 'sounding.some((note) => note?.from === "tap")', "sounding.length === 0"),
  { ...off("a tapping hand goes back between taps", "shapes/shapes.ts", "tapping.fill(true, i, next);", "tapping.fill(true, i, i + 1);"), tests: FACTS },
  { ...off("a tapping hand waits for its next tap for ever", "shapes/shapes.ts", "- lengthMs < BETWEEN_TAPS_MS", "- lengthMs < 1e6"), tests: FACTS },
  off(
    "no finger is ever in a hurry",
    "fingering/fingering.ts",
    "if (!hand.presses.some((press) => press.finger === finger)) hurried |=",
    "if (finger === 0) hurried |=",
  ),
  off("nothing follows the pick", "plan/moves.ts", '(to.at.kind === "follow" || to.at.kind === "heel"', '(to.at.kind === "heel"'),
  off("nothing is held through a chuck", "fingering/hand-at.ts", "(isHeldThrough(step, settings) ?", "(isHeldThrough(step, settings) && step.ms < 0 ?"),
  off("a hand that has played nothing is nowhere", "fingering/fingering.ts", "first < 0 ? NOWHERE :", "first < 99 ? NOWHERE :"),
  off("a finger behind another one lets go", "fingering/hand-state.ts", "&& !isBehind(s, fret, before))", "&& !isBehind(s, 99, before))"),
  off(
    "answers are heard like a string's own sound",
    "hazards/excitations.ts",
    "return ANSWERS.has(cause) && isMeant ? LEAST_ANSWER_DB[kind] : LEAST_STRAY_DB;",
    "return cause && isMeant && kind ? LEAST_STRAY_DB : LEAST_STRAY_DB;",
  ),
  off("a rake has to be deadened", "hazards/hazards.ts", 'struck: struck && step.stroke?.as !== "rake",', "struck,"),
  off("a bare string costs nothing", "hands/prices.ts", "  bare: 3,", "  bare: 0,"),
  off("no chime is too faint", "acoustics/chime.ts", ">= AUDIBLE_DB[gain] + LEAST_STRAY_DB;", ">= (AUDIBLE_DB[gain] + LEAST_STRAY_DB) * 99;"),
  off("a palm does not end a chime", "plan/costs.ts", " | (fretting.chimes & picking.damps)) & step.struck)", ") & step.struck)"),
  off(
    "the palm goes up to every neighbour",
    PALM,
    'const near = option(beside + 1, settings.neighbour === "palm" ? 0 : PRICES.offSchool);',
    "const near = option(beside + 1, 0);",
  ),
  off(
    "the palm school stops short for nothing",
    PALM,
    'const short = option(beside + 2, settings.neighbour === "palm" ? PRICES.offSchool : 0);',
    "const short = option(beside + 2, 0);",
  ),
  off(
    "the palm does not stop at strings that ring",
    PALM,
    "const free = Math.max(0, ...range(1, count).filter((s) => isOpenlyWanted(context, s)));",
    "const free = 0;",
  ),
  off(
    "plucking fingers keep their palm down",
    PALM,
    'settings.playsWith === "fingers" && stroke !== null && stroke.kind !== "p"',
    'settings.playsWith === "fingers" && stroke !== null && stroke.kind === "a"',
  ),
  off("percussive palm on up-strokes", PALM, 'stroke?.kind === "up" && stroke.crossed.length > 1', 'stroke?.kind === "pop" && stroke.crossed.length > 1'),
  off("chucks by anything", P, "return heel.length > 0 ? heel : shapes;", "return shapes;"),
  off("ghosts by the picking hand as well", PALM, 'if (settings.damps !== "picking" && stroke.as !== "chuck")', 'if (settings.damps === ("none" as string))'),
  off("edge school goes through all strings", PALM, 'settings.chuck === "edge" ? range(Math.max(1, lowest - 3), count) : range(1, count);', "range(1, count);"),
  off(
    "release school lets the picking hand chuck",
    PALM,
    'if (settings.chuck === "release") return refuse(',
    'if (settings.chuck === ("never" as string)) return refuse(',
  ),
  off(
    "a muffled note without a palm",
    P,
    "return shapes.filter((s) => bitCount(s.muffles & muted) === best);",
    "return shapes.filter((s) => bits(s.muffles & muted) <= best);",
  ),
  off("an anchored thumb travels", P, 'if (settings.bassThumb === "anchored") {', 'if (settings.bassThumb === ("never" as string)) {'),
  off("rest strokes on the wrong side", P, "(thumb ? -1 : 1)", "(thumb ? 1 : -1)"),
  off("a plucking thumb returns as well", P, "  if (own) {", "  if (own && own.length > 9) {"),
];

const FINGERS = ["fingering/fingering.test.ts"];
const HELD = ["grips/grips.test.ts"];

/** What the hand keeps down. */
const GRIPS: Mutant[] = [
  off(
    "a grip presses nothing that is not struck",
    "fingering/hand-at.ts",
    "  if (!isDown(held, sounding)) return NO_PLACES;",
    "  if (!isDown(held, sounding) || sounding.length > 0) return NO_PLACES;",
  ),
  {
    ...off("nobody goes over to a chord in a scratch", "fingering/fingering.ts", "coming[i] !== null && neck", "coming[i] !== null && false && neck"),
    tests: FACTS,
  },
  {
    ...off("fingers go over for one note", "fingering/fingering.ts", "(grips[i]?.notes.length ?? 0) > 1;", "(grips[i]?.notes.length ?? 0) > 0;"),
    tests: FACTS,
  },
  off("a grip is pressed in a rest", "grips/grips.ts", 'sounding.some((note) => note !== null && note.tone !== "ghost");', "sounding.length > 0;"),
  off(
    "a held string is no part of the harmony",
    "intent/intent.ts",
    '    if ((isDown(held, step.sounding) || (held && bloomsOn)) && placeHeld(held, step.sounding, s + 1)) return "free";\n',
    "",
  ),
  off("a note may sound behind a held one", "grips/grips.ts", "if (place && place.fret > note.pressedFret)", "if (place && place.fret > 99)"),
  { ...off("a finger jumps in a line", "fingering/path.ts", "const HOP = 1.25;", "const HOP = 0;"), tests: FINGERS },
  { ...off("a slide may change fingers", "fingering/path.ts", "(n.fret === fret || isSlid)", "n.fret === fret"), tests: FINGERS },
  { ...off("after a rest it still jumps", "fingering/path.ts", "return !isFree && before!", "return before!"), tests: FINGERS },
  { ...off("a pair beside open strings is held from the index", "grips/hold.ts", "fingers.includes(1) || isPair ?", "fingers.includes(1) ?"), tests: FINGERS },
  off("six strings are plucked by four fingers", "timeline/timeline.ts", "const MOST_PLUCKED = 4;", "const MOST_PLUCKED = 8;"),
];

/** What sets strings going, and what it costs. */
const STAGES: Mutant[] = [
  off("nothing chimes", "acoustics/chime.ts", "if (contacts > 0 && decay < enough * contacts) return n;", ""),
  off("one touch on a node is judged as two", "acoustics/chime.ts", "decay < enough * contacts", "decay < enough * 2"),
  off("no carry-over", "hazards/hazards.ts", "if (ended && isMeant(was))", "if (ended && false && isMeant(was))"),
  off("no pull-off", "hazards/hazards.ts", "if (ended.pressedFret > 0) fresh =", "if (ended.pressedFret > 99) fresh ="),
  off("no jolt", "hazards/hazards.ts", "if (step.stroke && played !== null) {", "if (step.stroke && played === 999) {"),
  off("no extra jolt of slaps", "acoustics/constants.ts", "slap: 12, pop: 12, chuck: 10, click: 8", "slap: 0, pop: 0, chuck: 0, click: 0"),
  off("no sympathy", "hazards/hazards.ts", 'if (answer !== null) fresh = withOne(fresh, excited("sympathy", answer, string, 0, step, model));'),
  off("no bend", "hazards/hazards.ts", "if (isShoved(string, step, before))", "if (isShoved(string, step, null))"),
  off("bends shove the other side", "passage/bends.ts", 'side: towards === "bass" ? 1 : -1', 'side: towards === "bass" ? -1 : 1'),
  off(
    "a bend let back lets go at its end",
    "hazards/hazards.ts",
    "if (back === 0) return turnOf(note) === step.tick;",
    "if (back === 0) return note.end === step.tick;",
  ),
  off("a bend that goes on lets go between", "hazards/hazards.ts", "return !next?.bend || next.bend.from === 0;", "return true;"),
  off("all palm mutes are alike", "shapes/palm.ts", "palm[mutes[s - 1] ?? (", "palm[("),
  off("what has died away is a measure", "hazards/hazards.ts", "else if (now > struck - DIED_AWAY_DB) take(now);", "else take(now);"),
  off(
    "nothing is struck in passing",
    "timeline/strokes.ts",
    "const span = Array.from({ length: low - high + 1 }, (_, i) => low - i);",
    "const span = [...plucked].sort((a, b) => b - a);",
  ),
  off("half pairs swing at the end of a bar", "timeline/clock.ts", "  if (base + pair > bar) return inBar;\n"),
  off("bloom never ends with the finger", "intent/intent.ts", 'if (before?.tone === "open" && canRingOn(before, hand)) {', 'if (before?.tone === "open") {'),
  off("bloom takes no heed of the harmony", "intent/intent.ts", "if (chord !== null && !has(chord, pitchClass)) return false;"),
  off("the final chord is damped", "intent/intent.ts", "before.letRing || lastSound || blooms", "before.letRing || blooms"),
  { ...off("a dead stroke leaves the last note ringing", "timeline/ending.ts", "isShort || isStopped ?", "isShort ?"), tests: FACTS },
  { ...off("a last chord that is short rings on", "timeline/ending.ts", "isShort || isStopped ?", "isStopped ?"), tests: FACTS },
  { ...off("the hand leaves what is left ringing", "fingering/hand-at.ts", "  if (ringsOut) return presses;\n", ""), tests: FACTS },
  {
    ...off("a rest lets a blooming chord go", "fingering/hand-at.ts", 'ring !== "bloom" && !(isChucked && isStruckNext)', "!(isChucked && isStruckNext)"),
    tests: FACTS,
  },
  {
    ...off("a rest after a chuck lets the chord go", "fingering/hand-at.ts", 'ring !== "bloom" && !(isChucked && isStruckNext)', 'ring !== "bloom"'),
    tests: FACTS,
  },
  {
    ...off("two fingers lie at one place", "fingering/hand-at.ts", "if (isTaken(place)) places.delete(finger);", "if (!place) places.delete(finger);"),
    tests: FACTS,
  },
  {
    ...off(
      "a barre is put down again under every note",
      "fingering/hand-at.ts",
      "places.set(press.finger, behind(press, before, presses));",
      "places.set(press.finger, press);",
    ),
    tests: FINGERS,
  },
  {
    ...off("nothing is down under a tapped note", "fingering/hand-at.ts", 'if (note?.from !== "tap") continue;', "if (note !== undefined) continue;"),
    tests: FACTS,
  },
  {
    ...off("a finger rolls off a string that it had left", "fingering/hand-at.ts", "if (before && (neck.away & fingerBit(press.finger)) === 0)", "if (before)"),
    tests: FACTS,
  },
  { ...off("a dead note on bass takes every finger along", "shapes/fretting.ts", "& ~elsewhere;", "& ~0;"), tests: FACTS },
  { ...off("an arpeggio with a pick is a line", "grips/windows.ts", '(isArpeggio && settings.gain === "clean")', "false"), tests: HELD },
  { ...off("an arpeggio rings on under gain", "grips/windows.ts", '(isArpeggio && settings.gain === "clean")', "isArpeggio"), tests: HELD },
  {
    ...off("one finger hops through an arpeggio", "grips/windows.ts", "!isChord && !isArpeggio && !broken", "!isChord && !broken"),
    tests: HELD,
  },
  { ...off("a chuck's chord is put down for it alone", "grips/windows.ts", "const isFree = fret > 0 &&", "const isFree = fret > FRETS &&"), tests: HELD },
  {
    ...off(
      "a tip lands on an open string through a chuck",
      "shapes/situation.ts",
      'if (!stroke || stroke.as === "play" || presses.length === 0) return 0;',
      "if (!stroke || presses.length >= 0) return 0;",
    ),
    tests: ["script/sentences.test.ts"],
  },
  {
    ...off(
      "a thumb beside the pick is said at every string",
      "script/habits.ts",
      "now.thumbFollows === CLOSE ? lowestRinging + CLOSE :",
      "now.thumbFollows === 99 ? lowestRinging + CLOSE :",
    ),
    tests: ["script/sentences.test.ts"],
  },
  { ...off("a palm follows chords unasked", "script/habits.ts", "(now.palmSaid || isLine)) put", "now.count > 0) put"), tests: ["script/sentences.test.ts"] },
  {
    ...off("slurs are said string by string", "script/actions.ts", "if (same < 0) all.push(slur);", "if (same !== -2) all.push(slur);"),
    tests: ["script/sentences.test.ts"],
  },
  {
    ...off(
      "a finger that is off is said to let go",
      "words/actions.ts",
      'action.does === "let-go" && off.includes(action.by)',
      'action.does === "let-go" && off.length < 0',
    ),
    tests: ["script/sentences.test.ts"],
  },
  { ...off("a tune ends the chord under it", "grips/windows.ts", "(tune.size === 0 || isOver)", "tune.size === 0"), tests: FACTS },
  { ...off("a run is a tune over a chord", "grips/windows.ts", "tune.size <= 2 && steady.some((note) => again.has(note))", "tune.size <= 2"), tests: FACTS },
  {
    ...off(
      "two chords are one with a tune",
      "grips/windows.ts",
      "music.chords.every((chord) => steady.every((note) => chord.has(note)))",
      "music.chords !== null",
    ),
    tests: ["engine.test.ts"],
  },
  {
    ...off("two places that alternate are a line", "grips/windows.ts", "broken && notes.every((note) => again.has(note))", "broken && notes.length < 0"),
    tests: FACTS,
  },
  {
    ...off(
      "a barre leaves what the tune goes over",
      "grips/windows.ts",
      "steady.includes(note) || isBarred(note, n)",
      "steady.includes(note) || isBarred(note, -1)",
    ),
    tests: FACTS,
  },
  { ...off("a barre arches back over open strings", "grips/hold.ts", "const ARCHED_BACK = 5;", "const ARCHED_BACK = 0;"), tests: FINGERS },
  { ...off("a finger that rolled is told off again", "script/habits.ts", '"heel", "roll", "slap"]', '"heel", "slap"]'), tests: ["script/sentences.test.ts"] },
  {
    ...off("a barre at rest is told at every stroke", "script/habits.ts", "home ? underBarre(home) : []", "home ? home.strings : []"),
    tests: ["script/sentences.test.ts"],
  },
  {
    ...off("an open chord is told anew at every press", "script/habits.ts", "  if (again) {\n", "  if (again?.presses[99]) {\n"),
    tests: ["script/sentences.test.ts"],
  },
  {
    ...off(
      "the finger of a tune keeps its note through a rest",
      "fingering/hand-at.ts",
      "return own.length === presses.length ? presses : own;",
      "return presses;",
    ),
    tests: FACTS,
  },
  off("let ring is not heard", "intent/intent.ts", "before.letRing || lastSound || blooms", "lastSound || blooms"),
  off(
    "a wrap stops nothing that begins",
    "plan/string-stakes.ts",
    "const fresh = row.onlyShaken && (wrapped & bit(s + 1)) !== 0 ? 0 : row.fresh;",
    "const fresh = row.fresh;",
  ),
  off(
    "a wrap stops everything",
    "plan/string-stakes.ts",
    "const fresh = row.onlyShaken && (wrapped & bit(s + 1)) !== 0 ? 0 : row.fresh;",
    "const fresh = (wrapped & bit(s + 1)) !== 0 ? 0 : row.fresh;",
  ),
  off(
    "a second contact is worth nothing",
    "plan/costs.ts",
    "sum += Math.round(price * step.strings[s]!.risk * fretting.fails[s]! * picking.fails[s]!);",
    "sum += 0;",
  ),
  off("holding costs nothing", "plan/costs.ts", "let sum = Math.round((fretting.hold + picking.hold) * step.lengthMs);", "let sum = 0;"),
  off(
    "no forced move",
    "plan/costs.ts",
    "for (const move of priced.late) if (!isForced(move, from, next)) return null;",
    "if (priced.late.length > 0) return null;",
  ),
  off("a note need not speak", "plan/problem.ts", "export const SPEAK_MS = 50;", "export const SPEAK_MS = 0;"),
  off("hands never set out early", "plan/moves.ts", "needMs: Math.max(0, takesMs - moreMs),", "needMs: takesMs + 0 * moreMs,"),
  off("moves cost no effort", "plan/moves.ts", "sum += Math.round(effort * haste * 1000);", "sum += Math.round(0 * effort * haste);"),
  off(
    "any plan is caught up with by a cheaper one",
    "plan/planner.ts",
    "rows[row + EFFORT]! - plan.effort - fretting[f + 1]! - picking[p + 1]! ||",
    "rows[row + EFFORT]! - plan.effort ||",
  ),
  {
    ...off("plans catch up whatever they leave ringing", "plan/planner.ts", "  if (!memoryWithin(plan.memory, rows[row + MEMORY]!)) return false;\n"),
    tests: ["plan/planner.highs.test.ts"],
  },
  {
    ...off(
      "frontiers coincide wherever they lead",
      "plan/cache.ts",
      "  if (a.onward?.fretting !== b.onward?.fretting || a.onward?.picking !== b.onward?.picking) return null;\n",
    ),
    tests: ["plan/cache.test.ts"],
  },
  off("at another tempo a note need not speak", "verdict/keeping-up.ts", "move.takesMs + speakMs - ", "move.takesMs + 0 * speakMs - "),
  {
    ...off(
      "at another tempo hands never set out early",
      "verdict/keeping-up.ts",
      "return Math.max(sinceMs / needs, (sinceMs + restMs) / (needs + restSpeakMs));",
      "return sinceMs / (needs + 0 * (restMs + restSpeakMs));",
    ),
    tests: ["verdict/limits.test.ts"],
  },
  {
    ...off(
      "a finger that waits under a tap is said to press",
      "script/actions.ts",
      "again.filter((press) => lettingGo.some((was) => isFreed(press, was, tapped)))",
      "again.filter((press) => lettingGo.some((was) => isFreed(press, was, [])))",
    ),
    tests: ["script/sentences.test.ts"],
  },
  {
    ...off(
      "what two lists have in common at their ends overlaps",
      "caching/fold.ts",
      "Math.min(suffix, this.count - prefix, cache.outs.length - prefix)",
      "suffix",
    ),
    tests: ["caching/fold.test.ts"],
  },
  {
    ...off(
      "steps are as long as what lies between their rounded places",
      "timeline/timeline.ts",
      "lengthMs: toThousandths(endsMs - beginsMs)",
      "lengthMs: toThousandths(toThousandths(endsMs) - toThousandths(beginsMs))",
    ),
    tests: ["timeline/timeline.test.ts"],
  },
  {
    ...off("an idle hand forgets how long", "plan/problem.ts", "toThousandths(earlier.pressedNothingMs + step.lengthMs)", "step.lengthMs"),
    tests: ["plan/problem.test.ts"],
  },
  {
    ...off("a shape put down passes on the shape before", "script/known.ts", " || actions.some(mayMoveShape)) return undefined;", ") return undefined;"),
    tests: ["script/sentences.test.ts"],
  },
  {
    ...off("a hand that lets go passes on how it lay", "script/known.ts", "if (before.presses.length > 0 !== isPressing || actions", "if (actions"),
    tests: ["script/sentences.test.ts"],
  },
  {
    ...off("an old shape is passed on", "script/known.ts", "shape: after.presses.length > 1 ? after.shape : now.shape", "shape: after.shape"),
    tests: ["script/sentences.test.ts"],
  },
  off("haste costs nothing", "plan/moves.ts", "const HASTE = 4;", "const HASTE = 0;"),
  off("a short ring counts", "acoustics/constants.ts", "export const LEAST_STRAY_MS = 80;", "export const LEAST_STRAY_MS = 1;"),
  off("a soft ring counts", "acoustics/constants.ts", "export const LEAST_STRAY_DB = 3;", "export const LEAST_STRAY_DB = 0;"),
];

export const MUTANTS: readonly Mutant[] = [...PARTS, ...GESTURES_OFF, ...SCHOOLS_OFF, ...SHAPES, ...GRIPS, ...STAGES];
