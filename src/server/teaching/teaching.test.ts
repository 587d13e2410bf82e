import { describe, expect, it } from "vitest";
import * as wire from "../../api/wire.ts";
import { practiceOf, takeOfStrays } from "../../core/test/practice-sessions.ts";
import { randomPassage } from "../../core/test/random-passages.ts";
import { type Browser, testStudio, WORDS } from "../test/test-people.ts";

const studio = testStudio();
const SINCE = "2026-03-01T00:00:00.000Z";

const teachingOf = async (browser: Browser) => wire.teachings.parse((await browser.ask("get", "/teaching")).body);
const giftsOf = async (browser: Browser) => wire.giftList.parse((await browser.ask("get", "/gifts")).body);
const shelfOf = async (browser: Browser) => wire.listedPassages.parse((await browser.ask("get", "/passages")).body);
const passageOf = async (browser: Browser, id: string) => wire.storedPassage.parse((await browser.ask("get", `/passages/${id}`)).body);
const invite = async (teacher: Browser) => wire.madeInvitation.parse((await teacher.ask("post", "/invitations", { note: "a student", asStudent: true })).body);

/** Makes somebody who has an account a student. */
async function teach(teacher: Browser, student: Browser): Promise<string> {
  const { secret } = await invite(teacher);
  const before = (await teachingOf(teacher)).students.map(({ id }) => id);
  expect((await student.ask("post", "/invitations/join", { secret })).status).toBe(204);
  return (await teachingOf(teacher)).students.find(({ id }) => !before.includes(id))!.id;
}

async function write(browser: Browser, passage: object): Promise<string> {
  return ((await browser.ask("post", "/passages", passage)).body as { id: string }).id;
}

/** Saves over whatever is there. */
async function save(browser: Browser, id: string, change: object): Promise<void> {
  const { version, passage } = await passageOf(browser, id);
  expect((await browser.ask("put", `/passages/${id}`, { ...passage, ...change }, { "If-Match": `"${version}"` })).status).toBe(200);
}

const give = (teacher: Browser, passage: string, students: string[], more: object = {}) =>
  teacher.ask("post", `/passages/${passage}/give`, { students, note: "", drills: [], ...more });

describe("teacher and student", () => {
  it("come together by an invitation that says so: with a new account, or with the one that is there", async () => {
    const nell = await studio.signedIn("Nell", true);
    const tom = studio.stranger();
    const { secret } = await invite(nell);
    expect((await tom.ask("post", "/invitations/look", { secret })).body).toEqual({ by: "Nell", asStudent: true });
    expect((await tom.ask("post", "/invitations/look", { secret: "none" })).status).toBe(404);
    expect((await tom.ask("post", "/invitations/join", { secret })).status).toBe(401);
    expect((await tom.ask("post", "/invitations/accept", { secret, name: "Tom", passphrase: WORDS })).status).toBe(200);
    expect((await teachingOf(tom)).teachers).toEqual([{ id: expect.any(String), name: "Nell", sees: false }]);
    const ann = await studio.signedIn("Ann");
    await teach(nell, ann);
    expect((await teachingOf(nell)).students.map(({ name, shows }) => [name, shows])).toEqual([
      ["Ann", false],
      ["Tom", false],
    ]);
    // Once, not by oneself, and not by an invitation that is for an account alone.
    expect((await ann.ask("post", "/invitations/join", { secret })).status).toBe(404);
    const own = await invite(nell);
    expect((await nell.ask("post", "/invitations/join", { secret: own.secret })).status).toBe(404);
    const plain = wire.madeInvitation.parse((await nell.ask("post", "/invitations", { note: "a friend" })).body);
    expect((await ann.ask("post", "/invitations/join", { secret: plain.secret })).status).toBe(404);
    await studio.stranger().ask("post", "/invitations/accept", { secret: plain.secret, name: "Kit", passphrase: WORDS });
    expect((await teachingOf(nell)).students).toHaveLength(2);
  });

  it("part as either wants; what was given stays, and nothing more comes", async () => {
    const [nell, tom] = [await studio.signedIn("Nell", true), await studio.signedIn("Tom")];
    const teaching = await teach(nell, tom);
    const passage = await write(nell, randomPassage(5, 2));
    await give(nell, passage, [teaching]);
    const [teacher] = (await teachingOf(tom)).teachers;
    expect((await tom.ask("delete", `/teachers/${teacher!.id}`)).status).toBe(204);
    expect(await teachingOf(nell)).toEqual({ teachers: [], students: [] });
    expect(await shelfOf(tom)).toHaveLength(1);
    expect((await give(nell, passage, [teaching])).status).toBe(404);
    const again = await teach(nell, tom);
    expect((await nell.ask("delete", `/students/${again}`)).status).toBe(204);
    expect((await teachingOf(tom)).teachers).toEqual([]);
  });
});

