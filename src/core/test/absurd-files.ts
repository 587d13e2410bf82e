import { strToU8, zipSync } from "fflate";
import { pack } from "../formats/zip.ts";
import { be, midiFile, varied } from "./midi-bytes.ts";
import { seeded } from "./random-passages.ts";

/*
 * Files that are well-formed and absurd: every format by a grammar of its own, with the numbers, names and orders in it that
 * break careless readers. The same seed gives the same file.
 */

type Random = ReturnType<typeof seeded>;

export const ABSURD_FORMATS = ["document", "musicxml", "mxl", "midi", "tab", "backup", "sound"] as const;
export type AbsurdFormat = (typeof ABSURD_FORMATS)[number];

const MAKERS: Readonly<Record<AbsurdFormat, (random: Random) => Uint8Array>> = {
  document: (random) => strToU8(JSON.stringify(documentOf(random))),
  musicxml: (random) => strToU8(scoreOf(random)),
  mxl: archiveOf,
  midi: midiOf,
  tab: (random) => strToU8(tabOf(random)),
  backup: backupOf,
  sound: soundOf,
};

export function absurdFile(format: AbsurdFormat, seed: number): Uint8Array {
  return MAKERS[format](seeded(seed));
}

const pick = <T>(random: Random, list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
const upTo = (random: Random, most: number) => Math.floor(random() * (most + 1));
const times = <T>(random: Random, most: number, make: (i: number) => T): T[] => Array.from({ length: upTo(random, most) }, (_, i) => make(i));
/** Mostly what belongs there, now and then what does not. */
const mostly = <T>(random: Random, usual: () => T, odd: () => unknown, share = 0.08): unknown => (random() < share ? odd() : usual());

const NUMBERS = ["0", "-1", "1", "4", "0.5", "1e308", "-1e308", "1e-300", "NaN", "Infinity", "999999999999", "2147483648", "0x10", "", " 7 ", "1/3", "١"];
const WORDS = ["", "__proto__", "constructor", "toString", "\uFEFF", "a".repeat(5000), "<&>", "𝄞", "-", "none", "4", "E", "down"];
const VALUES: readonly unknown[] = [null, true, 0, -1, 1e308, 0.1, "", "x", "1/3", "99999/1", [], [[]], {}, { a: 1 }, "E9999", 2 ** 53];

/** RIFF/WAVE: pieces in any order, that lie about their lengths; samples of any kind, numbers that are none among them. */
function soundOf(random: Random): Uint8Array {
  const le = (bytes: number, value: number) => Array.from({ length: bytes }, (_, k) => Math.floor(value / 256 ** k) % 256);
  const word = (text: string) => [...text].map((letter) => letter.charCodeAt(0));
  const number = (...usual: number[]) =>
    mostly(
      random,
      () => pick(random, usual),
      () => pick(random, [0, 1, 7, 255, 65_535, 2 ** 31, 2 ** 32 - 1]),
      0.05,
    ) as number;
  const piece = (name: string, content: number[]) => [
    ...word(name),
    ...le(
      4,
      mostly(
        random,
        () => content.length,
        () => pick(random, [0, 1, content.length + 1, 2 ** 31, 2 ** 32 - 1]),
        0.06,
      ) as number,
    ),
    ...content,
    ...(content.length % 2 === 1 && random() < 0.9 ? [0] : []),
  ];
  const format = () => {
    const [channels, bits] = [number(1, 2, 6), number(8, 16, 24, 32, 64)];
    const kind = number(1, 1, 3, 0xfffe);
    const plain = [...le(2, kind), ...le(2, channels), ...le(4, number(8_000, 44_100, 48_000, 384_000)), ...le(4, 0), ...le(2, 0), ...le(2, bits)];
    return kind === 0xfffe ? [...plain, ...le(2, 22), ...le(2, bits), ...le(4, 3), ...le(2, number(1, 3)), ...times(random, 14, () => 0)] : plain;
  };
  // 0x7f and 0xff bytes: infinite numbers and those that are none, where they are read as floating point.
  const samples = () => times(random, 600, () => pick(random, [0, 0x7f, 0xff, 0xf0, 0xef, upTo(random, 255)]));
  const others = () =>
    times(random, 2, () =>
      piece(
        pick(random, ["LIST", "fact", "bext", "fmt ", "data", "\0\0\0\0"]),
        times(random, 30, () => upTo(random, 255)),
      ),
    ).flat();
  const content = [
    ...(random() < 0.1 ? others() : []),
    ...(random() < 0.95 ? piece("fmt ", format()) : []),
    ...others(),
    ...(random() < 0.95 ? piece("data", samples()) : []),
  ];
  const whole = [...word("RIFF"), ...le(4, number(content.length + 4)), ...word(random() < 0.97 ? "WAVE" : "AVI "), ...content];
  return Uint8Array.from(random() < 0.1 ? whole.slice(0, upTo(random, whole.length)) : whole);
}

function documentOf(random: Random): unknown {
  const odd = () => pick(random, VALUES);
  const number = (...usual: number[]) => mostly(random, () => pick(random, usual), odd, 0.0006);
  const fraction = (...usual: string[]) => mostly(random, () => pick(random, usual), odd, 0.0006);
  const stroke = (at: number) => ({
    at: fraction(`${at}/64`),
    length: fraction("1/16", "1/8", "4", "40320/40320"),
    ...(random() < 0.2 ? { as: mostly(random, () => pick(random, ["chuck", "ghost", "rake", "click"]), odd, 0.01) } : {}),
    ...(random() < 0.2 ? { strings: Array.from({ length: 1 + upTo(random, 7) }, () => number(1, 2, 3, 6)) } : {}),
    ...(random() < 0.1 ? { click: [number(6)] } : {}),
    ...(random() < 0.1
      ? {
          id: mostly(
            random,
            () => pick(random, ["a", "toString"]),
            () => pick(random, WORDS),
            0.02,
          ),
        }
      : {}),
    notes: Array.from({ length: 1 + upTo(random, 5) }, (_, n) => ({
      string: number(n + 1),
      fret: number(0, 3, 12, 22, 48),
      ...(random() < 0.2 ? { bend: mostly(random, () => pick(random, [1, 4, { by: 2, from: 1 }]), odd, 0.01) } : {}),
      ...(random() < 0.2 ? { finger: "T" } : {}),
      ...(random() < 0.2 ? { length: fraction("1/40320", "9/1") } : {}),
      ...(random() < 0.1 ? { harmonic: true, letRing: true, vibrato: true, tone: pick(random, ["palm", "ghost"]) } : {}),
    })),
  });
  const document: Record<string, unknown> = {
    format: "rest-hand-passage",
    version: number(2, 2, 1),
    title: pick(random, ["t", "t", ...WORDS.filter((word) => word !== "" && word.length <= 200)]),
    tempo: number(20, 400, 100),
    instrument: {
      kind: "electric-guitar",
      tuning: ["E4", "B3", "G3", "D3", "A2", "E2"].map((name) => mostly(random, () => name, odd, 0.002)),
      frets: number(22, 4, 36),
      capo: number(0, 12),
      scaleLengthMm: number(648),
    },
    bars: Array.from({ length: 1 + upTo(random, 10) }, () => ({
      meter: [number(4, 1, 32), number(4, 4, 1)],
      strokes: times(random, 15, (at) => stroke(at)),
      ...(random() < 0.2 ? { grips: times(random, 3, (at) => ({ at: fraction(`${at}/8`), notes: [{ string: number(2), fret: number(3) }] })) } : {}),
      ...(random() < 0.1 ? { tempo: number(60), pickup: mostly(random, () => false, odd, 0.02) } : {}),
    })),
    ...(random() < 0.3
      ? {
          pins: times(random, 5, () => ({
            want: "ban",
            string: number(2),
            from: { bar: number(1, 99999), at: "0" },
            to: { bar: number(1), at: "3/4" },
            contact: { hand: "picking", part: "palm" },
          })),
        }
      : {}),
    ...(random() < 0.3
      ? {
          treatments: times(random, 3, (t) => ({
            id: `t${t}`,
            name: "n",
            rules: times(random, 4, () => ({ kind: pick(random, RULES), ...(random() < 0.05 ? { bars: { from: number(1, 99999), to: number(99999) } } : {}) })),
            overrides: {},
          })),
        }
      : {}),
  };
  if (random() < 0.03) document[pick(random, ["ring", "gain", "feel", "tags", "notes", "player", "extra"])] = odd();
  return document;
}

const RULES = ["plain", "muted-roots", "palm-but-accents", "shuffle-ups", "boom-brush", "thumb-swing", "rest-after-bass", "pressed-accents"];

/** An element with text or elements in it. */
const el = (name: string, inner: string, attributes = "") => `<${name}${attributes}>${inner}</${name}>`;
const safe = (text: string) => text.replaceAll("&", "&amp;").replaceAll("<", "&lt;").replaceAll(">", "&gt;");

function scoreOf(random: Random): string {
  const number = (...usual: (number | string)[]) =>
    String(
      mostly(
        random,
        () => pick(random, usual),
        () => pick(random, NUMBERS),
      ),
    );
  const word = (...usual: string[]) =>
    safe(
      String(
        mostly(
          random,
          () => pick(random, usual),
          () => pick(random, WORDS),
        ),
      ),
    );
  const technical = () =>
    el(
      "technical",
      times(random, 4, () =>
        pick(random, [
          () => el("string", number(1, 2, 6, 9)),
          () => el("fret", number(0, 3, 24, 99)),
          () => el("fingering", number(0, 1, 5)),
          () => el("pluck", word("p", "i", "x")),
          () => el("bend", el("bend-alter", number(1, 2, 40)) + (random() < 0.3 ? "<release/>" : "") + (random() < 0.3 ? "<pre-bend/>" : "")),
          () => el("hammer-on", "", ` type="${word("stop", "start")}"`),
          () => "<harmonic/>",
          () =>
            el(
              "other-technical",
              word("chuck", "ghost", "rake", "click", "held", "crossed", "clicked", "strings", "stroke up", "stroke x", "chord Am", "choked mute"),
            ),
        ])(),
      ).join(""),
    );
  const note = () =>
    el(
      "note",
      (random() < 0.3 ? "<chord/>" : "") +
        (random() < 0.1 ? pick(random, ["<rest/>", "<grace/>", "<cue/>", "<unpitched/>"]) : "") +
        (random() < 0.9
          ? el("pitch", el("step", word("E", "A", "B", "H")) + (random() < 0.3 ? el("alter", number(1, -1, 0.5)) : "") + el("octave", number(2, 3, 4, 40)))
          : "") +
        el("duration", number(1, 2, 4, 8)) +
        (random() < 0.2 ? `<tie type="${word("stop", "start")}"/>` : "") +
        (random() < 0.2 ? el("notehead", word("x", "normal")) : "") +
        (random() < 0.1 ? el("play", el("mute", word("palm"))) : "") +
        (random() < 0.5
          ? el("notations", technical() + (random() < 0.2 ? '<slide type="stop"/>' : "") + (random() < 0.2 ? '<tied type="let-ring"/>' : ""))
          : ""),
    );
  const frame = () =>
    el(
      "harmony",
      el("root", el("root-step", word("A", "C")) + el("root-alter", number(1, 0))) +
        el("kind", word("major", "none", "other"), ` text="${word("m7")}"`) +
        (random() < 0.7
          ? el(
              "frame",
              el("frame-strings", "6") +
                el("frame-frets", "5") +
                el("first-fret", number(1, 5)) +
                times(random, 8, () => el("frame-note", el("string", number(1, 6)) + el("fret", number(0, 3)) + el("fingering", word("1", "T")))).join(""),
            )
          : "") +
        (random() < 0.3 ? el("offset", number(2, -2)) : ""),
    );
  const barline = () =>
    el(
      "barline",
      (random() < 0.5 ? `<ending number="${number(1, 2, "1, 2", 30)}" type="start"/>` : "") +
        `<repeat direction="${word("backward", "forward")}" times="${number(2, 3, 100000)}"/>`,
    );
  const attributes = () =>
    el(
      "attributes",
      el("divisions", number(1, 4, 480)) +
        (random() < 0.5 ? el("time", el("beats", number(3, 4, "2+3", 31)) + el("beat-type", number(4, 8, 32))) : "") +
        (random() < 0.2 ? el("transpose", el("chromatic", number(-12, 2)) + el("octave-change", number(-1))) : "") +
        (random() < 0.3
          ? el(
              "staff-details",
              times(random, 9, (line) =>
                el("staff-tuning", el("tuning-step", word("E", "A")) + el("tuning-octave", number(2, 3)), ` line="${number(line)}"`),
              ).join("") + el("capo", number(0, 2, 40)),
            )
          : ""),
    );
  const measure = (b: number) =>
    el(
      "measure",
      (b === 0 || random() < 0.2 ? attributes() : "") +
        times(random, 14, () => {
          const at = random();
          if (at < 0.7) return note();
          if (at < 0.8) return el(pick(random, ["backup", "forward"]), el("duration", number(1, 4, 400)));
          if (at < 0.86) return frame();
          if (at < 0.92) return el("direction", `<sound tempo="${number(90, 4000)}"${random() < 0.3 ? ' dacapo="yes"' : ""}/>`);
          if (at < 0.96) return barline();
          return el(pick(random, ["print", "figured-bass", "ä", "note"]), word("", "x"));
        }).join(""),
      ` number="${number(b, "X1")}"${random() < 0.1 ? ' implicit="yes"' : ""}`,
    );
  const part = () => el("part", times(random, 10, measure).join(""), ' id="P1"');
  const settings =
    random() < 0.3
      ? el(
          "identification",
          el(
            "miscellaneous",
            el("miscellaneous-field", safe(JSON.stringify(random() < 0.5 ? documentOf(random) : pick(random, VALUES))), ' name="rest-hand-settings"'),
          ),
        )
      : "";
  return `<?xml version="1.0"?>${el(
    mostly(
      random,
      () => "score-partwise",
      () => pick(random, ["score-timewise", "html"]),
      0.02,
    ) as string,
    settings +
      el("part-list", el("score-part", el("part-name", word("Guitar", "Bass", "Nylon")), ' id="P1"')) +
      Array.from({ length: 1 + upTo(random, 2) }, part).join(""),
  )}`;
}

function archiveOf(random: Random): Uint8Array {
  const path = pick(random, ["score.musicxml", "a/b.xml", "__proto__", "../x.xml", "META-INF/container.xml"]);
  return zipSync({
    ...(random() < 0.7 ? { "META-INF/container.xml": strToU8(el("container", el("rootfiles", `<rootfile full-path="${path}"/>`))) } : {}),
    ...(random() < 0.9 && path !== "__proto__" ? { [path]: strToU8(scoreOf(random)) } : {}),
    ...(random() < 0.3 ? { "picture.png": new Uint8Array(upTo(random, 2000)) } : {}),
  });
}

function midiOf(random: Random): Uint8Array {
  const delta = () => varied(random() < 0.02 ? pick(random, [268_435_455, 100_000]) : pick(random, [0, 0, 1, 120, 240, 480]));
  const key = () => pick(random, [0, 30, 40, 45, 50, 52, 64, 76, 127]);
  const event = (): number[] => {
    const channel = pick(random, [0, 0, 0, 1, 9, 15]);
    const at = random();
    if (at < 0.4) return [0x90 | channel, key(), pick(random, [0, 1, 90, 127])];
    if (at < 0.75) return [0x80 | channel, key(), 64];
    if (at < 0.8) return [0xc0 | channel, pick(random, [0, 24, 25, 28, 33, 127])];
    if (at < 0.84) return [0xe0 | channel, 0, upTo(random, 127)];
    if (at < 0.88) return [0xff, 0x51, 3, ...be(pick(random, [500_000, 1, 0, 16_777_215]), 3)];
    if (at < 0.92) return [0xff, 0x58, 4, pick(random, [4, 0, 255, 3]), pick(random, [2, 0, 30]), 24, 8];
    if (at < 0.96) return [0xff, 0x03, 4, 65, 0, 255, 66];
    return [0xf0, 2, upTo(random, 127), 0xf7];
  };
  const track = () => Uint8Array.from(times(random, 80, () => [...delta(), ...event()]).flat());
  return midiFile(Array.from({ length: 1 + upTo(random, 3) }, track), pick(random, [480, 480, 96, 1, 32767]));
}

function tabOf(random: Random): string {
  const cell = () => pick(random, ["-", "-", "-", "-", "3", "5", "12", "x", "h5", "p3", "/7", "b9r7", "~", "(2)", "<7>", "33", "^", "|", "t", "=", "r", "  "]);
  const strings = pick(random, [6, 6, 6, 4, 5, 8]);
  const stave = () => {
    const body = times(random, 40, cell);
    const lines = Array.from({ length: strings }, (_, s) => {
      const own = body.map((sign) => (sign === "|" ? "|" : random() < 0.3 ? sign : "-".repeat(sign.length))).join("");
      return `${pick(random, [["e", "B", "G", "D", "A", "E", "B", "F#"][s]!, "E2"])}|${own}-----|`;
    });
    const width = lines[0]!.length;
    const signs = (list: readonly string[]) => Array.from({ length: width }, () => pick(random, list)).join("");
    return [
      ...(random() < 0.4
        ? [pick(random, [`PM${"-".repeat(upTo(random, 30))}|`, signs(["D", "U", " "]), "3/4   99/99  7/8", signs(["1", "2", "&", "e", "a", " "])])]
        : []),
      ...lines,
      ...(random() < 0.5 ? [signs(["1", "2", "3", "4", "&", "e", "a", " ", " "])] : []),
    ].join("\n");
  };
  const heading = times(random, 3, () => pick(random, ["Title: x", "tempo: 9999", "140 bpm", "tempo = 1", "\t\t", "prose that says nothing", "----"]));
  return [...heading, ...times(random, 4, stave)].join(pick(random, ["\n\n", "\n", "\r\n\r\n"]));
}

function backupOf(random: Random): Uint8Array {
  const odd = () => pick(random, VALUES);
  const field = (usual: unknown) => mostly(random, () => usual, odd, 0.01);
  const id = (n: number) => `00000000-0000-4000-8000-00000000000${n % 10}`;
  const moment = "2026-01-01T00:00:00.000Z";
  const instrument = { kind: "electric-guitar", tuning: ["E4", "B3", "G3", "D3", "A2", "E2"], frets: 22, capo: 0, scaleLengthMm: 648 };
  const setups = (value: unknown) =>
    times(random, 3, (n) => ({
      id: field(id(n)),
      name: field("n"),
      value: field(value),
      named: field(true),
      isDefault: field(true),
      createdAt: field(moment),
    }));
  const files = new Map<string, Uint8Array>();
  const passages = times(random, 4, (n) => {
    const file = pick(random, [`passages/${n}.resthand.json`, "passages/0.resthand.json", "library.json", "__proto__"]);
    if (random() < 0.9) files.set(`passages/${n}.resthand.json`, strToU8(JSON.stringify(documentOf(random))));
    return {
      id: field(id(n)),
      file: field(file),
      version: field(1),
      createdAt: field(moment),
      updatedAt: field(moment),
      openedAt: null,
      deletedAt: field(null),
      instrument: field(id(0)),
      player: field(id(0)),
      original: field(random() < 0.3 ? { name: "a.mid", file: "originals/none" } : null),
    };
  });
  const list = {
    format: "rest-hand-library",
    version: field(1),
    savedAt: field(moment),
    instruments: field(setups(instrument)),
    players: field(setups({})),
    passages: field(passages),
  };
  files.set("library.json", strToU8(JSON.stringify(list)));
  return pack(files);
}
