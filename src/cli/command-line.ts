import { closeSync, openSync, readFileSync, renameSync, rmSync, writeFileSync, writeSync } from "node:fs";
import { parseArgs } from "node:util";
import { heardStrays } from "../core/document/plan.ts";
import { drillsOf } from "../core/drills/drills.ts";
import { finished, planStages, refinger, wholePlan } from "../core/engine.ts";
import { extensionOf, type FileOptions, readBytes, writeBytes } from "../core/formats/files.ts";
import { MIDI_GRIDS } from "../core/formats/midi/grids.ts";
import { STAVES } from "../core/formats/written.ts";
import { parsePassage } from "../core/passage/parse.ts";
import { repeated } from "../core/passage/repeated.ts";
import type { Passage } from "../core/passage/schema.ts";
import { readMistakes } from "../core/perform/mistakes.ts";
import { perform } from "../core/perform/perform.ts";
import { barsWords } from "../core/refinger/refinger.ts";
import { Rendering } from "../core/sound/render.ts";
import { DAMPINGS } from "../core/sound/score.ts";
import { WAV_DEPTHS, wavHeader, wavPadding, wavSamples } from "../core/sound/wav.ts";
import { readWav } from "../core/sound/wav-read.ts";
import { saidOf, summaryOf } from "../core/take/said.ts";
import { judgingWhole } from "../core/take/times.ts";
import { drillsText } from "./drills-text.ts";
import { planText } from "./plan-text.ts";

/** Exit codes: 0 done, 1 usage, 2 bad input, 3 stray rings remain (--strict). */
const USAGE = `Usage: npm run --silent cli -- COMMAND FILE … [options]

FILE is a passage document, MusicXML (.musicxml, .mxl), MIDI or plain-text tablature.

plan FILE           plans its damping
  --json            the plan document on stdout and nothing else
  --strict          exit 3 when stray rings remain
  --why             reasons for every contact that is not used

render FILE OUT.wav what is heard, as sound
  --damping WHAT    planned (default), none, fretting or picking
  --string N        this string alone
  --depth WHAT      16 (default), 24 or float

convert IN OUT      between formats, by OUT's extension: resthand.json, musicxml, mxl,
                    mid, txt (tablature), csv and svg (the plan as a table, as a sheet)
  --part N          which part or voice of IN, from 1
  --grid UNIT       where the notes of a MIDI file begin: 1/8, 1/12, 1/16, 1/24 or 1/32 (default)
  --with-plan       the strings each hand damps as words in a score
  --staves WHICH    of a score: both (notes over tablature), tab, notes

perform FILE OUT.wav  the plan as somebody plays it, with mistakes; what they are goes to OUT.json
  --mistakes SPEC   such as stray=2,silent=1,late=1,drift=3,noise=40,room=0.3: how many contacts
                    are left out (stray), land late (overlap) or lie too lightly (light), muffled notes ring (open), notes never
                    speak (silent) or end early (hole), strokes come late, chucks off their beat
                    (chuck); upMs, upDb of up-strokes; drift in %, jitter in ms; noise in dB below
                    the music, room in s; times it is played
  --seed N          another N, other places; 1 unless given

take FILE AUDIO.wav   what the hands really did in a recording of the passage
  --json            the findings as a document

drills FILE         what to practise, out of the plan
  --minutes N       5 to 240, 20 unless given
  --json            the drills as a document, each with its passage

refinger FILE       other fingers and places for the whole passage, what changed, stray rings before and after
  -o OUT            writes the passage document there

check DIR           reads every row of a data directory and every backup beside it, and changes nothing
restore ZIP DIR     the library of a backup in place of the one in a data directory, which is set aside
library move A B    a library from one data directory, or URL of a PostgreSQL server, into another that is empty
people add NAME     an account, on DATABASE_URL or in DATA_DIR; the passphrase is asked for, or read from the
                    standard input. Also: people list, people passphrase NAME, people remove NAME

For each passage:
  --tempo N         quarters a minute instead of the passage's tempo
  --set KEY=VALUE   a player setting, or gain, or ring; may be repeated`;

