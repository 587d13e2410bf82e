import { describe, expect, it } from "vitest";
import { planPassage } from "../../engine.ts";
import { barLength } from "../../music/beats.ts";
import { ticksOf } from "../../music/ticks.ts";
import type { Note, Passage } from "../../passage/schema.ts";
import { line, passageOf, stroke } from "../../test/build.ts";
import { demoPassages } from "../../test/demos.ts";
import { randomPassage } from "../../test/random-passages.ts";
import { STAVES } from "../written.ts";
import { planWords } from "./plan-words.ts";
import { readMusicXml } from "./read.ts";
import { writeMusicXml } from "./write.ts";

const read = (text: string, options?: Parameters<typeof readMusicXml>[1]) => {
  const result = readMusicXml(text, options);
  if (!result.ok) throw new Error(result.faults.map((f) => `${f.place}: ${f.says}`).join("\n"));
  return result.value;
};

/** The music without what the format has no place for: ids, the order of strings, how a fraction is written, sound over the bar line. */
function music(passage: Passage) {
  const { bars, treatments: _, ...rest } = JSON.parse(JSON.stringify(passage)) as Passage;
  return {
    ...rest,
    bars: bars.map((bar) => {
      const end = barLength(bar.meter);
      return {
        ...bar,
        id: undefined,
        strokes: bar.strokes.map((stroke) => {
          const room = end - ticksOf(stroke.at);
          const lengths = stroke.notes.map((note) => Math.min(room, ticksOf(note.length ?? stroke.length)));
          const isDead = stroke.as !== undefined && stroke.as !== "play";
          return {
            ...stroke,
            id: undefined,
            as: isDead ? stroke.as : undefined,
            accent: stroke.accent || undefined,
            at: ticksOf(stroke.at),
            // Its longest note is as long as the stroke.
            length: stroke.notes.length > 0 && !isDead && !stroke.strings ? Math.max(...lengths) : Math.min(room, ticksOf(stroke.length)),
            strings: stroke.strings && [...stroke.strings].sort((a, b) => b - a),
            notes: stroke.notes
              .map(({ id: _id, length: _length, ...note }, n) => ({
                ...note,
                tone: note.tone === "open" || isDead ? undefined : note.tone,
                from: note.from === "stroke" ? undefined : note.from,
                length: lengths[n],
              }))
              .sort((a, b) => b.string - a.string),
          };
        }),
      };
    }),
  };
}

