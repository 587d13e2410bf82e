import { describe, expect, it } from "vitest";
import { openPassage, reads } from "./kit.ts";
import { setStage } from "./stage.ts";

const stage = setStage();

interface Held {
  at: string;
  chord?: string;
  notes: { string: number; fret: number }[];
}

const gripsOf = async () => {
  const { page } = stage.seen;
  await reads(page, "save-state", /^\s*Saved/);
  const id = page.url().split("/").at(-1)!.split("?")[0]!;
  const { passage } = (await (await page.request.get(`${stage.server.url}api/passages/${id}`)).json()) as { passage: { bars: { grips?: Held[] }[] } };
  return passage.bars.map(({ grips = [] }) => grips.map(({ at, chord, notes }) => `${at} ${notes.length === 0 ? "-" : (chord ?? notes.length)}`));
};

describe("grips on the Bench", () => {
  it("by keys: put down, let go, held longer and shorter, taken away; undo takes each back", async () => {
    const page = await stage.visit();
    await openPassage(page, "Tarpaulin");
    const score = page.getByRole("application");
    await score.press("Home");
    await score.press("h");
    expect((await gripsOf())[0]).toEqual(["0 G"]);
    await score.press("Control+ArrowRight");
    await score.press("Shift+H");
    expect((await gripsOf()).slice(0, 2)).toEqual([["0 G"], ["0 -"]]);
    await score.press("Control+ArrowLeft");
    await score.press("Shift+}");
    expect((await gripsOf()).slice(0, 2)).toEqual([["0 G"], ["1/8 -"]]);
    await score.press("Shift+{");
    await score.press("Shift+{");
    expect((await gripsOf()).slice(0, 2)).toEqual([["0 G", "7/8 -"], []]);
    await score.press("h");
    expect((await gripsOf()).slice(0, 2)).toEqual([["7/8 -"], []]);
    await score.press("Control+z");
    expect((await gripsOf()).slice(0, 2)).toEqual([["0 G", "7/8 -"], []]);
    for (let edits = 0; edits < 5; edits++) await score.press("Control+z");
    expect((await gripsOf()).flat()).toEqual([]);
    expect(stage.seen.trouble).toEqual([]);
  });

  it("by dragging the end of its line, and its name", async () => {
    const page = await stage.visit();
    await openPassage(page, "Tarpaulin");
    const score = page.getByRole("application");
    // A passage of its own: the others' changes are kept.
    await score.press("Home");
    await score.press("h");
    await score.press("Control+ArrowRight");
    await score.press("Shift+H");
    await page.getByTestId("grip-span").first().waitFor();
    const third = (await page.locator("[data-bar='0'] text", { hasText: /^3$/ }).first().boundingBox())!;
    const knob = (await page.locator("[data-grab='grip-end']").first().boundingBox())!;
    await page.mouse.move(knob.x + knob.width / 2, knob.y + knob.height / 2);
    await page.mouse.down();
    await page.mouse.move(third.x + third.width / 2, knob.y + knob.height / 2, { steps: 6 });
    await reads(page, "drop", "held up to 3");
    await page.mouse.up();
    expect((await gripsOf())[0]).toEqual(["0 G", "1/2 -"]);
    const name = (await page.locator("[data-grab='grip']").first().boundingBox())!;
    const second = (await page.locator("[data-bar='0'] text", { hasText: /^2$/ }).first().boundingBox())!;
    await page.mouse.move(name.x + 8, name.y + name.height / 2);
    await page.mouse.down();
    await page.mouse.move(second.x + second.width / 2, name.y + name.height / 2, { steps: 6 });
    await reads(page, "drop", "held from 2");
    await page.mouse.up();
    expect((await gripsOf())[0]).toEqual(["1/4 G", "1/2 -"]);
  });

  it("what the music shows is written down; voicings of a name are tried in place, with what rings and how fast it goes", async () => {
    const page = await stage.visit();
    await openPassage(page, "Galley Steam");
    const score = page.getByRole("application");
    await score.press("Home");
    await score.press("k");
    const dialog = page.getByRole("dialog", { name: "Chord" });
    await dialog.getByText("The music shows that the hand holds", { exact: false }).waitFor();
    await dialog.getByRole("button", { name: "Write it down" }).click();
    expect((await gripsOf())[0]!.length).toBeGreaterThan(0);
    await score.press("k");
    await dialog.getByRole("textbox").fill("A7");
    await dialog
      .getByRole("radio")
      .nth(1)
      .filter({ hasText: /gestures a bar, .*hands (to|up|300)|gestures a bar, hands/ })
      .waitFor();
    await dialog.getByRole("textbox").press("ArrowDown");
    await page.keyboard.press("Enter");
    expect((await gripsOf())[0]![0]).toBe("0 A7");
    expect(stage.seen.trouble).toEqual([]);
  });
});
