import AxeBuilder from "@axe-core/playwright";
import { describe, expect, it } from "vitest";
import { openPassage, visit } from "./kit.ts";
import { setStage } from "./stage.ts";

const stage = setStage();

const RULES = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"];

describe.each(["stand", "stage"] as const)("WCAG 2.2 AA by axe, %s theme", (theme) => {
  it("finds nothing on any place, dialog and guide", async () => {
    const { context, page } = await visit(stage.browser, stage.server.url, { theme });
    await page.getByRole("link", { name: "Bilge Pump", exact: true }).waitFor();
    await page.getByText("1 stray ring").first().waitFor();
    const problems: string[] = [];
    const look = async (place: string) => {
      const { violations } = await new AxeBuilder({ page }).withTags(RULES).analyze();
      problems.push(...violations.map((v) => `${place}: ${v.id} ${v.nodes.map((n) => n.target).join(" ")}`));
    };
    await look("shelf");
    await page.getByRole("button", { name: "Backup", exact: true }).click();
    await page.getByRole("button", { name: "Look into it" }).click();
    await page.getByText("There is nothing to bring back").waitFor();
    await look("backup dialog");
    await page.keyboard.press("Escape");
    await page.getByRole("button", { name: "Save Bilge Pump as a file" }).click();
    await page.getByRole("dialog", { name: "Save Bilge Pump as a file" }).waitFor();
    await look("export dialog");
    await page.keyboard.press("Escape");
    await page.getByRole("button", { name: /^Paste or open a tab/ }).click();
    await page.getByRole("dialog", { name: "Paste or open a tab or a score" }).waitFor();
    await look("import dialog");
    await page.keyboard.press("Escape");
    await openPassage(page, "Bilge Pump");
    await page.keyboard.press("n");
    await page.getByText("What takes it away").waitFor();
    await look("bench");
    await page.keyboard.press("i");
    await page.getByRole("dialog", { name: "This passage" }).waitFor();
    await look("passage dialog");
    await page.keyboard.press("Escape");
    await page.getByRole("application").press("s");
    await page.getByRole("dialog", { name: "Bilge Pump on the stand" }).waitFor();
    await look("stand");
    await page.keyboard.press("Escape");
    await page.getByRole("button", { name: "Signs and keys" }).click();
    await page.getByRole("dialog", { name: "Signs and keys" }).waitFor();
    await look("guide");
    await page.keyboard.press("Escape");
    await page.keyboard.press("Alt+w");
    await page
      .getByRole("textbox", { name: "Pattern" })
      .or(page.getByRole("heading", { name: "Rules, first to last" }))
      .first()
      .waitFor();
    await look("writer");
    await page.keyboard.press("Alt+t");
    await page.getByTestId("figures").getByText("262").first().waitFor();
    await look("treatments");
    await page.keyboard.press("Alt+r");
    await page.getByRole("application").waitFor();
    await look("ring");
    await page.keyboard.press("Alt+s");
    await page.getByRole("article", { name: "Sheet of Bilge Pump" }).waitFor();
    await look("sheet");
    await page.getByRole("link", { name: "Setup" }).click();
    await page.getByRole("region", { name: "Instruments" }).getByRole("listitem").first().waitFor();
    await look("setup");
    await page.getByRole("button", { name: "New player" }).click();
    await look("a player");
    await context.close();
    expect(problems).toEqual([]);
  });
});

it("nothing spills sideways on a tablet or a telephone", async () => {
  for (const [width, height] of [
    [1024, 768],
    [390, 844],
  ] as const) {
    const { context, page } = await visit(stage.browser, stage.server.url, { width, height });
    await page.getByRole("link", { name: "Bilge Pump", exact: true }).waitFor();
    const spill = () => page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth);
    expect(await spill(), `shelf at ${width}`).toBeLessThanOrEqual(0);
    await page.goto(`${stage.server.url}setup`);
    await page.getByRole("heading", { name: "Appearance" }).waitFor();
    expect(await spill(), `setup at ${width}`).toBeLessThanOrEqual(0);
    await page.goto(stage.server.url);
    await openPassage(page, "Bilge Pump");
    expect(await spill(), `bench at ${width}`).toBeLessThanOrEqual(0);
    for (const place of ["Writer", "Treatments", "Ring", "Sheet"]) {
      await page.getByRole("navigation").getByRole("link", { name: place }).click();
      await page.waitForURL(new RegExp(place.toLowerCase()));
      await page
        .getByText(/Rules, first to last|palm lifts a bar|Who sets whom off|^Paper$/)
        .first()
        .waitFor();
      expect(await spill(), `${place} at ${width}`).toBeLessThanOrEqual(0);
    }
    await context.close();
  }
});
