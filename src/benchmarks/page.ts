import { gzipSync } from "node:zlib";
import type { Page } from "playwright-core";
import { build, type Rollup } from "vite";
import { launch, startServer } from "../../e2e/kit.ts";
import type { PassageInput } from "../core/passage/schema.ts";
import type { Planned } from "./in-worker.ts";
import { sixteenthRiff } from "./passages.ts";

/** Speed of the page in headless Chromium, in front of the real server with its demo data. Nothing here passes or fails. */

const row = (what: string, value: string, aim: string) => process.stdout.write(`${what.padEnd(58)} ${value.padStart(12)}   ${aim}\n`);
interface TraceEvent {
  name: string;
  ph: string;
  pid: number;
  tid: number;
  /** In microseconds: when, how long by the clock, how long on the processor. */
  ts: number;
  dur?: number;
  tdur?: number;
  args?: { name?: string };
}

const median = (values: number[]) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!;

const server = await startServer();
const browser = await launch();

/** Built as the page is, in a worker of it. */
async function plannedInWorker(): Promise<Planned> {
  const built = await build({
    configFile: false,
    logLevel: "error",
    build: { write: false, lib: { entry: "src/benchmarks/in-worker.ts", formats: ["es"] } },
  });
  const { output } = (Array.isArray(built) ? built[0]! : built) as Rollup.RollupOutput;
  const page = await browser.newPage();
  await page.route("**/in-worker.js", (route) => route.fulfill({ contentType: "text/javascript", body: output[0].code }));
  await page.goto(server.url);
  // As text: the loader would give the functions inside a name that the page does not know.
  const planned = await page.evaluate(`new Promise((resolve, reject) => {
    const worker = new Worker("/in-worker.js", { type: "module" });
    worker.onmessage = ({ data }) => resolve(data);
    worker.onerror = () => reject(new Error("the worker failed"));
  })`);
  await page.close();
  return planned as Planned;
}

try {
  process.stdout.write("\nThe page in headless Chromium\n");
  const loads: number[] = [];
  const scripts: Promise<number>[] = [];
  for (let i = 0; i < 5; i++) {
    // A context of its own has an empty cache.
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    const page = await context.newPage();
    if (i === 0)
      page.on("response", (response) => {
        if (response.url().endsWith(".js")) scripts.push(response.body().then((body) => gzipSync(body).length));
      });
    const start = performance.now();
    await page.goto(server.url);
    await page.getByRole("link", { name: "Bilge Pump", exact: true }).waitFor();
    loads.push(performance.now() - start);
    await Promise.all(scripts);
    await context.close();
  }
  row("first view of the demo from a cold load", `${median(loads).toFixed(0)} ms`, "aim 800 ms");
  const script = (await Promise.all(scripts)).reduce((a, b) => a + b);
  row("scripts of the first view, gzipped", `${(script / 1024).toFixed(0)} KB`, "aim 190 KB");

  const open = async (passage: PassageInput) => {
    const made = await fetch(`${server.url}api/passages`, {
      method: "POST",
      headers: { "content-type": "application/json", origin: server.url.replace(/\/$/, "") },
      body: JSON.stringify(passage),
    });
    if (!made.ok) throw new Error(await made.text());
    const { id } = (await made.json()) as { id: string };
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(`${server.url}bench/${id}`);
    await page.locator('[data-planned]:not([data-planned="pending"])').waitFor();
    return page;
  };

  /** Scrolls the drawing by 160 pixels a frame and says the longest task meanwhile: by the clock, and what the processor gave it. */
  const scrolled = async (what: string, on: Page) => {
    await browser.startTracing(on, { categories: ["toplevel"] });
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
    const { traceEvents } = JSON.parse((await browser.stopTracing()).toString()) as { traceEvents: TraceEvent[] };
    const main = traceEvents.find((event) => event.name === "thread_name" && event.args?.name === "CrRendererMain");
    const tasks = traceEvents.filter((event) => event.ph === "X" && event.pid === main?.pid && event.tid === main.tid);
    const [clock, processor] = (["dur", "tdur"] as const).map((time) => Math.max(...tasks.map((task) => (task[time] ?? 0) / 1000)));
    const longer = new Set(tasks.filter((task) => task.dur! > 50_000).map((task) => Math.floor(task.ts / 50_000))).size;
    row(what, `${clock!.toFixed(0)} ms`, `aim 32 ms; ${longer} over 50 ms; of processor time at most ${processor!.toFixed(0)} ms`);
  };

  const planned = await plannedInWorker();
  row("64 bars of sixteenths in a worker: nothing remembered", `${planned.fromNothing.toFixed(1)} ms`, "aim 100 ms");
  row("re-plan there after one edit, document and sentences too", `${planned.afterEdit.toFixed(1)} ms`, "aim 8 ms");

  const page = await open(sixteenthRiff(64));
  for (let i = 0; i < 20; i++) await page.keyboard.press("ArrowRight");
  await page.keyboard.press("ArrowDown");
  const devtools = await page.context().newCDPSession(page);
  await devtools.send("Performance.enable", { timeDomain: "threadTicks" });
  /** Processor time of the page's main thread so far, in ms. */
  const worked = async () => (await devtools.send("Performance.getMetrics")).metrics.find((metric) => metric.name === "TaskDuration")!.value * 1000;
  const edits: { painted: number; planned: number; worked: number }[] = [];
  for (let i = 0; i < 48; i++) {
    await page.evaluate(() => {
      const root = document.querySelector("[data-plan]")!;
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
            observer.disconnect();
            const planned = Number(root.getAttribute("data-planned"));
            requestAnimationFrame(() => setTimeout(() => resolve({ painted: performance.now() - start, planned })));
          });
          observer.observe(root, { attributeFilter: ["data-plan"] });
        }),
      );
    });
    // Nobody presses two keys within a frame of each other: what the arrow has had drawn is over.
    await page.waitForTimeout(50);
    const before = await worked();
    // A second note on a string that was to be quiet: another grip, and other strings to damp.
    await page.keyboard.press("5");
    const measured = await page.evaluate(() => Reflect.get(globalThis, "measured") as Promise<{ painted: number; planned: number }>);
    edits.push({ ...measured, worked: (await worked()) - before });
    await page.keyboard.press("ArrowRight");
  }
  const middle = (figure: "painted" | "planned" | "worked") => median(edits.map((e) => e[figure])).toFixed(0);
  row(
    "64 bars of sixteenths: keypress to the new plan painted",
    `${middle("painted")} ms`,
    `aim 25 ms; planning ${middle("planned")} ms; processor time of the page itself ${middle("worked")} ms`,
  );
  await page.close();

  // As many strokes as a passage may have.
  const riff = sixteenthRiff(500);
  const long = await open({ ...riff, bars: riff.bars.map((bar) => ({ ...bar, strokes: bar.strokes?.filter((_, i) => i % 2 === 0) })) });
  await scrolled("500 bars: longest main-thread task while scrolling", long);
  await long.keyboard.press("Alt+r");
  await long.getByRole("application", { name: /^Loudness/ }).waitFor();
  await scrolled("500 bars on the Ring: the same", long);
} finally {
  await browser.close();
  await server.stop();
}
