import { spawnSync } from "node:child_process";
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, describe, expect, it } from "vitest";
import { WaveFile } from "wavefile";
import { HOSTILE } from "../core/test/hostile-files.ts";
import { run } from "./command-line.ts";

const folder = mkdtempSync(join(tmpdir(), "rest-hand-cli-"));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

function cli(...args: string[]) {
  let stdout = "";
  let stderr = "";
  const out = (text: string) => {
    stdout += text;
  };
  const err = (text: string) => {
    stderr += text;
  };
  return { status: run(args, { out, err }), stdout, stderr };
}

function file(name: string, text: string): string {
  const path = join(folder, name);
  writeFileSync(path, text);
  return path;
}

it("as a process of its own it writes the same and ends with the same code", () => {
  for (const args of [["plan", "demo/1-bilge-pump.resthand.json", "--json", "--strict"], ["nonsense"]]) {
    const { status, stdout, stderr } = spawnSync(process.execPath, ["--import", "tsx", "src/cli/main.ts", ...args], { encoding: "utf8" });
    expect({ status, stdout, stderr }).toEqual(cli(...args));
  }
});

describe("plan", () => {
  it("prints the plan document and nothing else with --json", () => {
    const { status, stdout, stderr } = cli("plan", "demo/1-bilge-pump.resthand.json", "--json");
    expect([status, stderr]).toEqual([0, ""]);
    expect(JSON.parse(stdout)).toMatchObject({ format: "rest-hand-plan", version: 2, strays: [{ string: 5, fromBar: 2, fromAt: "1" }] });
    expect(JSON.parse(stdout).remedies[0]).toMatchObject({ kind: "finger", patch: [{ op: "test" }, { op: "add", value: 3 }] });
  });
  it("reads a tablature, says what it guessed on stderr, and prints sentences", () => {
    const dashes = "-".repeat(16);
    const tab = file("drill.txt", ["G", "D", "A", "E"].map((n) => `${n}|${n === "A" ? "3---5---3---5---" : dashes}|`).join("\n"));
    const { status, stdout, stderr } = cli("plan", tab);
    expect(status).toBe(0);
    expect(stdout).toMatch(/Bar 1, 2\n {2}Fretting hand: .*3 at 5/);
    expect(stderr).toMatch(/column spacing/);
  });
  it("exits 2 with one line that names file, place and fault", () => {
    const bad = file("bad.resthand.json", '{\n "format": "rest-hand-passage", oops }');
    const { status, stderr, stdout } = cli("plan", bad);
    expect([status, stdout]).toEqual([2, ""]);
    expect(stderr.trim().split("\n")).toHaveLength(1);
    expect(stderr).toMatch(/bad\.resthand\.json: line 2, column \d+: /);
    expect(cli("plan", join(folder, "missing.txt")).status).toBe(2);
  });
  it("exits 1 on wrong use and shows how", () => {
    for (const args of [
      [],
      ["nonsense"],
      ["plan"],
      ["plan", "a", "b"],
      ["plan", "demo/1-bilge-pump.resthand.json", "--set", "index=bent"],
      ["plan", "x", "--nonsense"],
    ]) {
      const { status, stderr } = cli(...args);
      expect(status, args.join(" ")).toBe(1);
      expect(stderr).toMatch(/Usage:/);
    }
  });
  it("exits 3 under --strict while something rings, 0 where nothing does", () => {
    const riff = "demo/1-bilge-pump.resthand.json";
    expect(cli("plan", riff, "--strict").status).toBe(3);
    expect(cli("plan", "demo/5-keelson.resthand.json", "--strict").status).toBe(0);
  });
  it("plans at another tempo", () => {
    expect(JSON.parse(cli("plan", "demo/1-bilge-pump.resthand.json", "--json", "--tempo", "64").stdout).tempo).toBe(64);
  });
}, 60_000);

