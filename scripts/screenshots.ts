import { launch, openPassage, startServer, visit } from "../e2e/kit.ts";

/** Takes the pictures of the README from the demo data. Needs a built page: npm run build. */
const VIEWS = [
  { name: "shelf", theme: "stand", passage: null, keys: [] },
  { name: "bench", theme: "stand", passage: "Bilge Pump", keys: ["n"] },
  { name: "bench-stage", theme: "stage", passage: "Tarpaulin", keys: ["Control+ArrowRight", "ArrowRight", "ArrowRight"] },
  { name: "bench-bass", theme: "stand", passage: "Keelson", keys: ["ArrowRight", "ArrowRight"] },
  { name: "stand", theme: "stage", passage: "Galley Steam", keys: ["ArrowRight", "s"] },
] as const;

const server = await startServer();
const browser = await launch();
for (const { name, theme, passage, keys } of VIEWS) {
  const { context, page } = await visit(browser, server.url, { theme });
  if (passage) await openPassage(page, passage);
  else {
    await page.getByText("1 stray ring").first().waitFor();
    await page.getByText("planning …").first().waitFor({ state: "hidden" });
  }
  for (const key of keys) await page.keyboard.press(key);
  if (passage) await page.getByTestId("strays").filter({ hasNotText: "…" }).waitFor();
  if (keys.some((key) => key === "n")) await page.getByTestId("remedies").getByRole("button").first().waitFor();
  await page.evaluate(() => document.fonts.ready);
  await page.screenshot({ path: `docs/screenshots/${name}.png`, animations: "disabled" });
  await context.close();
}
const { context, page } = await visit(browser, server.url, { theme: "stand" });
await page.goto(`${server.url}setup`);
await page.getByRole("button", { name: "New player" }).click();
await page.getByLabel("Name").fill("Second guitar");
await page.evaluate(() => document.fonts.ready);
await page.screenshot({ path: "docs/screenshots/setup.png", animations: "disabled" });
await context.close();
{
  const { context, page } = await visit(browser, server.url, { theme: "stand" });
  await page.goto(`${server.url}log`);
  await page.getByRole("region", { name: "Progress" }).waitFor();
  await page.evaluate(() => document.fonts.ready);
  await page.screenshot({ path: "docs/screenshots/log.png", animations: "disabled" });
  await context.close();
}
for (const { name, theme, passage, key, ready } of [
  { name: "writer", theme: "stand", passage: "Tarpaulin", key: "Alt+w", ready: "All rules go together." },
  { name: "treatments", theme: "stand", passage: "Bilge Pump", key: "Alt+t", ready: "stray rings" },
  { name: "sheet", theme: "stand", passage: "Galley Steam", key: "Alt+s", ready: "Save as SVG" },
  { name: "ring", theme: "stage", passage: "Bilge Pump", key: "Alt+r", ready: "Who sets whom off" },
] as const) {
  const { context, page } = await visit(browser, server.url, { theme });
  await openPassage(page, passage);
  await page.keyboard.press("n");
  await page.keyboard.press(key);
  await page.getByText(ready).first().waitFor();
  await page.getByText("…").first().waitFor({ state: "hidden" });
  await page.evaluate(() => document.fonts.ready);
  await page.screenshot({ path: `docs/screenshots/${name}.png`, animations: "disabled" });
  await context.close();
}
{
  const { context, page } = await visit(browser, server.url, { theme: "stand" });
  await openPassage(page, "Keelson");
  await page.keyboard.press("Alt+p");
  await page.getByRole("list", { name: "Drills of this session" }).waitFor();
  await page.evaluate(() => document.fonts.ready);
  await page.screenshot({ path: "docs/screenshots/drills.png", animations: "disabled" });
  await page.getByRole("button", { name: "Start" }).click();
  await page.getByRole("region", { name: "Now" }).waitFor();
  for (const key of ["Enter", "Enter"]) await page.keyboard.press(key);
  await page.screenshot({ path: "docs/screenshots/trainer.png", animations: "disabled" });
  await context.close();
}
{
  const { context, page } = await visit(browser, server.url, { theme: "stage" });
  await openPassage(page, "Anchor Watch");
  await page.keyboard.press("Alt+k");
  await page.getByRole("button", { name: "Let the stand-in play" }).click();
  await page.getByTestId("take-says").waitFor();
  await page.evaluate(() => document.fonts.ready);
  await page.screenshot({ path: "docs/screenshots/takes.png", animations: "disabled" });
  await context.close();
}
await browser.close();
await server.stop();
