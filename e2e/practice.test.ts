import { describe, expect, it } from "vitest";
import { openPassage, reads } from "./kit.ts";
import { setStage } from "./stage.ts";

const stage = setStage();

describe("practice", () => {
  it("a session is chosen, drills are heard right and failing, three are gone through by keys, and what came of each is shown", async () => {
    const page = await stage.visit();
    await openPassage(page, "Bilge Pump");
    await page.keyboard.press("Alt+p");
    const list = page.getByRole("list", { name: "Drills of this session" });
    await list.waitFor();
    await page.getByText("10 min", { exact: true }).click();
    await list.getByRole("listitem").last().filter({ hasText: "The whole" }).waitFor();
    const minutes = (await list.getByText(/^\d+ min$/).allTextContents()).reduce((sum, text) => sum + Number.parseInt(text, 10), 0);
    expect(minutes).toBe(10);
    const first = list.getByRole("listitem").first();
    await first.getByRole("button", { name: /when this fails$/ }).click();
    await first.getByRole("button", { name: /^Stop .*when this fails$/ }).waitFor();
    await first.getByRole("button", { name: /^Stop/ }).click();

    await page.getByRole("button", { name: "Start" }).click();
    const practice = page.getByRole("dialog", { name: "Practice" });
    await practice.getByRole("region", { name: "Now" }).waitFor();
    const start = Number(await page.getByTestId("tempo").textContent());
    await page.keyboard.press("Space");
    await practice.getByRole("button", { name: "Pause" }).waitFor();
    for (let clean = 0; clean < 4; clean++) await page.keyboard.press("Enter");
    await reads(page, "tempo", String(Math.round(start * 1.04)));
    await page.keyboard.press("Space");
    await practice.getByRole("button", { name: "Go", exact: true }).waitFor();
    await page.keyboard.press("n");
    await practice.getByText(/^2 of \d+:/).waitFor();
    const second = Number(await page.getByTestId("tempo").textContent());
    await page.keyboard.press("PageUp");
    await page.keyboard.press("x");
    await reads(page, "tempo", String(Math.round(second * 0.92)));
    // The phone rings, the page is loaded anew: nothing is lost.
    await page.reload();
    await page.getByRole("button", { name: /^Go on: 2 of/ }).click();
    await practice.getByText(/^2 of \d+:/).waitFor();
    await reads(page, "tempo", String(Math.round(second * 0.92)));
    await page.keyboard.press("n");
    await practice.getByRole("button", { name: "Clean", exact: true }).click();
    for (;;) {
      await practice.getByRole("button", { name: "Next" }).click();
      if (await practice.getByText("Done", { exact: true }).isVisible()) break;
    }
    const outcomes = practice.getByRole("list", { name: "What came of it" }).getByRole("listitem");
    await outcomes.nth(0).filter({ hasText: "4 of 4 clean" }).waitFor();
    await outcomes.nth(1).filter({ hasText: "0 of 2 clean: slower next time" }).waitFor();
    await outcomes.nth(2).filter({ hasText: "1 of 1 clean" }).waitFor();
    await page.keyboard.press("Escape");
    await list.waitFor();
    expect(await page.getByRole("button", { name: /^Go on/ }).count()).toBe(0);
    await page.emulateMedia({ media: "print" });
    const paper = page.getByRole("article", { name: "Practice page of Bilge Pump" });
    await paper.getByRole("row").nth(1).waitFor();
    expect(await list.isVisible()).toBe(false);
    // Black on white, in the dark theme as well.
    await page.evaluate(() => {
      document.documentElement.dataset.theme = "stage";
    });
    const behind = await paper.evaluate((element) => {
      for (let at: Element | null = element; at; at = at.parentElement) {
        const { backgroundColor } = getComputedStyle(at);
        if (backgroundColor !== "rgba(0, 0, 0, 0)") return backgroundColor;
      }
      return "none";
    });
    expect(behind).toBe("rgb(255, 255, 255)");
    await page.emulateMedia({ media: null });
    expect(stage.seen.trouble).toEqual([]);
  });

  it("a move is practised without a passage, on an instrument of the Setup", async () => {
    const page = await stage.visit();
    await page.getByRole("link", { name: "Practise a move" }).click();
    await page.getByText("Let go and press", { exact: true }).click();
    await page.getByText("pressure off, fingers on the strings", { exact: false }).waitFor();
    const list = page.getByRole("list", { name: "Drills of this session" });
    await list.getByRole("listitem").last().filter({ hasText: "The whole" }).waitFor();
    await page.getByRole("combobox", { name: "Instrument" }).selectOption({ index: 1 });
    await list.getByRole("listitem").first().waitFor();
    await page.getByRole("button", { name: "Start" }).click();
    await page.getByRole("dialog", { name: "Practice" }).getByRole("region", { name: "Now" }).waitFor();
    expect(stage.seen.trouble).toEqual([]);
  });
});
