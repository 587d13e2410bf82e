import { expect, it } from "vitest";
import { openPassage, reads } from "./kit.ts";
import { setStage } from "./stage.ts";

const stage = setStage();

it("a school of a player is changed: its example says what that does, and the passages that use it are planned anew", async () => {
  const page = await stage.visit();
  await page.getByRole("link", { name: "Setup" }).click();
  await page
    .getByRole("listitem")
    .filter({ hasText: "the usual way with everything" })
    .getByRole("button", { name: /^Change / })
    .click();
  const thumb = page.getByRole("group", { name: "Does the thumb come over the edge?" });
  await thumb.getByText("On fast strums over an open string 5:", { exact: false }).waitFor();
  await page.getByLabel("yes, onto the lowest string").check();
  await thumb.getByText(/thumb over onto 6/).waitFor();
  await page.getByLabel("Name").fill("Me, thumb over");
  await page.getByRole("button", { name: "Save" }).click();
  await page.getByText(/Saved\. \d+ passages? (is|are) planned anew/).waitFor();
  await page.getByText("Me, thumb over", { exact: true }).waitFor();
  await page
    .getByRole("link", { name: "Shelf" })
    .or(page.getByRole("link", { name: "Rest Hand" }))
    .first()
    .click();
  await openPassage(page, "Bilge Pump");
  await reads(page, "strays", "1 stray ring");
  expect(stage.seen.trouble).toEqual([]);
});

it("an instrument is made by keyboard and taken for new passages; one in use is not removed", async () => {
  const page = await stage.visit();
  await page.goto(`${stage.server.url}setup`);
  await page.getByRole("button", { name: "New instrument" }).click();
  await page.keyboard.type("Low four");
  await page.getByLabel("Start from").selectOption({ label: "Bass, four strings" });
  await page.getByLabel("Pitch of string 4, such as E4 or F#2").fill("D1");
  await page.getByLabel("Scale length in mm").fill("810");
  await page.keyboard.press("Enter");
  await page.getByText("D1 A1 D2 G2, 810 mm").waitFor();
  await page.getByRole("button", { name: "Take Low four for new passages" }).click();
  await page.getByText("for new passages", { exact: true }).first().waitFor();
  await page.getByRole("link", { name: "Rest Hand" }).click();
  await page.getByRole("button", { name: "New passage", exact: true }).click();
  await page.getByRole("dialog").getByText("Low four").waitFor({ state: "attached" });
  await page.getByRole("button", { name: "Start" }).click();
  await page.getByRole("application", { name: /4 strings/ }).waitFor();
  expect(stage.seen.trouble).toEqual([]);
});

it("ten seconds on the space bar measure the palm, and any other move", async () => {
  const page = await stage.visit();
  await page.goto(`${stage.server.url}setup`);
  await page.clock.install({ time: 0 });
  await page.clock.pauseAt(60_000);
  await page.getByRole("button", { name: "New player" }).click();
  await page.getByRole("button", { name: "Measure it (ten seconds)" }).press("Enter");
  const button = page.getByRole("button", { name: /^\d+ s$/ });
  await button.waitFor();
  await button.focus();
  for (let i = 0; i < 8; i++) {
    await page.keyboard.down("Space");
    await page.clock.runFor(120);
    await page.keyboard.up("Space");
    await page.clock.runFor(90);
  }
  await page.clock.runFor(10_000);
  await page.getByText("Palm lands: 90 ms · Palm lifts: 120 ms.", { exact: false }).waitFor();
  await page.getByRole("button", { name: "Take these" }).click();
  expect(await page.getByLabel("Palm lands, in ms").inputValue()).toBe("90");
  expect(await page.getByLabel("Palm lifts, in ms").inputValue()).toBe("120");
  await page.getByRole("combobox", { name: "Move to measure" }).selectOption({ label: "Thumb to the next string" });
  await page.getByRole("button", { name: "Measure it (ten seconds)" }).press("Enter");
  await page.getByRole("button", { name: /^\d+ s$/ }).focus();
  for (let i = 0; i < 12; i++) {
    await page.keyboard.press(i % 2 === 0 ? "f" : "g");
    await page.clock.runFor(140);
  }
  await page.clock.runFor(10_000);
  await page.getByRole("button", { name: "Take this" }).click();
  expect(await page.getByLabel("Thumb to the next string, in ms").inputValue()).toBe("140");
});

