import { expect, it } from "vitest";
import { openPassage } from "./kit.ts";
import { setStage } from "./stage.ts";

const stage = setStage();

it.each([
  ["a tablet", 1024, 768],
  ["a telephone", 390, 844],
])("nothing spills sideways on %s", async (_, width, height) => {
  const page = await stage.visit({ width, height });
  await page.getByRole("link", { name: "Bilge Pump", exact: true }).waitFor();
  const spill = () => page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth);
  expect(await spill(), "shelf").toBeLessThanOrEqual(0);
  await page.goto(`${stage.server.url}setup`);
  await page.getByRole("heading", { name: "Appearance" }).waitFor();
  expect(await spill(), "setup").toBeLessThanOrEqual(0);
  await page.goto(`${stage.server.url}log`);
  await page.getByRole("region", { name: "Progress" }).waitFor();
  expect(await spill(), "log").toBeLessThanOrEqual(0);
  await page.goto(`${stage.server.url}practice`);
  await page.getByRole("list", { name: "Drills of this session" }).waitFor();
  expect(await spill(), "a move").toBeLessThanOrEqual(0);
  await page.goto(stage.server.url);
  await openPassage(page, "Bilge Pump");
  expect(await spill(), "bench").toBeLessThanOrEqual(0);
  for (const place of ["Writer", "Treatments", "Ring", "Drills", "Takes", "Sheet"]) {
    await page.getByRole("navigation").getByRole("link", { name: place }).click();
    await page.waitForURL(new RegExp(place.toLowerCase()));
    await page
      .getByText(/Rules, first to last|palm lifts a bar|Who sets whom off|^Paper$|Listen for:|really do/)
      .first()
      .waitFor();
    expect(await spill(), place).toBeLessThanOrEqual(0);
  }
});