/** Samples rendered and written in one go: memory stays small however long the passage is. */
const RENDERED_AT_ONCE = 1 << 16;

type Values = ReturnType<typeof readArgs>["values"];

/** What a command is: the options that are its own, how many files it takes, and what it does with the passage. */
interface Command {
  files: string;
  own: readonly (keyof Values)[];
  run(io: Io, passage: Passage, out: string, values: Values): number;
}

const COMMANDS: Readonly<Record<string, Command>> = {
  plan: { files: "one file", own: ["json", "strict", "why"], run: (io, passage, _, values) => plan(io, passage, values) },
  refinger: { files: "one file", own: ["out"], run: (io, passage, _, values) => refingered(io, passage, values) },
  drills: { files: "one file", own: ["json", "minutes"], run: (io, passage, _, values) => drills(io, passage, values) },
  convert: { files: "two files", own: ["part", "grid", "with-plan", "staves"], run: convert },
  render: { files: "two files", own: ["damping", "string", "depth"], run: render },
  take: { files: "two files", own: ["json"], run: taken },
  perform: { files: "two files", own: ["mistakes", "seed"], run: performed },
};

/** Where a command writes. */
export interface Io {
  out(text: string): void;
  err(text: string): void;
}

/** Runs a command line and gives its exit code. */
export function run(args: string[], io: Io): number {
  let parsed: ReturnType<typeof readArgs>;
  try {
    parsed = readArgs(args);
  } catch (error) {
    return usage(io, (error as Error).message);
  }
  const { values, positionals } = parsed;
  if (values.help) {
    io.out(`${USAGE}\n`);
    return 0;
  }
  const [name, file, out, ...rest] = positionals;
  const command = name && Object.hasOwn(COMMANDS, name) ? COMMANDS[name]! : null;
  if (!command) return usage(io, name ? `unknown command "${name}"` : "no command");
  if (!file || rest.length > 0 || (out === undefined) === (command.files === "two files")) return usage(io, `${name} takes ${command.files}`);
  const strange = Object.keys(values).find((key) => !["tempo", "set", "part", "grid"].includes(key) && !command.own.includes(key as keyof Values));
  if (strange) return usage(io, `${name} has no --${strange}`);
  const part = values.part === undefined ? undefined : Number(values.part) - 1;
  if (part !== undefined && !(Number.isInteger(part) && part >= 0)) return usage(io, "--part is a number from 1");
  const grid = MIDI_GRIDS.find((unit) => unit === values.grid);
  if (values.grid !== undefined && !grid) return usage(io, `--grid is one of ${MIDI_GRIDS.join(", ")}`);
  const read = readFile(io, file, { part, grid });
  if (typeof read === "number") return read;
  const changed = withOptions(read, values);
  if (typeof changed === "string") return usage(io, changed);
  return command.run(io, changed, out ?? "", values);
}

function plan(io: Io, passage: Passage, values: Values): number {
  const plan = wholePlan(passage, { why: values.why ? "everything" : "strays" });
  io.out(values.json ? `${JSON.stringify(plan, null, 2)}\n` : planText(passage, plan));
  return values.strict && heardStrays(plan).length > 0 ? 3 : 0;
}

function drills(io: Io, passage: Passage, { json, minutes = "20" }: Values): number {
  const many = Number(minutes);
  if (!Number.isInteger(many) || many < 5 || many > 240) return usage(io, "--minutes is a whole number from 5 to 240");
  const found = drillsOf(wholePlan(passage, { why: "nothing" }), passage, [], many);
  io.out(json ? `${JSON.stringify(found, null, 2)}\n` : drillsText(passage.title, found));
  return 0;
}

function refingered(io: Io, passage: Passage, { out }: Values): number {
  const { passage: found, changes, before, after, places } = finished(refinger(passage));
  const said = changes.flatMap(({ bars, says }) => says.map((line) => `${barsWords(bars)}, ${line}.`));
  const lines = [...said, `Stray rings before: ${before.length}, after: ${after.length}`];
  const percent = places.bound > 0 ? Math.ceil((100 * (places.cost - places.bound)) / places.bound) : 0;
  lines.push(`Places along the hand's way: ${percent === 0 ? "none cheaper" : `at most ${percent}% dearer than the cheapest`}`);
  if (changes.length === 0) lines.unshift("Nothing to change: no other finger or place does better.");
  if (out !== undefined) {
    const failed = written(io, out, `${JSON.stringify(found, null, 2)}\n`);
    if (failed !== 0) return failed;
  }
  io.out(`${lines.join("\n")}\n`);
  return 0;
}