describe("a passage as MusicXML and back", () => {
  it.each(demoPassages().map((passage) => [passage.title, passage] as const))("%s is the same music", (_, passage) => {
    const { text, remarks } = writeMusicXml(passage);
    const back = read(text);
    expect(music(back.passage)).toEqual(music(passage));
    expect(remarks.filter((r) => !r.says.includes("bar line"))).toEqual([]);
    expect(back.remarks).toEqual([]);
  });

  it.each(STAVES)("random passages over all kinds of hands are the same music, on staves: %s", (staves) => {
    for (let seed = 0; seed < 150; seed++) {
      const passage = randomPassage(seed, 4);
      expect(music(read(writeMusicXml(passage, undefined, staves).text).passage), `seed ${seed}`).toEqual(music(passage));
    }
  });

  it("on two staves every note stands twice, once with its string and fret; the notes sound an octave lower than they are written", () => {
    const passage = passageOf([[stroke("0", "1/2", "6/3 5/5"), stroke("1/2", "1/2", "1/0")]]);
    const { text } = writeMusicXml(passage);
    const count = (pattern: RegExp) => [...text.matchAll(pattern)].length;
    expect([count(/<pitch>/g), count(/<string>/g), count(/<staff>1</g), count(/<staff>2</g)]).toEqual([6, 3, 3, 3]);
    expect(text).toMatch(/<staves>2<\/staves>\s*<clef number="1">\s*<sign>G<\/sign>\s*<line>2<\/line>\s*<clef-octave-change>-1</);
    expect(writeMusicXml(passage, undefined, "tab").text).not.toContain("<staff>");
    expect(writeMusicXml(passageOf([[stroke("0", "1", "4/3")]], { on: "bass" }), undefined, "notes").text).toMatch(/<sign>F<\/sign>\s*<line>4</);
  });

  it("of two staves as others link them the tablature is read; without strings and frets both are", () => {
    const two = (technical: string) =>
      `<score-partwise version="4.0"><part-list><score-part id="P1"><part-name>Guitar</part-name></score-part></part-list><part id="P1"><measure number="1"><attributes><divisions>1</divisions><staves>2</staves><clef number="1"><sign>G</sign></clef><clef number="2"><sign>TAB</sign></clef></attributes><note><pitch><step>E</step><octave>4</octave></pitch><duration>4</duration><staff>1</staff></note><backup><duration>4</duration></backup><note><pitch><step>E</step><octave>4</octave></pitch><duration>4</duration><staff>2</staff>${technical}</note></measure></part></score-partwise>`;
    const places = (text: string) => read(text).passage.bars[0]!.strokes.flatMap((s) => s.notes.map((note) => `${note.string}/${note.fret}`));
    expect(places(two("<notations><technical><fret>5</fret><string>2</string></technical></notations>"))).toEqual(["2/5"]);
    expect(places(two("")).length).toBeGreaterThan(0);
  });

  it("bends in all their parts and the palm's firmness are the same", () => {
    const ways: Note["bend"][] = [
      2,
      { by: 2, then: "release" },
      { by: 2, from: 2, then: "release" },
      { by: 3, from: 1 },
      { by: 1, from: 2, towards: "treble" },
      { by: 1, towards: "treble", then: "release" },
    ];
    const notes = ways.map((bend): Note => ({ string: 3, fret: 7, bend }));
    const palms = (["light", "medium", "choked"] as const).map((mute): Note => ({ string: 6, fret: 3, tone: "palm", mute }));
    const passage = passageOf([[...notes, ...palms].map((note, i) => stroke(`${i}/16`, "1/16", "", { notes: [note] }))]);
    const back = read(writeMusicXml(passage).text);
    expect(music(back.passage)).toEqual(music(passage));
    expect(back.remarks).toEqual([]);
  });

  it("with the plan, what each hand does besides its strokes stands over and under the staff, where it is done; the music is the same", () => {
    const passage = demoPassages()[0]!;
    const plan = planPassage(passage);
    const { text } = writeMusicXml(passage, plan);
    expect(music(read(text).passage)).toEqual(music(passage));
    const said = planWords(plan);
    for (const { bar, at, actions } of plan.steps)
      for (const hand of ["fretting", "picking"] as const) {
        const here = said.filter((words) => words.bar === bar && words.at === at && words.hand === hand);
        expect(here).toHaveLength(actions.some(({ hand: own, does }) => own === hand && does !== "stroke" && does !== "pluck") ? 1 : 0);
      }
    for (const { says } of said) expect(text).toContain(`>${says}</words>`);
  });
});

/** A score as other programs write it: a guitar on a treble staff, an octave higher than it sounds. */
const score = (measures: string, more = "") =>
  `<?xml version="1.0"?><!DOCTYPE score-partwise PUBLIC "-//Recordare//DTD MusicXML 3.1 Partwise//EN" "http://www.musicxml.org/dtds/partwise.dtd">
<score-partwise version="3.1"><work><work-title>From elsewhere</work-title></work><part-list><score-part id="P1"><part-name>Guitar</part-name></score-part>${more}</part-list><part id="P1">${measures}</part></score-partwise>`;
const attributes = (beats = 4) =>
  `<attributes><divisions>4</divisions><time><beats>${beats}</beats><beat-type>4</beat-type></time><transpose><diatonic>0</diatonic><chromatic>0</chromatic><octave-change>-1</octave-change></transpose></attributes>`;
