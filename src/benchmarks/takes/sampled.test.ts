import { describe, expect, it } from "vitest";
import { planStages } from "../../core/engine.ts";
import { takeOf } from "../../core/take/take.ts";
import { demoPassages } from "../../core/test/demos.ts";
import { playSampled } from "./sampled.ts";

/* Sound that is not ours: FluidR3Mono by General MIDI, played by spessasynth. The bench has all of it. */

describe("a take on sampled instruments", () => {
  // How loud up-strokes are can be told by their open notes: those of Bilge Pump are palm-muted but for three, the last two have none.
  it.each([
    ["Bilge Pump", false],
    ["Tarpaulin", true],
    ["Windlass", true],
    ["Anchor Watch", false],
    ["Ballast Tanks", false],
  ] as const)("%s: what rings over is found, or cannot be told; nothing else is accused", async (title, upsAreTold) => {
    const passage = demoPassages().find((one) => one.title === title)!;
    const planned = planStages(passage);
    const { samples, sampleRate, labels } = await playSampled(passage, planned, 2, 1);
    const result = takeOf(samples, sampleRate, passage, planned);
    if (result.kind !== "judged") throw new Error(result.kind);
    const isNear = (a: { string?: number; fromMs: number; toMs: number }, b: typeof a) =>
      a.string === b.string && a.fromMs < b.toMs + 60 && a.toMs > b.fromMs - 60;
    const strays = result.findings.filter(({ kind, planned: isPlanned }) => kind === "stray" && !isPlanned);
    expect(strays.filter((finding) => !labels.some((label) => isNear(finding, label)))).toEqual([]);
    // Every note is sent as loud as the others.
    if (upsAreTold) expect(Math.abs(result.upDb!)).toBeLessThan(1);
    expect(result.upDb !== null).toBe(upsAreTold);
    const missed = labels.filter((label) => ![...strays, ...result.untold].some((one) => isNear(one, label)));
    expect(missed.length).toBeLessThanOrEqual(title === "Anchor Watch" ? 1 : 0);
  });

  it.each(["Ballast Tanks", "Keelson"])("%s: a low note is heard where it begins, and not at its second swing", async (title) => {
    const passage = demoPassages().find((one) => one.title === title)!;
    const planned = planStages(passage);
    const { samples, sampleRate, stepsMs } = await playSampled(passage, planned, 0, 1);
    const result = takeOf(samples, sampleRate, passage, planned);
    if (result.kind !== "judged") throw new Error(result.kind);
    const off = result.strokes.flatMap(({ step, ms }) => (ms === null ? [] : [Math.abs(ms - stepsMs[step]!)])).sort((a, b) => a - b);
    // As asked of sampled instruments: 5 ms in the middle, 15 for all but one in ten of so few.
    expect(off[Math.floor(off.length / 2)]).toBeLessThanOrEqual(5);
    expect(off[Math.floor(0.9 * (off.length - 1))]).toBeLessThanOrEqual(15);
    expect(off.length).toBeGreaterThan(15);
  });
});