describe("render", () => {
  const riff = "demo/1-bilge-pump.resthand.json";
  const rendered = (name: string, ...args: string[]) => {
    const out = join(folder, name);
    const { status, stderr, stdout } = cli("render", riff, out, ...args);
    expect([status, stdout, stderr]).toEqual([0, "", ""]);
    const wave = new WaveFile(readFileSync(out));
    return Array.from(wave.getSamples(false) as unknown as ArrayLike<number>);
  };
  const power = (samples: number[]) => samples.reduce((sum, x) => sum + x * x, 0);

  it("writes a WAV file; undamped holds more sound than planned, one string less", () => {
    const planned = rendered("planned.wav");
    expect(power(rendered("none.wav", "--damping", "none"))).toBeGreaterThan(power(planned));
    expect(power(rendered("string.wav", "--string", "6"))).toBeLessThan(power(planned));
    expect(readdirSync(folder).filter((name) => name.endsWith(".part"))).toEqual([]);
  });
  it("says what it cannot do and leaves nothing behind", () => {
    for (const args of [
      ["render", riff],
      ["render", riff, join(folder, "x.wav"), "--string", "7"],
      ["render", riff, join(folder, "x.wav"), "--damping", "both"],
      ["render", riff, join(folder, "x.wav"), "--strict"],
      ["plan", riff, "--string", "1"],
    ])
      expect(cli(...args).status, args.join(" ")).toBe(1);
    const { status, stderr } = cli("render", riff, join(folder, "no", "where.wav"));
    expect([status, stderr.trim().split("\n").length]).toEqual([2, 1]);
    expect(readdirSync(folder)).not.toContain("x.wav");
  });
}, 60_000);

describe("perform", () => {
  it("writes what somebody would play, and what went wrong in it; the same for the same seed", () => {
    const out = (name: string) => join(folder, name);
    const play = (name: string, seed: string) =>
      cli("perform", "demo/4-ballast-tanks.resthand.json", out(name), "--mistakes", "stray=1,silent=1,late=1,noise=40,times=2", "--seed", seed);
    expect([play("a.wav", "1").status, play("b.wav", "1").status, play("c.wav", "2").status]).toEqual([0, 0, 0]);
    expect(readFileSync(out("a.wav"))).toEqual(readFileSync(out("b.wav")));
    expect(readFileSync(out("a.wav"))).not.toEqual(readFileSync(out("c.wav")));
    const about = JSON.parse(readFileSync(out("a.json"), "utf8"));
    expect(about).toMatchObject({ format: "rest-hand-performance", version: 1, seed: 1 });
    expect(about.labels.map(({ kind }: { kind: string }) => kind).sort()).toEqual(["late", "silent", "stray"]);
    expect(new WaveFile(readFileSync(out("a.wav"))).getSamples(false).length / 44_100).toBeGreaterThan(about.stepsMs.at(-1) / 1000);
    for (const args of [["--mistakes", "squeak=1"], ["--seed", "x"], ["--strict"]])
      expect(cli("perform", "demo/4-ballast-tanks.resthand.json", out("d.wav"), ...args).status, args.join(" ")).toBe(1);
    expect(cli("perform", "demo/4-ballast-tanks.resthand.json", out("d.mp3")).status).toBe(1);
  });
}, 60_000);

describe("take", () => {
  it("says what the hands did in a recording, in words and as a document; what cannot be read is named", () => {
    const out = (name: string) => join(folder, name);
    const demo = "demo/6-anchor-watch.resthand.json";
    expect(cli("perform", demo, out("take.wav"), "--mistakes", "stray=1,silent=1", "--seed", "1").status).toBe(0);
    const { labels } = JSON.parse(readFileSync(out("take.json"), "utf8"));
    const { stdout, status } = cli("take", demo, out("take.wav"));
    expect(status).toBe(0);
    expect(stdout).toContain("1 string rang that should be still and 1 note did not speak.");
    expect(stdout.match(/^Bar \d/gm)).toHaveLength(2);
    const { format, version, kind, findings } = JSON.parse(cli("take", demo, out("take.wav"), "--json").stdout);
    expect([format, version, kind]).toEqual(["rest-hand-take", 1, "judged"]);
    const place = ({ kind: what, string }: { kind: string; string: number }) => `${what} ${string}`;
    expect(findings.map(place).sort()).toEqual(labels.map(place).sort());
    expect(cli("take", demo, out("nothing.wav")).status).toBe(2);
    expect(cli("take", demo, demo)).toMatchObject({ status: 2, stderr: expect.stringContaining("this is not a WAV file") });
    expect(cli("take", demo).status).toBe(1);
  });
}, 60_000);

