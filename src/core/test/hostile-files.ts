import { strToU8, zipSync } from "fflate";
import { joined, midiFile, varied } from "./midi-bytes.ts";

/**
 * Files that are meant to do harm: small ones that ask for much work, large ones, and well-formed ones that say absurd things.
 * Every one must be read or refused in one sentence, within the promises of docs/reliability.md.
 */

const SCORE = '<?xml version="1.0"?><score-partwise version="4.0"><part-list><score-part id="P1"><part-name>Guitar</part-name></score-part></part-list>';

function score(measures: string, head = SCORE): Uint8Array {
  return strToU8(`${head}<part id="P1">${measures}</part></score-partwise>`);
}

const ATTRIBUTES = "<attributes><divisions>4</divisions><time><beats>4</beats><beat-type>4</beat-type></time></attributes>";
const note = (inner = "", duration = 4) => `<note>${inner}<pitch><step>E</step><octave>3</octave></pitch><duration>${duration}</duration></note>`;
const measure = (inner: string, n = 1) => `<measure number="${n}">${inner}</measure>`;
const settings = (json: string) =>
  score(
    measure(ATTRIBUTES + note()),
    SCORE.replace(
      "<part-list>",
      `<identification><miscellaneous><miscellaneous-field name="rest-hand-settings">${json.replaceAll("&", "&amp;").replaceAll("<", "&lt;")}</miscellaneous-field></miscellaneous></identification><part-list>`,
    ),
  );

/** The same few bytes over and over. */
function over(times: number, bytes: readonly number[]): Uint8Array {
  const out = new Uint8Array(times * bytes.length);
  for (let i = 0; i < times; i++) out.set(bytes, i * bytes.length);
  return out;
}

const document = (fields: string) =>
  strToU8(
    `{"format":"rest-hand-passage","version":2,"title":"t","tempo":100,"instrument":{"kind":"electric-guitar","tuning":["E4","B3","G3","D3","A2","E2"],"frets":22,"scaleLengthMm":648},${fields}}`,
  );
const BARS = '"bars":[{"meter":[4,4],"strokes":[{"at":"0","length":"1/4","notes":[{"string":6,"fret":3}]}]}]';

/** An archive whose directory says that a file is smaller than it is. */
function lyingZip(name: string, unpacked: number): Uint8Array {
  const zip = zipSync({ [name]: [new Uint8Array(unpacked), { level: 9 }] });
  const view = new DataView(zip.buffer, zip.byteOffset, zip.byteLength);
  for (let at = 0; at + 30 < zip.length; at++) {
    if (view.getUint32(at, true) === 0x04034b50) view.setUint32(at + 22, 10, true);
    if (view.getUint32(at, true) === 0x02014b50) view.setUint32(at + 24, 10, true);
  }
  return zip;
}

export interface Hostile {
  name: string;
  /** The file at a size; 1 as found in the wild, less for a quick look. */
  file(size: number): Uint8Array;
}

const many = (count: number, size: number) => Math.max(2, Math.round(count * size));
const stave = (body: string) => ["e", "B", "G", "D", "A", "E"].map((name) => `${name}|${body}|`).join("\n");