const note = (step: string, octave: number, duration: number, more = "", before = "") =>
  `<note>${before}<pitch><step>${step}</step><octave>${octave}</octave></pitch><duration>${duration}</duration>${more}</note>`;
const said = (passage: Passage, bar = 0) =>
  passage.bars[bar]!.strokes.map((s) => `${s.at} ${s.notes.map((n) => `${n.string}/${n.fret}`).join("+")} ${s.length}`);

describe("scores from elsewhere", () => {
  it("sound an octave lower where the staff says so; places are chosen and that is said", () => {
    const { passage, remarks } = read(score(`<measure number="1">${attributes()}${note("E", 3, 4)}${note("A", 3, 4)}${note("E", 3, 8)}</measure>`));
    // Written E3 sounds as the open sixth string, E2.
    expect(said(passage)).toEqual(
      ["0/4", "1/4", "2/4"]
        .map((at, i) => `${ticksOf(at) === 0 ? "0" : at} ${["6/0", "5/0", "6/0"][i]} ${i === 2 ? "1/2" : "1/4"}`)
        .map((s) => s.replace("2/4", "1/2")),
    );
    expect(remarks.map((r) => r.says).join()).toMatch(/3 notes without string and fret/);
  });

  it("two voices, ties, chords and a backup become strokes", () => {
    const { passage } = read(
      score(
        `<measure number="1">${attributes()}${note("E", 4, 4, "<voice>1</voice>")}${note("G", 4, 12, "<voice>1</voice>")}<backup><duration>16</duration></backup>${note("E", 3, 16, '<tie type="start"/><voice>2</voice>')}</measure><measure number="2">${note("E", 3, 8, '<tie type="stop"/><voice>2</voice>')}${note("C", 4, 8)}${note("E", 4, 8, "", "<chord/>")}</measure>`,
      ),
    );
    expect(passage.bars[0]!.strokes.map((s) => s.notes.length)).toEqual([2, 1]);
    expect(ticksOf(passage.bars[0]!.strokes[0]!.length)).toBe(ticksOf("3/2"));
    expect(passage.bars[1]!.strokes.map((s) => s.notes.length)).toEqual([2]);
  });

  it("repeats with two endings are written out and reported", () => {
    const bar = (step: string, marks = "") => `<measure>${step === "E" ? attributes() : ""}${note(step, 3, 16)}${marks}</measure>`;
    const { passage, remarks } = read(
      score(
        `${bar("E")}${bar("F", '<barline location="left"><ending number="1" type="start"/></barline><barline location="right"><ending number="1" type="stop"/><repeat direction="backward"/></barline>')}${bar("G", '<barline location="left"><ending number="2" type="start"/></barline>')}`,
      ),
    );
    expect(passage.bars.map((b) => b.strokes[0]!.notes[0]!.fret)).toEqual([0, 1, 0, 3]);
    expect(remarks.map((r) => r.says)).toContain("repeats are written out: 3 bars became 4");
  });

  it("a pick-up stands at the end of its bar; meters and tempos change where they do", () => {
    const { passage } = read(
      score(
        `<measure number="0" implicit="yes">${attributes()}<sound tempo="90"/>${note("E", 3, 4)}</measure><measure number="1"><attributes><time><beats>3</beats><beat-type>4</beat-type></time></attributes><direction><direction-type><words>slower</words></direction-type><sound tempo="70"/></direction>${note("A", 3, 12)}</measure>`,
      ),
    );
    expect(passage.bars[0]).toMatchObject({ pickup: true, strokes: [{ at: "3/4" }] });
    expect(passage.bars[1]).toMatchObject({ meter: [3, 4], tempo: 70 });
    expect(passage.tempo).toBe(90);
  });

  it("of several parts one is read, the others are named", () => {
    const two = score(`<measure>${attributes()}${note("E", 3, 16)}</measure>`, '<score-part id="P2"><part-name>Bass</part-name></score-part>').replace(
      "</score-partwise>",
      `<part id="P2"><measure>${attributes()}${note("A", 2, 16)}</measure></part></score-partwise>`,
    );
    expect(read(two).parts).toEqual(["Guitar", "Bass"]);
    const bass = read(two, { part: 1 }).passage;
    expect(bass.instrument.kind).toBe("electric-bass");
    expect(said(bass)).toEqual(["0 3/0 1"]);
  });

  it("drop nothing silently: what is not understood is reported with its bar", () => {
    const { remarks } = read(
      score(
        `<measure>${attributes()}<note><grace/><pitch><step>E</step><octave>3</octave></pitch></note>${note("C", 1, 8)}<sound tempo="9"/><sound dacapo="yes"/>${note("E", 3, 8, "<notations><technical><bend><bend-alter>-3</bend-alter></bend></technical></notations>")}</measure>`,
      ),
    );
    const said = remarks.map((r) => `${r.place}: ${r.says}`).join("\n");
    for (const says of [
      /bar 1: a grace note/,
      /bar 1: a note that this neck does not have/,
      /bar 1: a tempo of 9/,
      /"dacapo" is not followed/,
      /a bend of -3/,
      /no tempo/,
      /no tuning/,
    ])
      expect(said).toMatch(says);
  });
});