describe("a passage that is given", () => {
  it("is the student's own copy: with its treatments, its origin, the teacher's words and the drills that are asked for", async () => {
    const [nell, tom, ann] = [await studio.signedIn("Nell", true), await studio.signedIn("Tom"), await studio.signedIn("Ann")];
    const [toTom, toAnn] = [await teach(nell, tom), await teach(nell, ann)];
    const written = { ...randomPassage(5, 2), title: "Low Tide", treatments: [{ id: "t1", name: "chucks", rules: [{ kind: "backbeat", as: "chuck" }] }] };
    const passage = await write(nell, written);
    const drills = [{ id: "whole", title: "The whole passage" }];
    const answer = await give(nell, passage, [toTom, toAnn], { note: "Slowly, please.", drills });
    expect(answer.body).toEqual({ copies: 2, offers: 0, same: 0 });
    const [gift] = await giftsOf(tom);
    expect(gift).toMatchObject({ by: "Nell", note: "Slowly, please.", drills, isOffered: false });
    expect(gift!.passage).not.toBe(passage);
    expect((await passageOf(tom, gift!.passage)).passage).toEqual((await passageOf(nell, passage)).passage);
    // What he does with it is no business of anybody else.
    await save(tom, gift!.passage, { title: "Mine now" });
    expect((await passageOf(nell, passage)).passage.title).toBe("Low Tide");
    expect((await shelfOf(ann)).map(({ title }) => title)).toEqual(["Low Tide"]);
    // The same once more is no news; other words are.
    expect((await give(nell, passage, [toAnn], { note: "Now faster.", drills })).body).toEqual({ copies: 0, offers: 0, same: 1 });
    expect(await giftsOf(ann)).toMatchObject([{ note: "Now faster.", isOffered: false }]);
  });

  it("is never changed by the teacher: a newer one is offered, and taken or left", async () => {
    const [nell, tom] = [await studio.signedIn("Nell", true), await studio.signedIn("Tom")];
    const teaching = await teach(nell, tom);
    const passage = await write(nell, { ...randomPassage(5, 2), title: "Low Tide" });
    await give(nell, passage, [teaching]);
    const [{ id, passage: copy }] = (await giftsOf(tom)) as [wire.Gift];
    expect((await tom.ask("post", `/gifts/${id}/take`)).status).toBe(404);
    await save(nell, passage, { title: "Low Tide, second draft" });
    expect((await giftsOf(tom))[0]!.isOffered).toBe(false);
    expect((await give(nell, passage, [teaching])).body).toEqual({ copies: 0, offers: 1, same: 0 });
    expect((await passageOf(tom, copy)).passage.title).toBe("Low Tide");
    expect(await giftsOf(tom)).toMatchObject([{ isOffered: true }]);
    expect((await tom.ask("post", `/gifts/${id}/leave`)).status).toBe(204);
    expect(await giftsOf(tom)).toMatchObject([{ isOffered: false }]);
    expect((await passageOf(tom, copy)).passage.title).toBe("Low Tide");
    // Untouched: the newer one takes its place, and nothing is left beside it.
    await give(nell, passage, [teaching]);
    expect((await tom.ask("post", `/gifts/${id}/take`)).body).toEqual({ passage: copy, kept: null });
    expect((await shelfOf(tom)).map(({ title, version }) => [title, version])).toEqual([["Low Tide, second draft", 2]]);
    expect(await giftsOf(tom)).toMatchObject([{ isOffered: false }]);
  });

  it("that was worked on is kept beside the newer one", async () => {
    const [nell, tom] = [await studio.signedIn("Nell", true), await studio.signedIn("Tom")];
    const teaching = await teach(nell, tom);
    const passage = await write(nell, { ...randomPassage(5, 2), title: "Low Tide" });
    await give(nell, passage, [teaching]);
    const [{ id, passage: copy }] = (await giftsOf(tom)) as [wire.Gift];
    await save(tom, copy, { tempo: 55, title: "n".repeat(198) });
    await save(nell, passage, { tempo: 99 });
    await give(nell, passage, [teaching]);
    const taken = wire.takenOffer.parse((await tom.ask("post", `/gifts/${id}/take`)).body);
    expect((await passageOf(tom, copy)).passage).toMatchObject({ title: "Low Tide", tempo: 99 });
    expect((await passageOf(tom, taken.kept!)).passage).toMatchObject({ title: `${"n".repeat(190)} (my copy)`, tempo: 55 });
    // What he has now is what was given: taken over once more, nothing is put beside it.
    await save(nell, passage, { tempo: 101 });
    await give(nell, passage, [teaching]);
    expect((await tom.ask("post", `/gifts/${id}/take`)).body).toEqual({ passage: copy, kept: null });
  });

  it("goes with its origin: into the bin, for good, and stays when the teacher's account does not", async () => {
    const [nell, tom] = [await studio.signedIn("Nell", true), await studio.signedIn("Tom")];
    const teaching = await teach(nell, tom);
    const passage = await write(nell, randomPassage(5, 2));
    const other = await write(nell, randomPassage(6, 2));
    for (const one of [passage, other]) await give(nell, one, [teaching]);
    const [first, second] = (await giftsOf(tom)) as [wire.Gift, wire.Gift];
    await tom.ask("delete", `/passages/${first.passage}`);
    expect((await giftsOf(tom)).map(({ id }) => id)).toEqual([second.id]);
    await tom.ask("delete", `/passages/${first.passage}?forever`);
    // It is new to him then.
    expect((await give(nell, passage, [teaching])).body).toEqual({ copies: 1, offers: 0, same: 0 });
    expect((await nell.ask("delete", "/me", { passphrase: WORDS })).status).toBe(204);
    expect((await giftsOf(tom)).map(({ by }) => by)).toEqual(["Nell", "Nell"]);
    expect(await teachingOf(tom)).toEqual({ teachers: [], students: [] });
  });

  it("is given to all that are named or to nobody, and a damaged one not at all", async () => {
    const [nell, tom, ann] = [await studio.signedIn("Nell", true), await studio.signedIn("Tom"), await studio.signedIn("Ann", true)];
    const [teaching, others] = [await teach(nell, tom), await teach(ann, tom)];
    const passage = await write(nell, randomPassage(5, 2));
    expect((await give(nell, passage, [teaching, others])).status).toBe(404);
    expect((await give(nell, passage, [])).status).toBe(422);
    await studio.database.client.query("update passages set document = '{}' where id = $1", [passage]);
    expect((await give(nell, passage, [teaching])).status).toBe(422);
    expect(await shelfOf(tom)).toEqual([]);
  });
});

