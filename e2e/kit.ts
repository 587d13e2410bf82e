import { type ChildProcess, spawn } from "node:child_process";
import { once } from "node:events";
import { cpSync, existsSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { type Browser, type BrowserContext, chromium, type Page } from "playwright-core";

/** The real server on its own data, and Debian's Chromium in front of it. */

export interface Server {
  url: string;
  port: number;
  directory: string;
  kill(): Promise<void>;
  /** Ends it and leaves its library. */
  end(): Promise<void>;
  stop(): Promise<void>;
}

/** Names a library with the demo in it that nobody uses, to be copied; without it each server makes its own. */
export const DEMO_LIBRARY = "REST_HAND_DEMO_LIBRARY";

function newLibrary(): string {
  const directory = mkdtempSync(join(tmpdir(), "rest-hand-e2e-"));
  const demo = process.env[DEMO_LIBRARY];
  if (demo) cpSync(join(demo, "library"), join(directory, "library"), { recursive: true });
  return directory;
}

export async function startServer(directory = newLibrary(), port = 0, env: Readonly<Record<string, string>> = {}): Promise<Server> {
  if (!existsSync("dist/index.html")) throw new Error("the page is not built: npm run build");
  if (!existsSync("build/server/serve.js")) throw new Error("the server is not built: npm run build:server");
  const child = spawn(process.execPath, ["build/server/serve.js", "--demo"], {
    env: { ...process.env, PORT: String(port), HOST: "127.0.0.1", DATA_DIR: directory, ...env },
    stdio: ["ignore", "pipe", "inherit"],
  });
  const url = await new Promise<string>((resolve, reject) => {
    let out = "";
    child.stdout!.on("data", (chunk) => {
      out += chunk;
      const match = /Ready: (http:\S+)/.exec(out);
      if (match) resolve(match[1]!);
    });
    child.once("exit", () => reject(new Error(`the server ended: ${out}`)));
  });
  const end = async (signal: NodeJS.Signals) => {
    if (child.exitCode !== null || child.signalCode !== null) return;
    const gone = once(child as ChildProcess, "exit");
    child.kill(signal);
    await gone;
  };
  return {
    url,
    port: Number(new URL(url).port),
    directory,
    kill: () => end("SIGKILL"),
    end: () => end("SIGTERM"),
    stop: async () => {
      await end("SIGTERM");
      rmSync(directory, { recursive: true, force: true });
    },
  };
}

export function launch(more: readonly string[] = []): Promise<Browser> {
  return chromium.launch({
    executablePath: process.env.CHROMIUM ?? "/usr/bin/chromium",
    args: [
      "--no-sandbox",
      "--disable-gpu",
      "--disable-quic",
      "--no-first-run",
      "--disable-background-networking",
      "--disable-component-update",
      "--disable-sync",
      ...more,
    ],
  });
}

export interface Watched {
  context: BrowserContext;
  page: Page;
  /** Errors on the console and requests to any other host, gathered as they happen. */
  trouble: string[];
}

/** No test is about how long a thing takes: the machine may be busy with other work. */
const ENDS_WHAT_HANGS_MS = 180_000;

/** A fresh browser profile that gathers everything a user should never see. */
export async function visit(
  browser: Browser,
  url: string,
  options: { theme?: "stand" | "stage"; width?: number; height?: number; withWorker?: boolean } = {},
): Promise<Watched> {
  const context = await browser.newContext({
    viewport: { width: options.width ?? 1280, height: options.height ?? 800 },
    // It keeps the page for when the server is away: tests that are not about that ask the server itself.
    serviceWorkers: options.withWorker ? "allow" : "block",
  });
  await context.addInitScript((theme) => localStorage.setItem("rest-hand:theme", theme), options.theme ?? "stand");
  context.setDefaultTimeout(ENDS_WHAT_HANGS_MS);
  const page = await context.newPage();
  const trouble: string[] = [];
  page.on("console", (message) => {
    if (message.type() === "error") trouble.push(message.text());
  });
  page.on("pageerror", (error) => trouble.push(error.message));
  page.on("request", (request) => {
    if (!request.url().startsWith(url) && !request.url().startsWith("data:") && !request.url().startsWith("blob:")) trouble.push(`asked ${request.url()}`);
  });
  await page.goto(url);
  return { context, page, trouble };
}

/** From the shelf, searched for: of a long shelf only the rows in view are there. */
export async function openPassage(page: Page, title: string): Promise<void> {
  await page.getByRole("searchbox", { name: "Search your passages" }).fill(title);
  await page.getByRole("link", { name: title, exact: true }).click();
  await page.getByRole("application").waitFor();
  await page.getByTestId("strays").filter({ hasNotText: "planning" }).waitFor();
}

/** Waits until an element's text matches. */
export async function reads(page: Page, testId: string, text: string | RegExp): Promise<void> {
  await page.getByTestId(testId).filter({ hasText: text }).waitFor();
}
