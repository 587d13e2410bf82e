import { readFileSync, writeFileSync } from "node:fs";
import type { Browser } from "playwright-core";
import { afterAll, beforeAll, expect, it } from "vitest";
import { launch, openPassage, reads, type Server, startServer, visit } from "./kit.ts";

/* The page without its server: what was opened before is there, and what is done meanwhile arrives. */

const WORKER = "dist/sw.js";
let worker: string | null = null;
let server: Server;
let browser: Browser;
beforeAll(async () => {
  [server, browser] = await Promise.all([startServer(), launch()]);
});
afterAll(async () => {
  if (worker) writeFileSync(WORKER, worker);
  await browser.close();
  await server.stop();
});

it("opens without its server: Shelf, Bench and Drills with what was opened before; what was changed meanwhile arrives when it is back", async () => {
  const { page, context } = await visit(browser, server.url, { withWorker: true });
  await page.waitForFunction(() => navigator.serviceWorker.controller !== null);
  const manifest = (await (await page.request.get(`${server.url}manifest.webmanifest`)).json()) as { icons: { src: string }[]; display: string };
  expect(manifest.display).toBe("standalone");
  for (const { src } of manifest.icons) expect((await page.request.get(new URL(src, server.url).href)).headers()["content-type"]).toBe("image/png");
  await openPassage(page, "Bilge Pump");
  const id = page.url().split("/").at(-1)!;
  await page.goto(server.url);
  await page.getByRole("link", { name: "Bilge Pump", exact: true }).waitFor();
  // What the Shelf shows is kept.
  await page.waitForFunction(async () => (await caches.open("rest-hand-answers").then((kept) => kept.match("/api/passages"))) !== undefined);

  await server.kill();
  await page.reload();
  await page.getByRole("link", { name: "Bilge Pump", exact: true }).click();
  await page.getByRole("application").waitFor();
  await reads(page, "strays", "1 stray ring");
  await page.getByRole("textbox", { name: "Title" }).fill("Bilge Pump, at sea");
  await page.keyboard.press("Enter");
  await page.getByRole("link", { name: "Drills" }).click();
  await page.getByRole("list", { name: "Drills of this session" }).getByRole("heading").first().waitFor();
  // A reload loses nothing.
  await page.reload();
  await page.waitForFunction(() => document.querySelector<HTMLInputElement>("h1 input")?.value === "Bilge Pump, at sea");

  server = await startServer(server.directory, server.port);
  await expect
    .poll(async () => ((await (await fetch(`${server.url}api/passages/${id}`)).json()) as { passage: { title: string } }).passage.title, { timeout: 60_000 })
    .toBe("Bilge Pump, at sea");
  await context.close();
});

it("what is kept in the browser opens without the server though it was never opened, as it was last", async () => {
  const { page, context } = await visit(browser, server.url, { withWorker: true });
  await page.waitForFunction(() => navigator.serviceWorker.controller !== null);
  await page.reload();
  await page.getByRole("searchbox").fill("Windlass");
  await page.getByRole("checkbox", { name: "Choose Windlass" }).check();
  await page.getByRole("button", { name: "Keep 1 in this browser" }).click();
  await page.getByText("kept in this browser", { exact: false }).first().waitFor();
  await page.getByText("Kept in this browser: 1 passage").waitFor();
  // It was not opened, and it is fetched anew when it is changed elsewhere.
  const listed = (await (await page.request.get(`${server.url}api/passages`)).json()) as { id: string; title: string; openedAt: string | null }[];
  const { id, openedAt } = listed.find(({ title }) => title === "Windlass")!;
  expect(openedAt).toBeNull();
  const { version, passage } = (await (await page.request.get(`${server.url}api/passages/${id}`)).json()) as { version: number; passage: object };
  const saved = await page.request.put(`${server.url}api/passages/${id}`, {
    headers: { "If-Match": `"${version}"` },
    data: { ...passage, title: "Windlass, from elsewhere" },
  });
  expect(saved.status()).toBe(200);
  await page.getByRole("link", { name: "Windlass, from elsewhere" }).waitFor();
  await page.waitForFunction(
    async (path) => (await (await (await caches.open("rest-hand-answers")).match(path))?.text())?.includes("from elsewhere"),
    `/api/passages/${id}`,
  );
  await server.kill();
  await page.reload();
  await page.getByRole("searchbox").fill("Windlass");
  await page.getByRole("link", { name: "Windlass, from elsewhere" }).click();
  await page.getByRole("application").waitFor();
  await reads(page, "strays", /ring|astray/);
  server = await startServer(server.directory, server.port);
  await context.close();
});

it("a newer version is offered, and comes only when it is taken", async () => {
  const { page, context } = await visit(browser, server.url, { withWorker: true });
  await page.waitForFunction(() => navigator.serviceWorker.controller !== null);
  await openPassage(page, "Galley Steam");
  worker = readFileSync(WORKER, "utf8");
  writeFileSync(WORKER, `${worker}\n// another version`);
  await page.reload();
  await page.getByRole("application").waitFor();
  await page.getByText("A newer Rest Hand is here.").waitFor();
  // It waits, whatever is gone to meanwhile.
  await page.getByRole("link", { name: "Drills" }).click();
  await page.getByRole("list", { name: "Drills of this session" }).getByRole("heading").first().waitFor();
  expect(await page.evaluate(async () => (await navigator.serviceWorker.getRegistration())?.waiting?.state)).toBe("installed");
  const loaded = page.waitForEvent("load");
  await page.getByRole("button", { name: "Take it now" }).click();
  await loaded;
  await page.getByRole("list", { name: "Drills of this session" }).getByRole("heading").first().waitFor();
  expect(await page.evaluate(async () => (await navigator.serviceWorker.getRegistration())?.waiting ?? null)).toBeNull();
  expect(await page.getByText("A newer Rest Hand is here.").count()).toBe(0);
  await context.close();
});
