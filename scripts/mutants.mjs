import { spawn } from "node:child_process";
import { cpSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { ROOT } from "./prepare.mjs";

/*
 * Switches off one shape or condition of the engine at a time, in a copy, and runs the tests that
 * state facts of the trade. A mutant that no test notices is a condition nobody defends: exit 1.
 * Arguments pick mutants by a part of their name.
 */

const S = "src/core/shapes/";
const none = (name, file, call, instead = "") => ({ name, file, from: call, to: instead });

const MUTANTS = [
  // What either hand can do.
  none("no underside of the index", `${S}fretting.ts`, "return contacts.length > 0 ? { contacts, hold: HOLD.underside! } : null;", "return null;"),
  none("no fingertip", `${S}fretting.ts`, "if (tip.length > 0) tips.push({ contacts: tip, hold: HOLD.tip! });"),
  none("no flattened finger", `${S}fretting.ts`, "if (flat.length === reach) trebles.push", "if (flat.length > 9) trebles.push"),
  none("no easing", `${S}fretting.ts`, "    contacts.push(...here);\n", ""),
  none("no roll", `${S}fretting.ts`, "return Math.abs(from - press.strings[0]!) === 1 ? from : null;", "return null;"),
  none("no index behind", `${S}fretting.ts`, "  if (!under) return [NOTHING];\n", "  return [NOTHING];\n"),
  none("no spare fingers", `${S}fretting.ts`, "if (contacts.length === run.length)\n      options.push", "if (contacts.length > 9)\n      options.push"),
  none("no laying across", `${S}fretting.ts`, "  if (lay) shapes.push(", "  if (lay && false) shapes.push("),
  none("no slap of the fretting hand", `${S}fretting.ts`, "if (lay && isSlapped(context))", "if (lay && false)"),
  none(
    "no thumb over",
    `${S}fretting.ts`,
    "return contacts.length > 0 ? [NOTHING, { contacts, hold: HOLD.thumb!",
    "return contacts.length > 9 ? [NOTHING, { contacts, hold: HOLD.thumb!",
  ),
  none("no fret wrap", `${S}fretting.ts`, "if (!context.settings.fretWrap) return [];", "return [];"),
  none("one presses, three damp: not", `${S}fretting.ts`, 'if (context.kind !== "electric-bass" || (pressing', "if (true || (pressing"),
  none(
    "no partial barre",
    `${S}fretting.ts`,
    "const trebles: Option[] = [{ contacts: inner, hold: 0 }];",
    "const trebles: Option[] = [{ contacts: [], hold: 0 }];",
  ),
  none(
    "a barre eases only where it pressed",
    `${S}fretting.ts`,
    "const covered = place.finger === 1 && place.strings.length > 1 ? range(Math.min(...place.strings), Math.max(...place.strings)) : place.strings;",
    "const covered = place.strings;",
  ),
  none("no palm", `${S}picking.ts`, "...palmOptions(context, refusals), ", ""),
  none("no chuck hand", `${S}picking.ts`, "...heelOption(context, refusals)]", "]"),
  none("no replant", `${S}picking.ts`, "const side: Option[] = [OFF, ...replantOption(context)];", "const side: Option[] = [OFF];"),
  none("no floating thumb", `${S}picking.ts`, "main.push(...bassThumbOptions(context, refusals));", ""),
  none("no rest stroke on bass", `${S}picking.ts`, "side.push(...restStrokeOption(context), ...parkOption(context));", "side.push(...parkOption(context));"),
  none("no parked finger", `${S}picking.ts`, "side.push(...restStrokeOption(context), ...parkOption(context));", "side.push(...restStrokeOption(context));"),
  none("no thumb return", `${S}picking.ts`, "main.push(...thumbReturnOptions(context, refusals));", ""),
  none("no back of the thumb", `${S}picking.ts`, "const back = s + 1 <= count && !isWanted(context.intents[s]!) ? [s + 1] : [];", "const back: number[] = [];"),
  none("no plant", `${S}picking.ts`, "side.push(...plantOption(context, refusals), ...restStrokeOption(context));", "side.push(...restStrokeOption(context));"),
  none(
    "no rest stroke of fingers on a guitar",
    `${S}picking.ts`,
    "side.push(...plantOption(context, refusals), ...restStrokeOption(context));",
    "side.push(...plantOption(context, refusals));",
  ),
  none("no thumb resting beside the pick", `${S}picking.ts`, "main.push(...pickThumbOptions(context, refusals));", ""),
  none(
    "no edge of the thumb",
    `${S}picking.ts`,
    "side.push(...thumbEdgeOption(context), ...curledFingers(context, refusals));",
    "side.push(...curledFingers(context, refusals));",
  ),
  none(
    "no curled fingers",
    `${S}picking.ts`,
    "side.push(...thumbEdgeOption(context), ...curledFingers(context, refusals));",
    "side.push(...thumbEdgeOption(context));",
  ),
  // Conditions.
  none("touches act on the dead side too", `${S}context.ts`, "return fret > pressedFret(context, string);", "return true;"),
  none(
    "a muffled string may be choked by a finger",
    `${S}context.ts`,
    'return intent === "ring" || intent === "free" || intent === "muffled";',
    'return intent === "ring" || intent === "free";',
  ),
  none(
    "a free string may be choked",
    `${S}context.ts`,
    'return intent === "ring" || intent === "free" || intent === "muffled";',
    'return intent === "ring" || intent === "muffled";',
  ),
  none("a tapping hand damps as well", `${S}context.ts`, 'return step.sounding.some((note) => note?.from === "tap");', "return step === null;"),
  none("no finger is ever busy", `${S}contacts.ts`, "?? Number.POSITIVE_INFINITY) < needMs;", "?? Number.POSITIVE_INFINITY) < -1;"),
  none("nothing chimes", "src/core/acoustics/chime.ts", "if (contacts > 0 && decay < enough * contacts) return n;", ""),
  none("one touch on a node is judged as two", "src/core/acoustics/chime.ts", "decay < enough * contacts", "decay < enough * 2"),
  none("two contacts never chime", `${S}assemble.ts`, "chiming = partial > 0 ? chiming | bit(string) : chiming & ~bit(string);", "chiming &= ~bit(string);"),
  none("a palm at the bridge makes a thud", `${S}assemble.ts`, 'if (contact.part !== "palm") offBridge |= mask;', "offBridge |= mask;"),
  none("the palm goes up to every neighbour", `${S}picking.ts`, 'settings.neighbour === "fingertip" && free > 0 ? free + 2 : free + 1;', "free + 1;"),
  none("the palm school stops short for nothing", `${S}picking.ts`, "muted.length === 0 ? 2 : 0;", "muted.length === 0 ? 0 : 0;"),
  none(
    "the palm lies on strings that ring",
    `${S}picking.ts`,
    'const free = Math.max(0, ...range(1, count).filter((s) => intents[s - 1] === "ring" || intents[s - 1] === "free"));',
    "const free = 0;",
  ),
  none(
    "plucking fingers keep their palm down",
    `${S}picking.ts`,
    'if (context.kind === "electric-bass" && settings.playsWith === "fingers" && stroke && stroke.kind !== "p"',
    'if (context.kind === "electric-bass" && settings.playsWith === "fingers" && stroke && stroke.kind === "a"',
  ),
  none("percussive palm on up-strokes", `${S}picking.ts`, 'stroke?.kind === "up" && crossed > 1', 'stroke?.kind === "pop" && crossed > 1'),
  none("chucks by anything", `${S}picking.ts`, "return heel.length > 0 ? heel : shapes;", "return shapes;"),
  none("ghosts by the picking hand first", `${S}picking.ts`, 'const perStroke = dead.as === "chuck" ? 0 : 60;', "const perStroke = 0;"),
  none(
    "edge school goes through all strings",
    `${S}picking.ts`,
    'settings.chuck === "edge" ? range(Math.max(1, lowest - 3), count) : range(1, count);',
    "range(1, count);",
  ),
  none(
    "release school lets the picking hand chuck",
    `${S}picking.ts`,
    'if (settings.chuck === "release") return refuse(',
    'if (settings.chuck === ("never" as string)) return refuse(',
  ),
  none(
    "a muffled note without a palm",
    `${S}picking.ts`,
    "return shapes.filter((s) => bits(s.muffles & muted) === best);",
    "return shapes.filter((s) => bits(s.muffles & muted) <= best);",
  ),
  none("an anchored thumb travels", `${S}picking.ts`, 'if (settings.bassThumb === "anchored") {', 'if (settings.bassThumb === ("never" as string)) {'),
  none("rest strokes on the wrong side", `${S}picking.ts`, "const rest = thumb ? played - 1 : played + 1;", "const rest = thumb ? played + 1 : played - 1;"),
  none("a plucking thumb returns as well", `${S}picking.ts`, 'if (plucking.has("p")) {', "if (plucking.size > 9) {"),
  none("the little finger reaches for everything", `${S}fretting.ts`, "const near = run.filter((s) => s <= bassMost + 2).slice(0, 1);", "const near = run;"),
  none("reaching over to the bass side is free", `${S}fretting.ts`, "const BASS_SIDE_SPARE = 15;", "const BASS_SIDE_SPARE = 0;"),
  none(
    "an arched index lies flat",
    `${S}fretting.ts`,
    'if (context.settings.index === "arched") return refuseAll(',
    'if (context.settings.index === ("never" as string)) return refuseAll(',
  ),
  none("the thumb goes over unasked", `${S}fretting.ts`, "if (!context.settings.thumbOver) {", "if (context.count > 99) {"),
  // What rings.
  none("no carry-over", "src/core/hazards/hazards.ts", 'if (ended && (was === "ring"', 'if (ended && false && (was === "ring"'),
  none("no pull-off", "src/core/hazards/hazards.ts", "if (ended.pressedFret > 0) add(", "if (ended.pressedFret > 99) add("),
  none("no jolt", "src/core/hazards/hazards.ts", 'if (step.stroke && played !== null) add("jolt"', 'if (step.stroke && played === 999) add("jolt"'),
  none("no extra jolt of slaps", "src/core/acoustics/constants.ts", "slap: 12, pop: 12, chuck: 10, click: 8", "slap: 0, pop: 0, chuck: 0, click: 0"),
  none("no sympathy", "src/core/hazards/hazards.ts", 'if (answer !== null) add("sympathy", answer, 0);'),
  none("no bend", "src/core/hazards/hazards.ts", "if (isShoved(string, step, before.step))", "if (isShoved(string, step, null))"),
  none("bends shove the other side", "src/core/hazards/hazards.ts", "const side = note.string <= 3 ? 1 : -1;", "const side = note.string <= 3 ? -1 : 1;"),
  none(
    "nothing is struck in passing",
    "src/core/timeline/strokes.ts",
    "const span = Array.from({ length: low - high + 1 }, (_, i) => low - i);",
    "const span = [...plucked].sort((a, b) => b - a);",
  ),
  none(
    "bloom never ends",
    "src/core/intent/intent.ts",
    'if (before?.tone !== "open" || !canRingOn(before, hand)) return "quiet";',
    'if (before?.tone !== "open") return "quiet";',
  ),
  none("bloom takes no heed of the harmony", "src/core/intent/intent.ts", "if (chord !== null && !has(chord, pitchClass)) return false;"),
  none("the final chord is damped", "src/core/intent/intent.ts", "before.letRing || lastSound || blooms", "before.letRing || blooms"),
  none("let ring is not heard", "src/core/intent/intent.ts", "before.letRing || lastSound || blooms", "lastSound || blooms"),
  // What it costs.
  none("a second contact is worth nothing", "src/core/plan/costs.ts", "sum += Math.round(risk * fretting.fails[s]! * picking.fails[s]!);"),
  none("holding costs nothing", "src/core/plan/costs.ts", "let sum = Math.round((fretting.hold + picking.hold) * step.lengthMs);", "let sum = 0;"),
  none(
    "no forced move",
    "src/core/plan/costs.ts",
    "if (move.needMs > step.haveMs && !isForced(move, from, step[hand])) return null;",
    "if (move.needMs > step.haveMs) return null;",
  ),
  none("a note need not speak", "src/core/plan/problem.ts", "export const SPEAK_MS = 50;", "export const SPEAK_MS = 0;"),
  none(
    "hands never set out early",
    "src/core/plan/moves.ts",
    "const after = (ms: number) => Math.max(0, ms - early);",
    "const after = (ms: number) => ms + 0 * early;",
  ),
  none("moves cost no effort", "src/core/plan/moves.ts", "sum += Math.round(move.effort * haste * 1000);"),
  none("haste costs nothing", "src/core/plan/moves.ts", "const HASTE = 4;", "const HASTE = 0;"),
  none("a short ring counts", "src/core/acoustics/constants.ts", "export const LEAST_STRAY_MS = 80;", "export const LEAST_STRAY_MS = 1;"),
  none("a soft ring counts", "src/core/acoustics/constants.ts", "export const LEAST_STRAY_DB = 3;", "export const LEAST_STRAY_DB = 0;"),
];

const TESTS = [
  "engine.test.ts",
  "trade.test.ts",
  "silly-plans.test.ts",
  "settings.test.ts",
  "pins.test.ts",
  "verdict/ceiling.test.ts",
  "shapes/shapes.test.ts",
  "acoustics",
  "timeline",
];

const wanted = process.argv.slice(2);
const chosen = MUTANTS.filter(({ name }) => wanted.length === 0 || wanted.some((w) => name.includes(w)));
const survivors = [];
const queue = [...chosen];
await Promise.all([worker(), worker()]);
process.stdout.write(`\n${chosen.length - survivors.length} of ${chosen.length} noticed\n`);
for (const name of survivors) process.stdout.write(`not noticed: ${name}\n`);
process.exit(survivors.length > 0 ? 1 : 0);

/** Takes mutants off the queue in a copy of its own. */
async function worker() {
  const copy = mkdtempSync(path.join(tmpdir(), "mutants-"));
  for (const part of ["src", "demo", "docs", "package.json", "tsconfig.json", "vitest.config.ts"])
    cpSync(path.join(ROOT, part), path.join(copy, part), { recursive: true });
  symlinkSync(path.join(ROOT, "node_modules"), path.join(copy, "node_modules"));
  try {
    for (let mutant = queue.shift(); mutant; mutant = queue.shift()) await judge(copy, mutant);
  } finally {
    rmSync(copy, { recursive: true });
  }
}

async function judge(copy, { name, file, from, to }) {
  const target = path.join(copy, file);
  const original = readFileSync(target, "utf8");
  if (original.split(from).length !== 2) throw new Error(`"${name}" no longer finds its place in ${file}`);
  writeFileSync(
    target,
    original.replace(from, () => to),
  );
  const green = await passes(copy);
  writeFileSync(target, original);
  if (green) survivors.push(name);
  process.stdout.write(`${green ? "SURVIVES" : "noticed "}  ${name}\n`);
}

function passes(copy) {
  const args = ["node_modules/vitest/vitest.mjs", "run", "--bail", "1", ...TESTS.map((t) => `src/core/${t}`)];
  return new Promise((resolve) => {
    const child = spawn(process.execPath, args, { cwd: copy, stdio: "ignore" });
    child.on("exit", (code) => resolve(code === 0));
  });
}