describe("hostile files", () => {
  it.each([
    ["entities that swell", '<!DOCTYPE x [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;">]><score-partwise>&b;</score-partwise>', "entities of its own"],
    ["an entity from outside", '<!DOCTYPE x [<!ENTITY a SYSTEM "file:///etc/passwd">]><score-partwise>&a;</score-partwise>', "entities of its own"],
    ["depth", `${"<a>".repeat(100_000)}${"</a>".repeat(100_000)}`, "inside one another"],
    ["no score", "<html><body/></html>", "no MusicXML score"],
    ["ordered by time", "<score-timewise/>", "ordered by time"],
    ["cut off", score("<measure><note>").slice(0, 380), "not XML"],
    ["empty", "", "no XML element"],
    ["no part", "<score-partwise/>", "no part"],
  ])("%s: refused with one clear fault", (_, text, says) => {
    const result = readMusicXml(text);
    if (result.ok) expect.fail("was read");
    expect(result.faults[0]!.says).toContain(says);
    expect(result.faults[0]!.place).not.toBe("");
  });

  it("absurd meters, divisions and numbers of notes are refused or reported", () => {
    expect(read(score(`<measure>${attributes(99)}${note("E", 3, 16)}</measure>`)).remarks.map((r) => r.says)).toContain(
      "a meter of 99/4 cannot be written here: 4/4 goes on",
    );
    expect(readMusicXml(score(`<measure><attributes><divisions>0</divisions></attributes>${note("E", 3, 4)}</measure>`)).ok).toBe(true);
  });
});

it("a line of every technique is written with the elements the standard has for it", () => {
  const passage = passageOf([
    line(8, ["6/3p", "5/5", "5/7", "5/5"]),
    [stroke("0", "1/4", "6/3x"), stroke("1/4", "1/4", "6/3 5/5", { as: "chuck", strings: [6, 5, 4, 3, 2, 1] })],
  ]);
  Object.assign(passage.bars[0]!.strokes[2]!.notes[0]!, { from: "hammer" });
  Object.assign(passage.bars[0]!.strokes[3]!.notes[0]!, { from: "pull" });
  passage.bars[0]!.strokes[0]!.stroke = "down";
  const { text } = writeMusicXml(passage);
  for (const element of [
    "<mute>palm</mute>",
    "<down-bow/>",
    '<hammer-on type="stop"',
    '<pull-off type="stop"',
    "<notehead>x</notehead>",
    "<string>6</string>",
    "<fret>3</fret>",
    "<sign>TAB</sign>",
  ])
    expect(text).toContain(element);
});
