import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { describe, expect, it } from "vitest";
import { planStages } from "../src/core/engine.ts";
import { NO_MISTAKES } from "../src/core/perform/mistakes.ts";
import { perform } from "../src/core/perform/perform.ts";
import { wavHeader, wavSamples } from "../src/core/sound/wav.ts";
import { demoPassages } from "../src/core/test/demos.ts";
import { openPassage } from "./kit.ts";
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
      await input.setInputFiles(record("Ballast Tanks", "other.wav"));
      await says.getByText("This does not sound like this passage", { exact: false }).waitFor();
      writeFileSync(join(folder, "words.wav"), "these are words and no sound");
      await input.setInputFiles(join(folder, "words.wav"));
      await page.getByRole("alert").getByText("words.wav could not be listened to").waitFor();
      await page.getByRole("radio", { name: "1: own.wav" }).check({ force: true });
      await says.getByText("1 stroke came off its beat.", { exact: false }).waitFor();
      expect(stage.seen.trouble).toEqual([]);
    } finally {
      rmSync(folder, { recursive: true });
    }
  });
});
