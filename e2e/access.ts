import AxeBuilder from "@axe-core/playwright";
import type { Page } from "playwright-core";
import { expect, it } from "vitest";
import { setStage } from "./stage.ts";

const RULES = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"];

/** What axe finds on a page as it is. */
export async function problems(page: Page, place: string): Promise<string[]> {
  // There are no frames: without a page of its own for them it takes a third of the time.
  const { violations } = await new AxeBuilder({ page })
    .options({ resultTypes: ["violations"] })
    .setLegacyMode(true)
    .withTags(RULES)
    .analyze();
  return violations.map((v) => `${place}: ${v.id} ${v.nodes.map((n) => n.target).join(" ")}`);
}

/** WCAG 2.2 AA by axe in one theme, on every page; a file for each theme, so that they run beside each other. */
export function accessIn(theme: "stand" | "stage"): void {
  const stage = setStage();

  it("the shelf and its dialogs", async () => {
    const page = await stage.visit({ theme });
    await page.getByRole("link", { name: "Bilge Pump", exact: true }).waitFor();
    await page.getByText("1 stray ring").first().waitFor();
    const found = await problems(page, "shelf");
    await page.getByRole("button", { name: "Backup", exact: true }).click();
    await page.getByRole("button", { name: "Look into it" }).click();
    await page.getByText("There is nothing to bring back").waitFor();
    found.push(...(await problems(page, "backup dialog")));
    await page.keyboard.press("Escape");
    await page.getByRole("button", { name: "Save Bilge Pump as a file" }).click();
    await page.getByRole("dialog", { name: "Save Bilge Pump as a file" }).waitFor();
    await page
      .getByRole("radio", { name: /^MusicXML/ })
      .first()
      .check();
    await page.getByLabel("Staves").waitFor();
    found.push(...(await problems(page, "export dialog")));
    await page.keyboard.press("Escape");
    await page.getByRole("button", { name: /^Paste or open a tab/ }).click();
    await page.getByRole("dialog", { name: "Paste or open a tab or a score" }).waitFor();
    found.push(...(await problems(page, "import dialog")));
    expect(found).toEqual([]);
  });

  it("the bench, its dialogs, the stand and the guide", async () => {
    const page = await stage.open("Bilge Pump", { theme });
    await page.keyboard.press("n");
    await page.getByText("What takes it away").waitFor();
    const found = await problems(page, "bench");
    await page.keyboard.press("i");
    await page.getByRole("dialog", { name: "This passage" }).waitFor();
    found.push(...(await problems(page, "passage dialog")));
    await page.keyboard.press("Escape");
    await page.getByRole("application").press("m");
    await page.getByRole("dialog", { name: "Move the figure" }).waitFor();
    await page.keyboard.press("ArrowUp");
    await page.getByText("It sounds 5 semitones higher.").waitFor();
    found.push(...(await problems(page, "move dialog")));
    await page.keyboard.press("Escape");
    await page.getByRole("application").press("s");
    await page.getByRole("dialog", { name: "Bilge Pump on the stand" }).waitFor();
    found.push(...(await problems(page, "stand")));
    await page.keyboard.press("Escape");
    await page.getByRole("button", { name: "Signs and keys" }).click();
    await page.getByRole("dialog", { name: "Signs and keys" }).waitFor();
    found.push(...(await problems(page, "guide")));
    expect(found).toEqual([]);
  });

  it("the writer, the treatments, the ring and the sheet", async () => {
    const page = await stage.open("Bilge Pump", { theme });
    await page.keyboard.press("Alt+w");
    await page
      .getByRole("textbox", { name: "Pattern" })
      .or(page.getByRole("heading", { name: "Rules, first to last" }))
      .first()
      .waitFor();
    const found = await problems(page, "writer");
    await page.getByRole("button", { name: "Propose patterns" }).click();
    await page.getByRole("button", { name: "busier" }).waitFor();
    found.push(...(await problems(page, "proposed patterns")));
    await page.keyboard.press("Alt+t");
    await page.getByTestId("figures").filter({ hasNotText: "…" }).waitFor();
    found.push(...(await problems(page, "treatments")));
    await page.getByRole("button", { name: "Try them all" }).click();
    await page
      .getByRole("button", { name: /^Play it so/ })
      .first()
      .waitFor();
    found.push(...(await problems(page, "ways of playing")));
    await page.getByRole("button", { name: "Compare otherwise" }).click();
    const compare = page.getByRole("dialog", { name: "Compare the same notes" });
    await compare.getByText("Played otherwise").click();
    found.push(...(await problems(page, "comparing otherwise")));
    await compare.getByRole("button", { name: "Close" }).click();
    await page.keyboard.press("Alt+b");
    await page.getByRole("button", { name: "re-finger all" }).click();
    const changes = page.getByRole("dialog", { name: "Other fingers and places" });
    await changes.getByText(/^Stray rings/).waitFor();
    found.push(...(await problems(page, "other fingers")));
    await changes.getByRole("button", { name: "Close" }).click();
    const score = page.getByRole("application");
    await score.press("h");
    await score.press("k");
    await page.getByRole("dialog", { name: "Chord" }).getByRole("button", { name: "Hold it from here on" }).waitFor();
    found.push(...(await problems(page, "a chord and its voicings")));
    await page.keyboard.press("Escape");
    await page.keyboard.press("Alt+r");
    await page.getByRole("application").waitFor();
    found.push(...(await problems(page, "ring")));
    await page.keyboard.press("Alt+p");
    await page.getByRole("list", { name: "Drills of this session" }).waitFor();
    found.push(...(await problems(page, "drills")));
    await page.keyboard.press("Alt+k");
    await page.getByRole("button", { name: "Let the stand-in play" }).click();
    await page.getByTestId("take-says").waitFor();
    found.push(...(await problems(page, "takes")));
    await page.keyboard.press("Alt+p");
    await page.getByRole("list", { name: "Drills of this session" }).waitFor();
    await page.getByRole("button", { name: "Start" }).click();
    const practice = page.getByRole("dialog", { name: "Practice" });
    await practice.getByRole("region", { name: "Now" }).waitFor();
    found.push(...(await problems(page, "trainer")));
    await practice.getByRole("button", { name: "Leave" }).click();
    await page.keyboard.press("Alt+s");
    await page.getByRole("article", { name: "Sheet of Bilge Pump" }).waitFor();
    found.push(...(await problems(page, "sheet")));
    expect(found).toEqual([]);
  });

  it("the log and practice without a passage", async () => {
    const page = await stage.visit({ theme });
    await page.goto(`${stage.server.url}log`);
    await page.getByRole("region", { name: "Progress" }).waitFor();
    const found = await problems(page, "log");
    await page.goto(`${stage.server.url}practice`);
    await page.getByRole("list", { name: "Drills of this session" }).waitFor();
    await page.getByText("How fast are these hands", { exact: false }).click();
    found.push(...(await problems(page, "a move")));
    await page.getByRole("button", { name: "Start" }).click();
    await page.getByRole("dialog", { name: "Practice" }).getByRole("button", { name: "It hurts" }).click();
    await page.getByRole("dialog", { name: "Stop here" }).waitFor();
    found.push(...(await problems(page, "what hurts")));
    expect(found).toEqual([]);
  });

  it("the setup", async () => {
    const page = await stage.visit({ theme });
    await page.getByRole("link", { name: "Setup" }).click();
    await page.getByRole("region", { name: "Instruments" }).getByRole("listitem").first().waitFor();
    const found = await problems(page, "setup");
    await page.getByRole("button", { name: "New player" }).click();
    found.push(...(await problems(page, "a player")));
    expect(found).toEqual([]);
  });
}