describe("what a student practised", () => {
  it("is shown while the student wants it: figures, none of their words and nothing of where it hurt", async () => {
    const [nell, tom] = [await studio.signedIn("Nell", true), await studio.signedIn("Tom")];
    const teaching = await teach(nell, tom);
    const session = {
      ...practiceOf(1, { figure: "palm" }, "2026-03-05T23:30:00.000Z", { a: [60] }),
      note: "A secret of mine",
      discomforts: [{ at: "2026-03-05T23:40:00.000Z", where: "fingertips", drill: null, contact: null }],
      takes: [takeOfStrays(1, "2026-03-05T23:35:00.000Z", [3])],
    };
    expect((await tom.ask("put", `/practice/sessions/${session.id}`, session)).status).toBe(200);
    const asked = `/students/${teaching}/report?since=${SINCE}`;
    expect((await nell.ask("get", asked)).body).toEqual({ name: "Tom", report: null });
    const [teacher] = (await teachingOf(tom)).teachers;
    expect((await tom.ask("patch", `/teachers/${teacher!.id}`, { sees: true })).status).toBe(204);
    const shown = await nell.ask("get", asked);
    expect(wire.studentReport.parse(shown.body).report).toMatchObject({ days: 1, subjects: [{ figure: "palm", sessions: 1, takes: { many: 1 } }] });
    expect(JSON.stringify(shown.body)).not.toMatch(/secret|fingertips/);
    expect((await nell.ask("get", `/students/${teaching}/report?since=2026-03-06T00:00:00.000Z`)).body.report.subjects).toEqual([]);
    expect((await nell.ask("get", `${asked}&zone=Nowhere/Atall`)).status).toBe(422);
    await tom.ask("patch", `/teachers/${teacher!.id}`, { sees: false });
    expect((await nell.ask("get", asked)).body).toEqual({ name: "Tom", report: null });
    // Nobody shows for somebody else.
    expect((await nell.ask("patch", `/teachers/${teaching}`, { sees: true })).status).toBe(404);
  });
});