it("left-handers see the picture of the hands mirrored, the lowest string may be on top, text may be larger: all kept over a reload", async () => {
  const page = await stage.visit();
  await page.goto(`${stage.server.url}setup`);
  await page.getByLabel("the right: pictures of the hands are mirrored").check();
  await page.getByLabel("the lowest, as one looks down on it").check();
  await page.getByLabel("largest").check();
  await page.getByRole("link", { name: "Rest Hand" }).click();
  await openPassage(page, "Tarpaulin");
  await page.reload();
  await page.getByRole("application").waitFor();
  expect(await page.evaluate(() => getComputedStyle(document.documentElement).fontSize)).toBe("20px");
  const picture = page.getByRole("img", { name: /^Both hands/ });
  const box = async (words: RegExp) => (await picture.locator("text").filter({ hasText: words }).first().boundingBox())!;
  // The bridge is on the left, the lowest string on top.
  expect((await box(/^bridge side$/)).x).toBeLessThan((await box(/^6$/)).x);
  expect((await box(/^6$/)).y).toBeLessThan((await box(/^1$/)).y);
  await reads(page, "string-state", /^String 1/);
  await page.keyboard.press("ArrowUp");
  await reads(page, "string-state", /^String 2/);
});

it("a server that is away is named once; how things look can still be changed", async () => {
  const page = await stage.visit();
  await page.route(/\/api\/(players|instruments)$/, (route) => route.abort());
  await page.getByRole("link", { name: "Setup" }).click();
  await page.getByText("The server cannot be reached").waitFor();
  expect(await page.getByRole("alert").count()).toBe(1);
  await page.getByRole("radio", { name: "largest" }).check();
  await page.unroute(/\/api\/(players|instruments)$/);
  await page.getByRole("button", { name: "Try again" }).click();
  await page.getByRole("button", { name: "New player" }).waitFor();
});

it("a library that did not open is no empty shelf: the page says why", async () => {
  const page = await stage.visit();
  await page.route("**/api/health", (route) => route.fulfill({ status: 503, json: { status: "failed", reason: "The disk is full." } }));
  await page.reload();
  await page.getByRole("heading", { name: "The library did not open" }).waitFor();
  expect(await page.getByRole("alert").textContent()).toContain("The disk is full.");
});

it("a part of the page that cannot come says so, the rest stays, and it comes when the page is loaded again", async () => {
  const page = await stage.visit();
  await page.route(/assets\/Setup-/, (route) => route.abort());
  await page.getByRole("link", { name: "Setup" }).click();
  await page.getByRole("alert").getByText("This part of the page cannot be shown").waitFor();
  await page.getByText(/^The browser says: .*dynamically imported module/).waitFor();
  // The shelf is where it was.
  await page.getByRole("link", { name: "Rest Hand" }).click();
  await page.getByRole("link", { name: "Bilge Pump", exact: true }).waitFor();
  await page.getByRole("link", { name: "Setup" }).click();
  await page.unroute(/assets\/Setup-/);
  await page.getByRole("button", { name: "Load again" }).click();
  await page.getByRole("button", { name: "New instrument" }).waitFor();
  // A dialog that cannot come is one that says so, and is closed like any other.
  await page.getByRole("link", { name: "Rest Hand" }).click();
  await page.route(/assets\/Bin-/, (route) => route.abort());
  await page.getByRole("button", { name: "Bin", exact: true }).click();
  await page.getByRole("dialog", { name: "This part of the page cannot be shown" }).waitFor();
  await page.keyboard.press("Escape");
  await page.getByRole("dialog").waitFor({ state: "detached" });
  expect(stage.seen.trouble.filter((says) => !/Failed to load|dynamically imported/.test(says))).toEqual([]);
});
