import { pino } from "pino";
import { launch, openPassage, startServer, visit } from "../e2e/kit.ts";
import { openPostgres } from "../src/server/database/postgres.ts";
import { People } from "../src/server/people/people.ts";
import { newDatabase, startCluster } from "../src/server/test/postgres-cluster.ts";

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
await server.stop();

// A studio: Ada, whose library the demo is, is taught by Bo.
const WORDS = "lantern oyster gravel tuba";
const cluster = await startCluster();
const url = await newDatabase(cluster.url);
const studio = await startServer(undefined, 0, { DATABASE_URL: url });
const database = await openPostgres(url, pino({ level: "silent" }));
const people = new People(database.db);
for (const name of ["Ada", "Bo"]) await people.add(name, WORDS, true);
const [ada, bo] = [(await people.find("Ada"))!.id, (await people.find("Bo"))!.id];
await database.client.query("insert into teachings (teacher, student, shows) values ($1, $2, true)", [bo, ada]);
await database.close();
const signedIn = async (name: string) => {
  const { page } = await visit(browser, studio.url, { theme: "stand" });
  await page.getByLabel("Name").fill(name);
  await page.getByLabel("Passphrase").fill(WORDS);
  await page.keyboard.press("Enter");
  await page.getByRole("heading", { name: "Shelf" }).waitFor();
  return page;
};
const hers = await signedIn("Ada");
const shelf = (await (await hers.request.get(`${studio.url}api/passages`)).json()) as { id: string; title: string }[];
const { passage: pump } = (await (await hers.request.get(`${studio.url}api/passages/${shelf.find(({ title }) => title === "Bilge Pump")!.id}`)).json()) as {
  passage: object;
};
const his = await signedIn("Bo");
await his.request.post(`${studio.url}api/passages`, { data: pump });
await his.getByRole("button", { name: "Give Bilge Pump" }).click();
await his.getByLabel("Your words with it").fill("Slowly first: listen to string 5 between the strokes.");
await his.getByRole("group", { name: "Drills that come first in their sessions" }).getByRole("checkbox").nth(2).check();
await his.evaluate(() => document.fonts.ready);
await his.screenshot({ path: "docs/screenshots/give.png", animations: "disabled" });
await his.goto(`${studio.url}students`);
await his.getByLabel("Since when").selectOption("the last 3 months");
await his.getByText("Hardest now").waitFor();
await his.screenshot({ path: "docs/screenshots/students.png", animations: "disabled" });
await browser.close();
await studio.stop();
await cluster.remove();