/** Says that a file cannot be written and leaves nothing half-written behind. */
function unwritable(io: Io, out: string, error: unknown): number {
  rmSync(`${out}.part`, { force: true });
  if (!(error as NodeJS.ErrnoException).syscall) throw error;
  io.err(`${out}: cannot be written (${(error as NodeJS.ErrnoException).code})\n`);
  return 2;
}

function render(io: Io, passage: Passage, out: string, values: Values): number {
  const damping = oneOf(DAMPINGS, values.damping ?? "planned");
  const depth = oneOf(WAV_DEPTHS, values.depth ?? "16");
  const string = values.string === undefined ? undefined : Number(values.string);
  if (!damping) return usage(io, `--damping is ${DAMPINGS.join(", ")}, not "${values.damping}"`);
  if (!depth) return usage(io, `--depth is ${WAV_DEPTHS.join(", ")}, not "${values.depth}"`);
  const { length: strings } = passage.instrument.tuning;
  if (string !== undefined && !(Number.isInteger(string) && string >= 1 && string <= strings)) return usage(io, `--string is 1 to ${strings}`);
  const rendering = new Rendering(passage, planStages(passage), { damping, string });
  const unfinished = `${out}.part`;
  try {
    const file = openSync(unfinished, "w");
    try {
      writeSync(file, wavHeader(rendering.length, rendering.sampleRate, depth));
      for (let piece = rendering.take(RENDERED_AT_ONCE); piece; piece = rendering.take(RENDERED_AT_ONCE)) writeSync(file, wavSamples(piece, depth));
      writeSync(file, wavPadding(rendering.length, depth));
    } finally {
      closeSync(file);
    }
    renameSync(unfinished, out);
  } catch (error) {
    return unwritable(io, out, error);
  }
  return 0;
}

function performed(io: Io, passage: Passage, out: string, { mistakes = "", seed = "1" }: Values): number {
  const read = readMistakes(mistakes);
  if (!read.ok) return usage(io, `--mistakes: ${read.says}`);
  if (!/^\d{1,9}$/.test(seed)) return usage(io, "--seed is a whole number");
  if (!out.endsWith(".wav")) return usage(io, `${out}: a performance is a .wav`);
  const whole = repeated(passage, read.value.times);
  const { samples, sampleRate, labels, stepsMs } = perform(whole, planStages(whole), read.value, Number(seed));
  const sound = Buffer.concat([wavHeader(samples.length, sampleRate, "16"), wavSamples(samples, "16"), wavPadding(samples.length, "16")]);
  const about = { format: "rest-hand-performance", version: 1, seed: Number(seed), mistakes: read.value, stepsMs, labels };
  return written(io, out, sound) || written(io, out.replace(/\.wav$/, ".json"), `${JSON.stringify(about, null, 1)}\n`);
}

function taken(io: Io, passage: Passage, file: string, { json }: Values): number {
  let bytes: Uint8Array;
  try {
    bytes = readFileSync(file);
  } catch (error) {
    io.err(`${file}: ${(error as Error).message}\n`);
    return 2;
  }
  const sound = readWav(bytes);
  if (!sound.ok) {
    for (const { place, says } of sound.faults) io.err(`${file}: ${place}: ${says}\n`);
    return 2;
  }
  const { of, planned, times, result } = finished(judgingWhole(sound.value.samples, sound.value.sampleRate, passage, planStages));
  if (json) {
    io.out(`${JSON.stringify({ format: "rest-hand-take", version: 1, times, ...result }, null, 1)}\n`);
    return 0;
  }
  const lines = [...(times > 1 ? [`Played ${times} times.`] : []), summaryOf(passage, result)];
  if (result.kind === "judged") {
    const said = saidOf(of, planned, result, times);
    lines.push(...[...said.wrong, ...said.planned].map(({ place, says }) => `${place}: ${says}`));
    if (said.untold.length > 0) lines.push(`Cannot be told at ${said.untold.length} places: something else sounds at the string's pitch.`);
  }
  io.out(`${lines.join("\n")}\n`);
  return 0;
}

