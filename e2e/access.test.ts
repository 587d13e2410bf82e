import AxeBuilder from "@axe-core/playwright";
import type { Browser } from "playwright-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { launch, openPassage, type Server, startServer, visit } from "./kit.ts";

let server: Server;
let browser: Browser;

beforeAll(async () => {
  [server, browser] = await Promise.all([startServer(), launch()]);
});
afterAll(async () => {
  await browser.close();
  await server.stop();
});

const RULES = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"];

describe.each(["stand", "stage"] as const)("WCAG 2.2 AA by axe, %s theme", (theme) => {
  it("finds nothing on the shelf, the bench and the guide", async () => {
    const { context, page } = await visit(browser, server.url, { theme });
    await page.getByRole("link", { name: "Bilge Pump", exact: true }).waitFor();
    await page.getByText("1 stray ring").first().waitFor();
    const problems: string[] = [];
    const look = async (place: string) => {
      const { violations } = await new AxeBuilder({ page }).withTags(RULES).analyze();
      problems.push(...violations.map((v) => `${place}: ${v.id} ${v.nodes.map((n) => n.target).join(" ")}`));
    };
    await look("shelf");
    await openPassage(page, "Bilge Pump");
    await page.keyboard.press("n");
    await look("bench");
    await page.getByRole("button", { name: "Signs and keys" }).click();
    await page.getByRole("dialog").waitFor();
    await look("guide");
    await context.close();
    expect(problems).toEqual([]);
  });
});

it("nothing spills sideways on a tablet or a telephone", async () => {
  for (const [width, height] of [
    [1024, 768],
    [390, 844],
  ] as const) {
    const { context, page } = await visit(browser, server.url, { width, height });
    await page.getByRole("link", { name: "Bilge Pump", exact: true }).waitFor();
    const spill = () => page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth);
    expect(await spill(), `shelf at ${width}`).toBeLessThanOrEqual(0);
    await openPassage(page, "Bilge Pump");
    expect(await spill(), `bench at ${width}`).toBeLessThanOrEqual(0);
    await context.close();
  }
});