describe("a link", () => {
  it("shows a passage as it is now to whoever has it, until its day, until it is withdrawn, and while the passage is on the shelf", async () => {
    const nell = await studio.signedIn("Nell");
    const passage = await write(nell, { ...randomPassage(5, 2), title: "Low Tide" });
    const stranger = studio.stranger();
    const look = (secret: string) => stranger.ask("post", "/shared", { secret });
    expect((await nell.ask("post", `/passages/${passage}/links`, { days: 8 })).status).toBe(422);
    const { link, secret } = wire.madeLink.parse((await nell.ask("post", `/passages/${passage}/links`, { days: 7 })).body);
    expect(Date.parse(link.expiresAt) - Date.now()).toBeGreaterThan(6.9 * 86_400_000);
    await save(nell, passage, { title: "Low Tide, second draft" });
    const found = await look(secret);
    expect(wire.sharedPassage.parse(found.body)).toMatchObject({ by: "Nell", passage: { title: "Low Tide, second draft" }, expiresAt: link.expiresAt });
    // It is read and nothing else: the secret is no way in.
    expect(found.given).toBeUndefined();
    expect((await stranger.ask("get", `/passages/${passage}`)).status).toBe(401);
    await nell.ask("delete", `/passages/${passage}`);
    expect((await look(secret)).status).toBe(404);
    await nell.ask("post", `/passages/${passage}/restore`);
    expect((await look(secret)).status).toBe(200);
    await studio.database.client.query("update links set expires_at = now() - interval '1 second'");
    expect((await look(secret)).status).toBe(404);
    expect((await nell.ask("get", "/links")).body).toEqual([]);
    const second = wire.madeLink.parse((await nell.ask("post", `/passages/${passage}/links`, { days: 30 })).body);
    expect(wire.linkList.parse((await nell.ask("get", "/links")).body)).toEqual([second.link]);
    expect((await nell.ask("delete", `/links/${second.link.id}`)).status).toBe(204);
    expect((await look(second.secret)).status).toBe(404);
    expect((await look("")).status).toBe(404);
    expect(JSON.stringify((await studio.database.client.query("select * from links")).rows)).not.toContain(secret);
  });
});