function oneOf<T extends string>(words: readonly T[], word: string): T | null {
  return words.find((w) => w === word) ?? null;
}

function readArgs(args: string[]) {
  return parseArgs({
    args,
    allowPositionals: true,
    options: {
      json: { type: "boolean" },
      minutes: { type: "string" },
      mistakes: { type: "string" },
      seed: { type: "string" },
      tempo: { type: "string" },
      set: { type: "string", multiple: true },
      strict: { type: "boolean" },
      why: { type: "boolean" },
      damping: { type: "string" },
      string: { type: "string" },
      depth: { type: "string" },
      part: { type: "string" },
      grid: { type: "string" },
      "with-plan": { type: "boolean" },
      staves: { type: "string" },
      out: { type: "string", short: "o" },
      help: { type: "boolean", short: "h" },
    },
  });
}

function usage(io: Io, problem: string): number {
  io.err(`${problem}\n\n${USAGE}\n`);
  return 1;
}

function readFile(io: Io, file: string, options: FileOptions): Passage | number {
  let bytes: Uint8Array;
  try {
    bytes = readFileSync(file);
  } catch (error) {
    io.err(`${file}: cannot be read (${(error as NodeJS.ErrnoException).code ?? "error"})\n`);
    return 2;
  }
  const read = readBytes(bytes, options);
  if (!read.ok) {
    const [first, ...more] = read.faults;
    const rest = more.length > 0 ? ` (and ${more.length} more)` : "";
    io.err(`${file}: ${first!.place}: ${first!.says}${rest}\n`);
    return 2;
  }
  for (const remark of read.value.remarks) io.err(`${file}: ${remark.place}: ${remark.says}\n`);
  return read.value.passage;
}

function convert(io: Io, passage: Passage, out: string, values: Values): number {
  const extension = extensionOf(out);
  if (!extension) return usage(io, `${out}: no format by this extension`);
  const staves = STAVES.find((choice) => choice === (values.staves ?? "both"));
  if (!staves) return usage(io, `--staves is one of ${STAVES.join(", ")}`);
  const { bytes, remarks } = writeBytes(passage, extension, { withPlan: values["with-plan"] ?? false, staves });
  const failed = written(io, out, bytes);
  if (failed !== 0) return failed;
  for (const remark of remarks) io.err(`${out}: ${remark.place}: ${remark.says}\n`);
  return 0;
}

/** Writes a file as a whole or not at all. */
function written(io: Io, out: string, content: string | Uint8Array): number {
  try {
    writeFileSync(`${out}.part`, content);
    renameSync(`${out}.part`, out);
    return 0;
  } catch (error) {
    return unwritable(io, out, error);
  }
}

/** The passage with the command line's changes; a text says what is wrong with them. */
function withOptions(passage: Passage, values: Values): Passage | string {
  const raw = structuredClone(passage) as unknown as { tempo: number; player: Record<string, unknown>; [key: string]: unknown };
  if (values.tempo !== undefined) raw.tempo = Number(values.tempo);
  for (const pair of values.set ?? []) {
    const match = /^([A-Za-z.]+)=(.+)$/.exec(pair);
    if (!match) return `--set takes KEY=VALUE, not "${pair}"`;
    const [, key, text] = match as unknown as [string, string, string];
    const value = /^\d+(\.\d+)?$/.test(text) ? Number(text) : text;
    if (key === "gain" || key === "ring") raw[key] = value;
    else if (key.startsWith("moveMs.")) raw.player.moveMs = { ...(raw.player.moveMs as object), [key.slice(7)]: value };
    else raw.player[key] = value;
  }
  const checked = parsePassage(raw);
  if (checked.ok) return checked.value;
  const fault = checked.faults[0]!;
  return `option not accepted: ${fault.place.replace(/^\/(player\/)?/, "")}: ${fault.says}`;
}
