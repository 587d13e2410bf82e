import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { describe, expect, it } from "vitest";
import { planStages } from "../src/core/engine.ts";
import { unpackBackup } from "../src/core/formats/backup/backup.ts";
import { NO_MISTAKES } from "../src/core/perform/mistakes.ts";
import { perform } from "../src/core/perform/perform.ts";
import { wavHeader, wavSamples } from "../src/core/sound/wav.ts";
import { demoPassages } from "../src/core/test/demos.ts";
import { launch, openPassage, visit } from "./kit.ts";
import { setStage } from "./stage.ts";

const stage = setStage();

async function openTakes(title: string) {
  const page = await stage.visit();
  await openPassage(page, title);
  await page.keyboard.press("Alt+k");
  await page.getByText("What did your hands really do?").waitFor();
  return page;
}

describe("takes", () => {
  it("the stand-in plays with two mistakes: both are found and nothing else, heard, led to their place and drill; then without, and the takes are compared", async () => {
    const page = await openTakes("Anchor Watch");
    await page.getByRole("button", { name: "Let the stand-in play" }).press("Enter");
    const says = page.getByTestId("take-says");
    await says.getByText("1 string rang that should be still and 1 note did not speak.", { exact: false }).waitFor();
    const found = page.getByRole("list", { name: "What was otherwise than planned" }).getByRole("listitem");
    expect(await found.count()).toBe(2);
    await found
      .filter({ hasText: "What keeps it:" })
      .getByRole("button", { name: /of the take$/ })
      .click();
    await found.filter({ hasText: "What keeps it:" }).getByRole("button", { name: /^Stop/ }).click();

    await page.getByRole("combobox", { name: "How the stand-in plays" }).selectOption({ label: "without a mistake" });
    await page.getByRole("button", { name: "Let the stand-in play" }).click();
    await says.getByText("Only what was meant rang.", { exact: false }).waitFor();
    expect(await page.getByTestId("against").textContent()).toBe("Against take 1: 2 of its mistakes gone, none new.");
    await page.getByRole("radio", { name: /^1: stand-in/ }).check({ force: true });

    const ring = found.filter({ hasText: "What keeps it:" });
    const bar = /^Bar (\d+)/.exec((await ring.textContent())!)![1];
    await page.getByText("Figures", { exact: true }).click();
    const figures = page.getByRole("region", { name: "Figures of what was found" }).getByRole("row");
    expect(await figures.count()).toBe(3);
    expect(await figures.filter({ hasText: "dB" }).count()).toBe(1);
    await ring.getByRole("link", { name: "Its drill" }).click();
    await page.getByRole("list", { name: "Drills of this session" }).locator("[aria-current=true]").waitFor();
    expect(new URL(page.url()).searchParams.get("bar")).toBe(bar);
    expect(stage.seen.trouble).toEqual([]);
  });

  it("a recording is opened; one of something else and a file that is no sound are told, and nothing is lost", async () => {
    const page = await openTakes("Anchor Watch");
    const folder = mkdtempSync(join(tmpdir(), "rest-hand-takes-"));
    try {
      const record = (title: string, name: string) => {
        const passage = demoPassages().find((one) => one.title === title)!;
        const { samples, sampleRate } = perform(passage, planStages(passage), { ...NO_MISTAKES, late: 1, noise: 50 }, 1);
        writeFileSync(join(folder, name), Buffer.concat([wavHeader(samples.length, sampleRate, "24"), wavSamples(samples, "24")]));
        return join(folder, name);
      };
      const input = page.getByLabel("A recording of this passage");
      await input.setInputFiles(record("Anchor Watch", "own.wav"));
      const says = page.getByTestId("take-says");
      await says.getByText("1 stroke came off its beat.", { exact: false }).waitFor();
      await page.getByRole("button", { name: /^Keep the recording/ }).click();
      await page.getByRole("button", { name: /^Delete the kept recording/ }).waitFor();
      await input.setInputFiles(record("Ballast Tanks", "other.wav"));
      await says.getByText("This does not sound like this passage", { exact: false }).waitFor();
      writeFileSync(join(folder, "words.wav"), "these are words and no sound");
      await input.setInputFiles(join(folder, "words.wav"));
      await page.getByRole("alert").getByText("words.wav could not be listened to").waitFor();
      await page.getByRole("radio", { name: "1: own.wav" }).check({ force: true });
      await says.getByText("1 stroke came off its beat.", { exact: false }).waitFor();

      // On another day: the figures are there, and what was asked to be kept is heard.
      await page.reload();
      const earlier = page.getByRole("region", { name: "Earlier takes" });
      await earlier.getByText("1 mistake", { exact: false }).click();
      await earlier.getByRole("button", { name: /^Hear bar \d+ of the take/ }).click();
      await earlier.getByRole("button", { name: /^Stop bar/ }).click();
      await input.setInputFiles(join(folder, "own.wav"));
      await page.getByTestId("against").getByText("nothing is gone, none new", { exact: false }).waitFor();
      await page.goto(`${stage.server.url}log`);
      await page
        .getByText(/^Take at/)
        .first()
        .waitFor();
      await page.goto(stage.server.url);
      await page.getByRole("button", { name: "Backup" }).click();
      await page.getByRole("checkbox", { name: /^with the recordings of takes/ }).check();
      const saving = page.waitForEvent("download");
      await page.getByRole("button", { name: "Save a backup now" }).click();
      const backup = unpackBackup(new Uint8Array(readFileSync(await (await saving).path())));
      expect(backup.ok && backup.value.recordings.length).toBe(1);
      await page.goto(`${stage.server.url}log`);
      const kept = page.getByRole("region", { name: "Kept recordings" });
      await kept.getByRole("button", { name: "Delete them" }).click();
      await kept.getByRole("button", { name: /^Yes, delete 1 recording/ }).click();
      await kept.waitFor({ state: "detached" });
      expect(stage.seen.trouble).toEqual([]);
    } finally {
      rmSync(folder, { recursive: true });
    }
  });
});

