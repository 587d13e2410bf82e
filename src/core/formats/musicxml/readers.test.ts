import { MusicXML } from "@stringsync/musicxml";
import { enableLog, LOG_OFF, VerovioToolkit } from "verovio/esm";
import createVerovioModule from "verovio/wasm";
import { expect, it } from "vitest";
import { ticksOf } from "../../music/ticks.ts";
import type { Passage } from "../../passage/schema.ts";
import { passageOf, stroke } from "../../test/build.ts";
import { demoPassages } from "../../test/demos.ts";
import { readMusicXml } from "./read.ts";
import { writeMusicXml } from "./write.ts";

/*
 * Independent readers: Verovio 6.3.0, an engraver with a MusicXML importer of its own, and @stringsync/musicxml 0.3.0, an
 * object model of MusicXML 4.0, in place of the schema, which no package ships.
 */

/** Places in the order of the music, tied continuations left out: bar, string, fret. */
function places(passage: Passage): string[] {
  return passage.bars.flatMap((bar, b) => bar.strokes.flatMap((stroke) => stroke.notes.map((note) => `${b + 1}: ${note.string}/${note.fret}`))).sort();
}

const plucked = demoPassages().filter((passage) =>
  passage.bars.every((bar) => bar.strokes.every((stroke) => (stroke.as ?? "play") === "play" && !stroke.strings)),
);

it("an engraver finds every note at its string and fret on the tablature, and as a note on the staff over it", async () => {
  const module = await createVerovioModule();
  // It reports every accent, which its tablature cannot draw.
  enableLog(LOG_OFF, module);
  const verovio = new VerovioToolkit(module);
  expect(plucked.length).toBeGreaterThan(2);
  for (const passage of plucked) {
    expect(verovio.loadData(writeMusicXml(passage).text), passage.title).toBe(1);
    const mei = verovio.getMEI();
    const found: string[] = [];
    let onStaff = 0;
    const tied = new Set([...mei.matchAll(/<tie [^>]*endid="#([^"]+)"/g)].map((m) => m[1]));
    for (const [b, measure] of mei.split("<measure ").slice(1).entries())
      for (const [, attributes] of measure.matchAll(/<note ([^>]*)>/g)) {
        const of = (name: string) => new RegExp(`${name}="([^"]*)"`).exec(attributes!)?.[1];
        if (tied.has(of("xml:id"))) continue;
        if (of("tab.course")) found.push(`${b + 1}: ${of("tab.course")}/${of("tab.fret")}`);
        else if (of("pname")) onStaff++;
      }
    expect(found.sort(), passage.title).toEqual(places(passage));
    expect(onStaff, passage.title).toBe(found.length);
  }
});

it("an object model of MusicXML 4.0 takes it as a whole and gives it back unchanged in its music", () => {
  for (const passage of demoPassages()) {
    const { text } = writeMusicXml(passage);
    const again = MusicXML.parse(text).serialize();
    const [first, second] = [readMusicXml(text), readMusicXml(again)];
    if (!first.ok || !second.ok) expect.fail("was not read");
    expect(second.value.passage.bars, passage.title).toEqual(first.value.passage.bars);
  }
});

it("an engraver brackets triplets, quintuplets and septuplets with as many notes as they have", async () => {
  const verovio = new VerovioToolkit(await createVerovioModule());
  // A quarter each in three, five and seven, and one with a rest of two thirds between.
  const run = (quarter: number, of: number) => Array.from({ length: of }, (_, i) => stroke(`${quarter * of + i}/${4 * of}`, `1/${4 * of}`, `5/${3 + (i % 4)}`));
  const passage = passageOf([[...run(0, 3), ...run(1, 5), ...run(2, 7), stroke("3/4", "1/12", "5/3")]]);
  const { text, remarks } = writeMusicXml(passage);
  expect(remarks).toEqual([]);
  expect(verovio.loadData(text)).toBe(1);
  const tuplets = [...verovio.getMEI().matchAll(/<tuplet ([^>]*)>([\s\S]*?)<\/tuplet>/g)].map(([, attributes, inside]) => {
    const of = (name: string) => Number(new RegExp(`${name}="(\\d+)"`).exec(attributes!)?.[1]);
    return `${of("num")}:${of("numbase")}, ${[...inside!.matchAll(/<note /g)].length} notes`;
  });
  // On both staves.
  const once = ["3:2, 3 notes", "5:4, 5 notes", "7:4, 7 notes", "3:2, 1 notes"];
  expect(tuplets).toEqual([...once, ...once]);
  const back = readMusicXml(text);
  const inTicks = ({ at, length }: { at: string; length: string }) => [ticksOf(at), ticksOf(length)];
  expect(back.ok && back.value.passage.bars[0]!.strokes.map(inTicks)).toEqual(passage.bars[0]!.strokes.map(inTicks));
});