describe("drills", () => {
  it("are told for a session of so many minutes, and given as a document whose passages can be planned", () => {
    const { status, stdout } = cli("drills", "demo/1-bilge-pump.resthand.json", "--minutes", "10");
    expect(status).toBe(0);
    expect(stdout).toMatch(/^Bilge Pump · 10 minutes\n\n1\. .* \(\d+ min\), because /);
    expect(stdout).toMatch(/\. The whole \(\d+ min\)/);
    const document = JSON.parse(cli("drills", "demo/1-bilge-pump.resthand.json", "--json").stdout);
    expect(document).toMatchObject({ format: "rest-hand-drills", version: 1, minutes: 20 });
    expect(document.drills[0]).toMatchObject({ strokes: "play", tempo: { cleanInARow: 4 }, passage: { format: "rest-hand-passage" } });
    expect(cli("drills", "demo/1-bilge-pump.resthand.json", "--minutes", "3").status).toBe(1);
    expect(cli("plan", "demo/1-bilge-pump.resthand.json", "--minutes", "10").status).toBe(1);
  });
});

describe("refinger", () => {
  it("prints what changed and the stray rings before and after, and writes a document that plans so", () => {
    const out = join(folder, "refingered.resthand.json");
    const { status, stdout, stderr } = cli("refinger", "demo/1-bilge-pump.resthand.json", "-o", out);
    expect([status, stderr]).toEqual([0, ""]);
    expect(stdout).toMatch(/string 5, fret 5 .*\nStray rings before: 1, after: 0\n/);
    expect(cli("plan", out, "--strict").status).toBe(0);
    expect(cli("refinger", out).stdout).toMatch(/^Nothing to change/);
    expect(cli("refinger", "demo/1-bilge-pump.resthand.json", "-o", join(folder, "no", "where.json")).status).toBe(2);
  });
}, 60_000);

describe("convert", () => {
  it.each(["musicxml", "mxl", "mid", "txt"])("to .%s and back, what is lost goes to stderr a line each", (extension) => {
    const out = join(folder, `pump.${extension}`);
    const there = cli("convert", "demo/1-bilge-pump.resthand.json", out);
    expect(there.status).toBe(0);
    for (const line of there.stderr.trim().split("\n").filter(Boolean)) expect(line).toMatch(new RegExp(`pump\\.${extension}: .+: .+`));
    const back = cli("plan", out, "--json");
    expect(back.status).toBe(0);
    expect(JSON.parse(back.stdout).steps.length).toBeGreaterThan(20);
  });

  it("the plan as a table has a row for every step and string", () => {
    const out = join(folder, "plan.csv");
    expect(cli("convert", "demo/1-bilge-pump.resthand.json", out).status).toBe(0);
    const rows = readFileSync(out, "utf8").trim().split("\r\n");
    const { steps } = JSON.parse(cli("plan", "demo/1-bilge-pump.resthand.json", "--json").stdout);
    expect(rows).toHaveLength(1 + 6 * steps.length);
    expect(rows[0]).toBe("bar,at,count,ms,length_ms,string,intent,state,fretting,picking,aid,undamped_db,stray_db,causes,fretting_hand,picking_hand");
    expect(rows.some((row) => /^2,1,5,.*,5,quiet,stray,/.test(row))).toBe(true);
  });

  it("a MIDI file is read on the grid that is asked for; another word than a grid is wrong use", () => {
    const midi = join(folder, "grid.mid");
    expect(cli("convert", "demo/1-bilge-pump.resthand.json", midi).status).toBe(0);
    expect(cli("convert", midi, join(folder, "grid.resthand.json"), "--grid", "1/8").stderr).toContain("moved to a grid of 1/8");
    expect(cli("convert", midi, join(folder, "grid.resthand.json"), "--grid", "1/5").status).toBe(1);
  });

  it("files that mean harm are read, or refused in one line", () => {
    for (const { name, file: made } of HOSTILE.filter((_, i) => i % 3 === 0)) {
      const hostile = join(folder, "hostile");
      writeFileSync(hostile, made(0.01));
      const { status, stdout, stderr } = cli("convert", hostile, join(folder, "out.resthand.json"));
      expect([0, 2], name).toContain(status);
      if (status === 2) expect({ lines: stderr.trim().split("\n").length, stdout }, name).toEqual({ lines: 1, stdout: "" });
    }
  });

  it("an unknown extension is wrong use; a damaged file is named with its fault and nothing is written", () => {
    expect(cli("convert", "demo/1-bilge-pump.resthand.json", join(folder, "x.docx")).status).toBe(1);
    expect(cli("convert", "demo/1-bilge-pump.resthand.json", join(folder, "x.musicxml"), "--staves", "three").status).toBe(1);
    const bad = file("bad.musicxml", "<score-partwise><part>");
    const { status, stderr } = cli("convert", bad, join(folder, "never.mid"));
    expect(status).toBe(2);
    expect(stderr.trim().split("\n")).toHaveLength(1);
    expect(readdirSync(folder)).not.toContain("never.mid");
  });
});