describe("a take from the microphone", () => {
  it("is recorded as it comes in and looked at; a second one is thrown away", async () => {
    const folder = mkdtempSync(join(tmpdir(), "rest-hand-microphone-"));
    const passage = demoPassages().find((one) => one.title === "Anchor Watch")!;
    const { samples, sampleRate, labels } = perform(passage, planStages(passage), { ...NO_MISTAKES, silent: 1 }, 1);
    const loud = samples.map((sample) => 4 * sample);
    writeFileSync(join(folder, "played.wav"), Buffer.concat([wavHeader(loud.length, sampleRate, "16"), wavSamples(loud, "16")]));
    const browser = await launch([
      "--use-fake-ui-for-media-stream",
      "--use-fake-device-for-media-stream",
      `--use-file-for-fake-audio-capture=${join(folder, "played.wav")}%noloop`,
    ]);
    try {
      const { page, trouble } = await visit(browser, stage.server.url);
      await openPassage(page, "Anchor Watch");
      await page.keyboard.press("Alt+k");
      await page.getByRole("combobox", { name: "How a take is counted in" }).selectOption({ label: "without a click" });
      await page.getByRole("button", { name: "Record", exact: true }).click();
      const recording = page.getByRole("region", { name: "Recording" });
      await recording.getByText(/loud enough|too loud/).waitFor();
      // As long as the passage is, and a little.
      const seconds = Math.ceil(samples.length / sampleRate) + 1;
      await page.waitForFunction((least) => {
        const [minutes = 0, rest = 0] = (document.querySelector("[data-testid=recorded]")?.textContent ?? "").split(":").map(Number);
        return 60 * minutes + rest >= least;
      }, seconds);
      await recording.getByRole("button", { name: "Stop and look" }).click();
      // A machine that is busy may lose some of what comes in: what was played wrong is there all the same.
      const silent = page.getByText(`The note on string ${labels[0]!.string} did not speak.`).first();
      await silent.waitFor();

      // Held back by the browser, as a page that is hidden may be: that is said, and it goes on by itself with what was there.
      await page.evaluate(() => {
        const Own = AudioContext;
        window.AudioContext = class extends Own {
          constructor(options?: AudioContextOptions) {
            super(options);
            Object.assign(window, { audio: this });
          }
        };
      });
      await page.getByRole("button", { name: "Record", exact: true }).click();
      const recorded = page.getByTestId("recorded");
      await recorded.filter({ hasText: /[1-9]/ }).waitFor();
      // Where the page is seen it goes on at once: only while it is hidden is it held long enough to be read.
      const seen = (state: DocumentVisibilityState) =>
        page.evaluate((now) => Object.defineProperty(document, "visibilityState", { configurable: true, get: () => now }), state);
      await seen("hidden");
      await page.evaluate(() => (window as unknown as { audio: AudioContext }).audio.suspend());
      const held = recording.getByText("The browser holds the recording back while the page is hidden. What is recorded is kept.");
      await held.waitFor();
      const kept = (await recorded.textContent())!;
      await seen("visible");
      await page.evaluate(() => document.dispatchEvent(new Event("visibilitychange")));
      await held.waitFor({ state: "hidden" });
      await recorded.filter({ hasNotText: kept }).waitFor();
      await recording.getByRole("button", { name: "Throw away" }).click();
      await page.getByRole("button", { name: "Record", exact: true }).waitFor();
      await silent.waitFor();

      // Unplugged in the middle: what was recorded until then is looked at, and said so.
      await page.evaluate(() => {
        const open = navigator.mediaDevices.getUserMedia.bind(navigator.mediaDevices);
        navigator.mediaDevices.getUserMedia = async (wanted) => {
          const stream = await open(wanted);
          setTimeout(() => stream.getAudioTracks()[0]!.dispatchEvent(new Event("ended")), 1500);
          return stream;
        };
      });
      await page.getByRole("button", { name: "Record", exact: true }).click();
      await page.getByText("The microphone went away: what was recorded until then is looked at.").waitFor();
      await page.getByRole("radio", { name: /^2: your take/ }).waitFor({ state: "attached" });
      expect(trouble).toEqual([]);
    } finally {
      await browser.close();
      rmSync(folder, { recursive: true });
    }
  });

  it("is counted in, and its delay measured, where nothing is heard; the trainer that listens says so, and leaves it to the player", async () => {
    const folder = mkdtempSync(join(tmpdir(), "rest-hand-quiet-"));
    const quiet = new Float32Array(48_000 * 10);
    writeFileSync(join(folder, "quiet.wav"), Buffer.concat([wavHeader(quiet.length, 48_000, "16"), wavSamples(quiet, "16")]));
    const browser = await launch([
      "--use-fake-ui-for-media-stream",
      "--use-fake-device-for-media-stream",
      `--use-file-for-fake-audio-capture=${join(folder, "quiet.wav")}`,
    ]);
    try {
      const { page, trouble } = await visit(browser, stage.server.url);
      await openPassage(page, "Tarpaulin");
      await page.keyboard.press("Alt+k");
      await page.getByRole("button", { name: "Measure its delay" }).click();
      await page.getByText("The clicks are not heard in it", { exact: false }).waitFor();
      await page.getByRole("button", { name: "Record", exact: true }).click();
      await page.getByTestId("recorded").waitFor();
      await page.getByRole("button", { name: "Stop and look" }).click();
      await page.getByText("Nothing is to be heard in this take.").waitFor();

      await page.getByRole("link", { name: "Drills" }).click();
      await page.getByRole("checkbox", { name: "the microphone judges" }).check();
      await page.getByRole("button", { name: "Start" }).click();
      await page.getByRole("button", { name: "Next" }).click();
      await page.getByRole("button", { name: "Go" }).click();
      const heard = page.getByTestId("heard");
      await heard.getByText("Nothing was heard. Say yourself whether it was clean.").waitFor();
      const clean = () => page.getByText("of 4 clean").textContent();
      expect(await clean()).toContain("0 of 4 clean");
      await page.keyboard.press("PageDown");
      await page.waitForFunction(() => document.body.textContent?.includes("1 of 4 clean"));
      await page.keyboard.press("Escape");
      expect(trouble).toEqual([]);
    } finally {
      await browser.close();
      rmSync(folder, { recursive: true });
    }
  });

  it("says why nothing is recorded where the microphone is not allowed, and where there is none", async () => {
    const page = await openTakes("Anchor Watch");
    await page.getByRole("button", { name: "Record", exact: true }).click();
    await page.getByRole("alert").getByText("Nothing is recorded").waitFor();
    await page
      .getByRole("alert")
      .getByText(/may not use the microphone|There is no microphone/)
      .waitFor();
    await page.getByRole("button", { name: "Let the stand-in play" }).click();
    await page.getByTestId("take-says").waitFor();
    expect(stage.seen.trouble).toEqual([]);
  });
});
