import { gzipSync } from "node:zlib";
import type { Page } from "playwright-core";
import { launch, startServer } from "../../e2e/kit.ts";
import { sixteenthRiff } from "./passages.ts";

/** Speed of the page in headless Chromium, in front of the real server with its demo data. Nothing here passes or fails. */

const row = (what: string, value: string, aim: string) => process.stdout.write(`${what.padEnd(58)} ${value.padStart(12)}   ${aim}\n`);
const median = (values: number[]) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!;

const server = await startServer();
const browser = await launch();
try {
  process.stdout.write("\nThe page in headless Chromium\n");
  const loads: number[] = [];
  let script = 0;
  for (let i = 0; i < 5; i++) {
    // A context of its own has an empty cache.
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    const page = await context.newPage();
    if (i === 0)
      page.on("response", async (response) => {
        if (response.url().endsWith(".js")) script += gzipSync(await response.body()).length;
      });
    const start = performance.now();
    await page.goto(server.url);
    await page.getByRole("link", { name: "Bilge Pump", exact: true }).waitFor();
    loads.push(performance.now() - start);
    await context.close();
  }
  row("first view of the demo from a cold load", `${median(loads).toFixed(0)} ms`, "aim 1500 ms");
  row("scripts of the first view, gzipped", `${(script / 1024).toFixed(0)} KB`, "aim 300 KB");

  const open = async (bars: number) => {
    const made = await fetch(`${server.url}api/passages`, {
      method: "POST",
      headers: { "content-type": "application/json", origin: server.url.replace(/\/$/, "") },
      body: JSON.stringify(sixteenthRiff(bars)),
    });
    const { id } = (await made.json()) as { id: string };
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(`${server.url}bench/${id}`);
    await page.locator('[data-planned]:not([data-planned="pending"])').waitFor();
    return page;
  };

  /** Scrolls the drawing by 160 pixels a frame and tells the longest task meanwhile. */
  const scrolled = async (what: string, on: Page) => {
    await on.evaluate(() => {
      const tasks: number[] = [];
      Reflect.set(globalThis, "longTasks", tasks);
      new PerformanceObserver((list) => tasks.push(...list.getEntries().map((entry) => entry.duration))).observe({ entryTypes: ["longtask"] });
    });
    // As text: the loader would give the functions inside a name that the page does not know.
    await on.evaluate(`new Promise((resolve) => {
      const drawing = document.querySelector("[role=application]");
      let frames = 0;
      (function scroll() {
        drawing.scrollLeft += 160;
        if (++frames < 240) requestAnimationFrame(scroll);
        else resolve();
      })();
    })`);
    const tasks = await on.evaluate(() => Reflect.get(globalThis, "longTasks") as number[]);
    row(what, tasks.length === 0 ? "under 50 ms" : `${Math.max(...tasks).toFixed(0)} ms`, `aim 50 ms; ${tasks.length} longer`);
  };

  const page = await open(64);
  for (let i = 0; i < 20; i++) await page.keyboard.press("ArrowRight");
  const edits: { painted: number; planned: number }[] = [];
  for (let i = 0; i < 24; i++) {
    await page.evaluate(() => {
      const root = document.querySelector("[data-planned]")!;
      let start = 0;
      addEventListener(
        "keydown",
        () => {
          start = performance.now();
        },
        { capture: true, once: true },
      );
      Reflect.set(
        globalThis,
        "measured",
        new Promise<{ painted: number; planned: number }>((resolve) => {
          const observer = new MutationObserver(() => {
            const took = root.getAttribute("data-planned")!;
            if (took === "pending" || start === 0) return;
            observer.disconnect();
            requestAnimationFrame(() => setTimeout(() => resolve({ painted: performance.now() - start, planned: Number(took) })));
          });
          observer.observe(root, { attributes: true });
        }),
      );
    });
    // An accent lets up the palm, which changes what both hands do from here on.
    await page.keyboard.press("a");
    edits.push(await page.evaluate(() => Reflect.get(globalThis, "measured") as Promise<{ painted: number; planned: number }>));
    await page.keyboard.press("ArrowRight");
  }
  row(
    "64 bars of sixteenths: keypress to the new plan painted",
    `${median(edits.map((e) => e.painted)).toFixed(0)} ms`,
    `aim 50 ms; of that planning ${median(edits.map((e) => e.planned)).toFixed(0)} ms`,
  );
  await page.close();

  const long = await open(500);
  await scrolled("500 bars: longest main-thread task while scrolling", long);
  await long.keyboard.press("Alt+r");
  await long.getByRole("application", { name: /^Loudness/ }).waitFor();
  await scrolled("500 bars on the Ring: the same", long);
} finally {
  await browser.close();
  await server.stop();
}
