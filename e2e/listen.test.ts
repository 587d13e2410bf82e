import { describe, expect, it } from "vitest";
import { openPassage, reads } from "./kit.ts";
import { setStage } from "./stage.ts";

const stage = setStage();

const { open } = stage;

describe("remedies", () => {
  it("from the opened demo to the stray heard, the remedy applied and the stray gone in four actions; undo brings it back", async () => {
    const page = await open("Bilge Pump");
    await reads(page, "strays", "1 stray ring");
    await page.keyboard.press("n");
    await reads(page, "string-state", "String 5: stray ring");
    await page.keyboard.press("Space");
    await reads(page, "listen-state", "Sounding");
    await page.getByTestId("heard").waitFor();
    await page.getByRole("button", { name: /^Apply: Take the ring finger/ }).click();
    await reads(page, "strays", "Nothing rings astray");
    await page.getByRole("application").press("Space");
    await reads(page, "listen-state", "Sounding");
    await reads(page, "string-state", "String 5: kept silent");
    await page.getByRole("button", { name: "Undo (Ctrl Z)" }).click();
    await reads(page, "strays", "1 stray ring");
    await reads(page, "save-state", /^\s*Saved/);
    expect(stage.seen.trouble).toEqual([]);
  });
  it("re-fingers the whole passage, shows what it found bar by bar, takes what is chosen, and undo takes it back", async () => {
    const page = await open("Bilge Pump");
    await page.getByRole("button", { name: "re-finger all" }).click();
    const changes = page.getByRole("dialog", { name: "Other fingers and places" });
    await changes.getByText("Stray rings: 1 as written, 0 with what is chosen", { exact: false }).waitFor();
    // Without its only change there is nothing to take.
    const box = changes.getByRole("checkbox", { name: /^Bar 2/ });
    await box.uncheck();
    await changes.getByText("Stray rings: 1 as written, 1 with what is chosen", { exact: false }).waitFor();
    expect(await changes.getByRole("button", { name: "Take what is chosen" }).isDisabled()).toBe(true);
    await box.check();
    await changes.getByRole("button", { name: "Take it all" }).click();
    await reads(page, "strays", "Nothing rings astray");
    await page.getByRole("button", { name: "Undo (Ctrl Z)" }).click();
    await reads(page, "strays", "1 stray ring");
    await reads(page, "save-state", /^\s*Saved/);
    expect(stage.seen.trouble).toEqual([]);
  });
});

describe("listening", () => {
  it("undamped, one hand, one string, one step; it ends by itself, and stops when asked or when the music changes", async () => {
    const page = await open("Ballast Tanks");
    for (const choice of ["undamped", "fretting", "picking", "as planned"]) await page.getByRole("button", { name: choice, exact: true }).click();
    await page.getByRole("button", { name: "string 1 alone" }).click();
    await page.getByRole("button", { name: "this step" }).click();
    await reads(page, "listen-state", "Sounding");
    await page.getByTestId("listen-state").and(page.locator(":empty")).waitFor({ state: "attached" });
    await page.getByRole("button", { name: "Listen", exact: true }).click();
    await reads(page, "listen-state", "Sounding");
    await page.getByRole("button", { name: "Stop" }).click();
    await page.getByTestId("listen-state").and(page.locator(":empty")).waitFor({ state: "attached" });
    await page.getByRole("application").press("Space");
    await reads(page, "listen-state", "Sounding");
    await page.getByRole("application").press("5");
    await page.getByTestId("listen-state").and(page.locator(":empty")).waitFor({ state: "attached" });
    expect(stage.seen.trouble).toEqual([]);
  });
  it("starts at a low volume and remembers what was chosen", async () => {
    const page = await open("Ballast Tanks");
    const practice = page.getByRole("button", { name: "practice" });
    const volume = page.getByRole("slider", { name: "Volume" });
    await practice.click();
    expect(Number(await volume.inputValue())).toBeLessThanOrEqual(0.3);
    await volume.fill("0.6");
    await page.reload();
    await page.getByRole("application").waitFor();
    await practice.click();
    expect(await volume.inputValue()).toBe("0.6");
  });
  it("says so when the browser has no sound output, when there is no device, and when nothing is written yet", async () => {
    const page = await stage.visit();
    const { context } = stage.seen;
    await context.addInitScript(() => Reflect.deleteProperty(globalThis, "AudioContext"));
    await page.reload();
    await openPassage(page, "Keelson");
    await page.keyboard.press("Space");
    await reads(page, "listen-state", "This browser has no sound output.");
    await context.addInitScript(() => {
      Reflect.set(
        globalThis,
        "AudioContext",
        class {
          constructor() {
            throw new Error("no device");
          }
        },
      );
    });
    await page.reload();
    await page.getByTestId("strays").filter({ hasNotText: "planning" }).waitFor();
    await page.getByRole("application").press("Space");
    await reads(page, "listen-state", "No sound output: no device");
    await page.getByRole("link", { name: "Shelf" }).click();
    await page.getByRole("button", { name: /New/ }).click();
    await page
      .getByRole("dialog")
      .getByRole("button", { name: /Start|Create|Make/ })
      .click();
    await reads(page, "listen-state", "Nothing to hear yet.");
  });
  it("says that the browser holds sound back, until it lets go", async () => {
    const page = await stage.visit();
    const { context } = stage.seen;
    await context.addInitScript(() => {
      const Real = AudioContext;
      Reflect.set(
        globalThis,
        "AudioContext",
        class extends Real {
          override get state(): AudioContextState {
            return "suspended";
          }
          override resume(): Promise<void> {
            return new Promise(() => {});
          }
        },
      );
    });
    await page.reload();
    await openPassage(page, "Keelson");
    await page.keyboard.press("Space");
    await reads(page, "listen-state", "The browser holds the sound back");
  });
});
