import { describe, expect, it } from "vitest";
import { openPassage, reads } from "./kit.ts";
import { setStage } from "./stage.ts";

const stage = setStage();

describe("practice", () => {
  it("a session is chosen, drills are heard right and failing, three are gone through by keys; what came of it is in the log, and due tomorrow", async () => {
    const page = await stage.visit();
    await openPassage(page, "Ballast Tanks");
    await page.keyboard.press("Alt+p");
    const list = page.getByRole("list", { name: "Drills of this session" });
    await list.waitFor();
    await page.getByText("10 min", { exact: true }).click();
    await list.getByRole("listitem").last().filter({ hasText: "The whole" }).waitFor();
    const minutes = (await list.getByText(/^\d+ min$/).allTextContents()).reduce((sum, text) => sum + Number.parseInt(text, 10), 0);
    expect(minutes).toBe(10);
    const titles = (await list.getByRole("heading").allTextContents()).map((text) => text.replace(/^\d+\. /, ""));
    const first = list.getByRole("listitem").first();
    await first.getByRole("button", { name: /when this fails$/ }).click();
    await first.getByRole("button", { name: /^Stop .*when this fails$/ }).waitFor();
    await first.getByRole("button", { name: /^Stop/ }).click();

    await page.getByRole("combobox", { name: "What sounds under the click" }).selectOption({ label: "the drill as planned" });
    await page.getByRole("button", { name: "Start" }).click();
    const practice = page.getByRole("dialog", { name: "Practice" });
    await practice.getByRole("region", { name: "Now" }).waitFor();
    const start = Number(await page.getByTestId("tempo").textContent());
    await page.keyboard.press("Space");
    await practice.getByRole("button", { name: "Pause" }).waitFor();
    for (let clean = 0; clean < 4; clean++) await page.keyboard.press("Enter");
    await reads(page, "tempo", String(Math.round(start * 1.04)));
    await page.keyboard.press("n");
    // The beat goes on into the next drill.
    await practice.getByText(/^2 of \d+:/).waitFor();
    await practice.getByRole("button", { name: "Pause" }).click();
    await practice.getByRole("button", { name: "Go", exact: true }).waitFor();
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
    await practice.getByRole("textbox", { name: "Note for the log" }).fill("index was late");
    await page.keyboard.press("Escape");
    await list.waitFor();
    // It goes with the session that is over, which may be a moment after the list is there.
    await page.getByRole("button", { name: /^Go on/ }).waitFor({ state: "detached" });

    await page.getByRole("link", { name: "Shelf" }).click();
    await page.getByRole("link", { name: "Log" }).click();
    const session = page.getByRole("region", { name: "Sessions" }).getByRole("listitem").first();
    await session.getByText("4 of 4 clean").waitFor();
    expect(await session.textContent()).toContain("Ballast Tanks");
    expect(await session.textContent()).toContain(`${titles[1]}: 0 of 2 clean: slower next time`);
    expect(await session.getByRole("textbox").inputValue()).toBe("index was late");
    const due = page.getByRole("region", { name: "Due today" });
    expect(await due.getByText("Ballast Tanks").count()).toBe(0);
    // Tomorrow.
    await page.clock.setFixedTime(Date.now() + 86_400_000);
    await page.reload();
    await due.getByRole("listitem").filter({ hasText: "Ballast Tanks" }).filter({ hasText: titles[1]! }).waitFor();
    await page.getByRole("link", { name: "Shelf" }).click();
    await page.getByRole("note", { name: "Due today" }).getByRole("link", { name: "Practise Ballast Tanks" }).click();
    // What failed is there again, what went well rests.
    await list.getByRole("heading", { name: titles[1]! }).waitFor();
    expect(stage.seen.trouble).toEqual([]);
  });

  it("what hurts is noted in one press and never played through: the passage is planned without it, and the log says so", async () => {
    const page = await stage.visit();
    await openPassage(page, "Keelson");
    await page.keyboard.press("Alt+p");
    const list = page.getByRole("list", { name: "Drills of this session" });
    await list
      .getByRole("heading", { name: /Both strings/ })
      .first()
      .waitFor();
    const titles = (await list.getByRole("heading").allTextContents()).map((text) => text.replace(/^\d+\. /, ""));
    const hurts = titles.find((title) => title.startsWith("Both strings"))!;
    await page.getByRole("button", { name: "Start" }).click();
    const practice = page.getByRole("dialog", { name: "Practice" });
    for (const title of titles) {
      await practice.getByText(title).first().waitFor();
      if (title === hurts) break;
      await page.keyboard.press("n");
    }
    await page.keyboard.press("h");
    const stop = page.getByRole("dialog", { name: "Stop here" });
    await stop.getByText("see a doctor before you play on", { exact: false }).waitFor();
    expect(await stop.getByRole("button", { name: /go on/i }).count()).toBe(0);
    await stop.getByRole("button", { name: "fretting hand or wrist" }).click();
    await stop.getByRole("button", { name: /plan the passage without this/ }).click();
    await practice.getByText("It hurt today", { exact: false }).waitFor();
    await page.keyboard.press("Escape");
    await list.getByRole("heading", { name: hurts }).waitFor({ state: "detached" });
    await list.getByRole("heading").first().waitFor();
    await page.goto(`${stage.server.url}log`);
    await page.getByRole("region", { name: "What hurt" }).getByText("fretting hand or wrist", { exact: false }).waitFor();
    expect(stage.seen.trouble).toEqual([]);
  });

  it("the log leaves as a table, and goes session by session or as a whole", async () => {
    const page = await stage.visit();
    await page.goto(`${stage.server.url}log`);
    const sessions = page.getByRole("region", { name: "Sessions" });
    await sessions.getByRole("listitem").first().waitFor();
    const saving = page.waitForEvent("download");
    await page.getByRole("button", { name: "Table (CSV)" }).click();
    expect((await saving).suggestedFilename()).toBe("rest-hand-practice.csv");
    const first = sessions.locator(":scope > ul > li").nth(4);
    const name = await first.getByRole("button", { name: /^Delete the session of/ }).getAttribute("aria-label");
    await first.getByRole("button", { name: name! }).click();
    await first.getByRole("button", { name: "Yes, delete this session" }).click();
    await page.getByRole("button", { name: name! }).waitFor({ state: "hidden" });
    expect(await sessions.getByRole("listitem").count()).toBeGreaterThan(0);
    await page.getByRole("button", { name: "Delete all" }).click();
    await page.getByRole("button", { name: "Yes, delete the whole log" }).click();
    await page.getByText("Nothing was practised yet.").waitFor();
    expect(stage.seen.trouble).toEqual([]);
  });

  it("clicks are where they belong: twenty minutes of them rendered, and those of the trainer as this browser schedules them", async () => {
    const page = await stage.visit();
    await page.addInitScript(() => {
      const starts: number[] = [];
      Object.assign(window, { starts });
      const { start } = OscillatorNode.prototype;
      OscillatorNode.prototype.start = function (at = 0) {
        if (this.context instanceof AudioContext) starts.push(at);
        start.call(this, at);
      };
    });
    await page.goto(`${stage.server.url}practice`);
    await page.getByRole("button", { name: "Check the click" }).click();
    const check = /^(\d+) clicks: the worst is ([\d.]+) ms off the beat, the last one ([\d.]+) ms/;
    const [, clicks, worst, drift] = check.exec((await page.getByText(check).textContent())!)!;
    expect(Number(clicks)).toBeGreaterThan(1900);
    expect(Number(worst)).toBeLessThan(1);
    expect(Number(drift)).toBeLessThan(1);
    await page.getByRole("button", { name: "Start" }).click();
    const tempo = Number(await page.getByTestId("tempo").textContent());
    await page.keyboard.press("Space");
    await page.waitForFunction(() => (window as unknown as { starts: number[] }).starts.length > 8);
    const starts = await page.evaluate(() => (window as unknown as { starts: number[] }).starts);
    for (const [k, at] of starts.entries()) expect(Math.abs(at - starts[0]! - (k * 60) / tempo)).toBeLessThan(0.001);
    expect(stage.seen.trouble).toEqual([]);
  });

  it("a week's drills are printed, black on white in either theme", async () => {
    const page = await stage.visit();
    await openPassage(page, "Bilge Pump");
    await page.keyboard.press("Alt+p");
    const list = page.getByRole("list", { name: "Drills of this session" });
    await list.waitFor();
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
    await page.getByRole("group", { name: "Move" }).getByText("Let go and press").click();
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