export const HOSTILE: readonly Hostile[] = [
  {
    name: "an ending of number 10^12",
    file: () =>
      score(measure(`${ATTRIBUTES}<barline><ending number="1000000000000" type="start"/><repeat direction="backward"/></barline>${note()}`) + measure(note())),
  },
  { name: "a repeat 10^9 times", file: () => score(measure(`${ATTRIBUTES}<barline><repeat direction="backward" times="1000000000"/></barline>${note()}`)) },
  {
    name: "every bar repeated with many endings",
    file: (size) =>
      score(
        Array.from({ length: many(5000, size) }, (_, b) =>
          measure(`${b === 0 ? ATTRIBUTES : ""}<barline><ending number="${b % 30},16"/><repeat direction="backward" times="16"/></barline>${note()}`, b + 1),
        ).join(""),
      ),
  },
  { name: "tags that are never closed", file: (size) => strToU8("<a>".repeat(many(2_600_000, size))) },
  { name: "tags begun and never ended", file: (size) => strToU8(`<score-partwise ${"<a ".repeat(many(2_600_000, size))}`) },
  { name: "many elements with names outside ASCII", file: (size) => score(measure(ATTRIBUTES + note() + "<ä/>".repeat(many(290_000, size)))) },
  { name: "elements outside ASCII one in another", file: (size) => strToU8(`<a>${"<ä>".repeat(many(1_500_000, size))}`) },
  { name: "comments that are never closed", file: (size) => strToU8(`<score-partwise>${"<!-- ".repeat(many(1_590_000, size))}`) },
  { name: "CDATA that is never closed", file: (size) => strToU8(`<score-partwise>${"<![CDATA[".repeat(many(880_000, size))}`) },
  { name: "instructions that are never closed", file: (size) => strToU8(`<score-partwise>${"<?a ".repeat(many(1_900_000, size))}`) },
  { name: "document types that are never closed", file: (size) => strToU8(`<!DOCTYPE ${"<!DOCTYPE [".repeat(many(720_000, size))}`) },
  {
    name: "an element of many attributes",
    file: (size) => score(`<measure ${Array.from({ length: many(660_000, size) }, (_, i) => `a${i}="1"`).join(" ")}>${ATTRIBUTES}${note()}</measure>`),
  },
  { name: "an attribute without an end", file: (size) => strToU8(`<score-partwise a="${"x".repeat(many(7_900_000, size))}`) },
  { name: "one long text", file: (size) => score(measure(`${ATTRIBUTES}${note(`<lyric><text>${"la ".repeat(many(2_600_000, size))}</text></lyric>`)}`)) },
  { name: "millions of ampersands", file: (size) => score(measure(`${ATTRIBUTES}${note()}<words>${"&amp;&#65;".repeat(many(790_000, size))}</words>`)) },
  { name: "blanks between everything", file: (size) => score(`${" \n".repeat(many(3_900_000, size))}${measure(ATTRIBUTES + note())}`) },
  {
    name: "a score of notes at one moment",
    file: (size) => score(measure(ATTRIBUTES + note() + note("<chord/>").repeat(many(45_000, size)))),
  },
  {
    name: "ties that never end",
    file: (size) => score(measure(ATTRIBUTES + note('<tie type="stop"/>', 0).repeat(many(45_000, size)))),
  },
  {
    name: "chord frames at one moment",
    file: (size) => score(measure(ATTRIBUTES + note() + "<harmony><kind>none</kind></harmony>".repeat(many(90_000, size)))),
  },
  {
    name: "many parts without a note",
    file: (size) => strToU8(`${SCORE}${'<part id="P1"><measure/></part>'.repeat(many(140_000, size))}</score-partwise>`),
  },
  { name: "durations beyond numbers", file: () => score(measure(`${ATTRIBUTES}<attributes><divisions>1e-300</divisions></attributes>${note("", 1e300)}`)) },
  { name: "settings whose instrument is a number", file: () => settings('{"instrument":5}') },
  { name: "settings whose tuning is a text", file: () => settings('{"instrument":{"tuning":"EADGBE"}}') },
  { name: "settings with treatments of the wrong shape", file: () => settings('{"treatments":{"a":1},"pins":7,"player":[]}') },
  { name: "settings nested deeply", file: (size) => settings(`{"treatments":${"[".repeat(many(200_000, size))}${"]".repeat(many(200_000, size))}}`) },
  {
    name: "a MIDI file of notes at one moment",
    file: (size) => midiFile([over(many(62_000, size), [0, 0x90, 60, 90, 0, 0x80, 60, 0])]),
  },
  {
    name: "MIDI notes that are never let go",
    file: (size) => midiFile([over(many(124_000, size), [0, 0x90, 60, 90])]),
  },
  {
    name: "MIDI notes let go after all have begun",
    file: (size) => midiFile([joined([over(many(60_000, size), [0, 0x90, 60, 90]), over(many(60_000, size), [1, 0x80, 60, 0])])]),
  },
  {
    name: "changes of tempo in every bar of thousands",
    file: (size) => midiFile([over(many(70_000, size), [10, 255, 81, 3, 7, 161, 32]), Uint8Array.from([0, 0x90, 60, 90, ...varied(9_000_000), 0x80, 60, 0])]),
  },
  {
    name: "changes of meter beyond counting",
    file: (size) => midiFile([over(many(60_000, size), [10, 255, 88, 4, 4, 2, 24, 8]), Uint8Array.from([0, 0x90, 60, 90, ...varied(9_000_000), 0x80, 60, 0])]),
  },
  { name: "a MIDI note millions of years long", file: () => midiFile([Uint8Array.from([0, 0x90, 60, 90, ...varied(268_435_455), 0x80, 60, 0])], 1) },
  {
    name: "a MIDI file of empty tracks",
    file: (size) => midiFile([...Array.from({ length: many(40_000, size) }, () => new Uint8Array()), Uint8Array.from([0, 0x90, 60, 90, 96, 0x80, 60, 0])]),
  },
  { name: "a tablature of one line", file: (size) => strToU8(stave("-3--5-".repeat(many(27_000, size)))) },
  { name: "a tablature of thousands of staves", file: (size) => strToU8(`${stave("-3--5---3--5---")}\n\n`.repeat(many(8_500, size))) },
  {
    name: "a tablature under palm marks without end",
    file: (size) =>
      strToU8(
        `${"PM--".repeat(many(28_000, size))}\n${"3/4 ".repeat(many(28_000, size))}\n${stave("-3-|".repeat(many(28_000, size)))}\n${"1 & ".repeat(many(28_000, size))}`,
      ),
  },
  { name: "one bar as wide as a file", file: (size) => strToU8(`${stave("3-".repeat(many(70_000, size)))}\n${"1 ".repeat(many(70_000, size))}`) },
  { name: "prose that looks like tablature", file: (size) => strToU8("Ah ----- (x) : * . x x x 3 4\n".repeat(many(34_000, size))) },
  { name: "signs that are not understood, a remark each", file: (size) => strToU8(stave("-r-^".repeat(many(41_000, size)))) },
  { name: "tabulators and blanks", file: (size) => strToU8(`${"\t ".repeat(many(490_000, size))}\n${stave("---3---")}`) },
  { name: "JSON nested deeply", file: (size) => strToU8(`{"format":"rest-hand-passage","version":2,"bars":${"[".repeat(many(7_900_000, size))}`) },
  {
    name: "JSON nested deeply and closed",
    file: (size) => document(`"bars":${"[".repeat(many(3_900_000, size))}${"]".repeat(many(3_900_000, size))}`),
  },
  { name: "a document of unknown keys", file: (size) => document(`${BARS},${Array.from({ length: many(650_000, size) }, (_, i) => `"k${i}":0`).join(",")}`) },
  {
    name: "a document of faulty strokes",
    file: (size) => document(`"bars":[${new Array(many(4000, size)).fill(`{"meter":[4,4],"strokes":[${new Array(500).fill("{}").join(",")}]}`).join(",")}]`),
  },
  { name: "a title of 8 MB", file: (size) => strToU8(`{"format":"rest-hand-passage","version":2,"title":"${"x".repeat(many(7_900_000, size))}"}`) },
  {
    name: "overrides by the million",
    file: (size) =>
      document(`${BARS},"treatments":[{"id":"a","name":"a","overrides":{${Array.from({ length: many(600_000, size) }, (_, i) => `"k${i}":{}`).join(",")}}}]`),
  },
  {
    name: "as many strokes as a passage has",
    file: (size) =>
      document(
        `"bars":[${new Array(many(31, size)).fill(`{"meter":[4,4],"strokes":[${Array.from({ length: 128 }, (_, i) => `{"at":"${i}/128","length":"1/128","notes":[{"string":${1 + (i % 6)},"fret":${i % 20}}]}`).join(",")}]}`).join(",")}]`,
      ),
  },
  { name: "an archive that lies about its size", file: (size) => lyingZip("score.musicxml", many(400_000_000, size)) },
  { name: "an archive that unpacks to much", file: (size) => zipSync({ "score.musicxml": new Uint8Array(many(400_000_000, size)) }) },
  {
    name: "an archive of tens of thousands of names",
    file: (size) => zipSync(Object.fromEntries(Array.from({ length: many(19_000, size) }, (_, i) => [`${i}.xml`, new Uint8Array(1)]))),
  },
  {
    name: "a container that leads nowhere",
    file: () => zipSync({ "META-INF/container.xml": strToU8('<container><rootfiles><rootfile full-path="__proto__"/></rootfiles></container>') }),
  },
];
