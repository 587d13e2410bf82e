import { PitchDetector } from "pitchy";
import { describe, expect, it } from "vitest";
import { PALM_GRADES } from "../acoustics/constants.ts";
import { StringSet } from "../acoustics/modal.ts";
import { planStages } from "../engine.ts";
import { frequencyOf } from "../music/pitch.ts";
import type { Passage } from "../passage/schema.ts";
import { openPitches } from "../passage/settings.ts";
import { instrument, line, passageOf, stroke } from "../test/build.ts";
import { cents, loudnessDb, peakNear, rmsDb, slice, sound, spectrum } from "../test/listen.ts";
import { Bands } from "./bands.ts";
import { RENDERED_PARTIALS, Rendering, SAMPLE_RATE } from "./render.ts";
import { SoundingString } from "./sounding-string.ts";

const note = (on: string, string: number, fret: number, more: object = {}) =>
  passageOf([stroke("0", "1/2", "", { notes: [{ string, fret, ...more }] })], { on, tempo: 60 });
const pitchOf = (on: string, string: number, fret: number) => frequencyOf(openPitches(instrument(on))[string - 1]! + fret);

/** Four one-pole filters in a row. */
function lowPassed(samples: Float32Array, hz: number): Float32Array {
  const out = Float32Array.from(samples);
  const a = 1 - Math.exp((-2 * Math.PI * hz) / SAMPLE_RATE);
  for (let pole = 0; pole < 4; pole++) {
    let y = 0;
    for (let i = 0; i < out.length; i++) {
      y += a * (out[i]! - y);
      out[i] = y;
    }
  }
  return out;
}

describe("pitch", () => {
  /* ISO 16: A4 = 440 Hz, equal temperament. Stiff strings have sharp high partials, so the
   * detector listens as tuners do, through a low-pass filter; it may be an octave off, so the fundamental must be there too. */
  for (const [on, strings] of [
    ["electric", 6],
    ["acoustic", 6],
    ["nylon", 6],
    ["bass5", 5],
  ] as const)
    it(`of notes on the whole neck of the ${on} is within 3 cents by a detector of its own`, () => {
      const detector = PitchDetector.forFloat32Array(16384);
      for (let string = 1; string <= strings; string++)
        for (const fret of [0, 1, 2, 3, 5, 7, 8, 11, 12, 15, 17, 19]) {
          const samples = slice(sound(note(on, string, fret), { string, toMs: 1200 }), 200, 800);
          const wanted = pitchOf(on, string, fret);
          const [heard] = detector.findPitch(lowPassed(samples, 1.5 * wanted).subarray(4000, 4000 + 16384), SAMPLE_RATE);
          const octaves = Math.round(Math.log2(heard / wanted));
          expect(Math.abs(cents(heard, wanted * 2 ** octaves)), `string ${string} fret ${fret}: ${heard} Hz`).toBeLessThan(3);
          const fundamental = peakNear(spectrum(samples, 65536), wanted, 3);
          expect(Math.abs(cents(fundamental.hz, wanted)), `string ${string} fret ${fret}: fundamental`).toBeLessThan(3);
        }
    });

  it("of natural harmonics at 12, 7, 5 and 4 is 2, 3, 4 and 5 times the open string's", () => {
    for (const [fret, times] of [
      [12, 2],
      [7, 3],
      [5, 4],
      [4, 5],
    ] as const) {
      const samples = slice(sound(note("electric", 5, fret, { harmonic: true }), { string: 5, toMs: 1500 }), 150, 1000);
      const heard = spectrum(samples, 65536);
      const open = pitchOf("electric", 5, 0);
      const strongest = peakNear(heard, open * times, 4);
      expect(Math.abs(cents(strongest.hz, open * times))).toBeLessThan(3);
      for (let n = 1; n < times; n++) expect(peakNear(heard, open * n, 4).amplitude).toBeLessThan(strongest.amplitude / 1000);
    }
  });

  it("of a bent note rises by what is written, and a slide arrives at its note", () => {
    const bent = slice(sound(note("electric", 2, 8, { bend: 2 }), { string: 2, toMs: 1200 }), 400, 600);
    expect(Math.abs(cents(peakNear(spectrum(bent, 65536), pitchOf("electric", 2, 10), 8).hz, pitchOf("electric", 2, 10)))).toBeLessThan(5);
    const heardAt = (bend: object, ms: number, fret: number) => {
      const samples = slice(sound(note("electric", 2, 8, { bend }), { string: 2, toMs: ms + 250 }), ms, 200);
      return Math.abs(cents(peakNear(spectrum(samples, 65536), pitchOf("electric", 2, fret), 8).hz, pitchOf("electric", 2, fret)));
    };
    const [half, whole] = [
      { by: 2, then: "release" },
      { by: 2, from: 2, then: "release" },
    ];
    expect(heardAt(half, 250, 10)).toBeLessThan(15);
    expect(heardAt(half, 1300, 8)).toBeLessThan(15);
    expect(heardAt(whole, 20, 10)).toBeLessThan(15);
    expect(heardAt(whole, 1300, 8)).toBeLessThan(15);
    const slid = passageOf([stroke("0", "1/4", "3/5"), stroke("1/4", "1/4", "", { notes: [{ string: 3, fret: 9, from: "slide" }] })], { tempo: 60 });
    const arrived = slice(sound(slid, { string: 3, toMs: 2000 }), 1300, 500);
    expect(Math.abs(cents(peakNear(spectrum(arrived, 65536), pitchOf("electric", 3, 9), 8).hz, pitchOf("electric", 3, 9)))).toBeLessThan(5);
  });
});

describe("partials", () => {
  it("lie at Fletcher's places (1964): f_n = n f0 √(1 + B n²)", () => {
    const samples = slice(sound(note("bass", 4, 0), { string: 4, toMs: 2600 }), 150, 2200);
    const heard = spectrum(samples, 131072);
    const f0 = pitchOf("bass", 4, 0);
    const places = [1, 2, 3, 5, 6, 7, 8, 11, 12].map((n) => ({ n, hz: peakNear(heard, n * f0 * Math.sqrt(1 + 1e-4 * n * n), 6).hz }));
    // B from the highest of them predicts all the others: a harmonic series would miss by 0.7% there.
    const top = places.at(-1)!;
    const b = ((top.hz / (top.n * f0)) ** 2 - 1) / top.n ** 2;
    expect(b).toBeGreaterThan(2e-5);
    for (const { n, hz } of places) expect(Math.abs(hz - n * f0 * Math.sqrt(1 + b * n * n)), `partial ${n}`).toBeLessThan(0.4);
  });
});

/** A note of one second whose finger then eases and stays, whatever else could stop it. */
function eased(on: string, string: number, fret: number): Passage {
  const passage = passageOf([[stroke("0", "1/4", `${string}/${fret}~1`)], [stroke("0", "1/4", string > 2 ? "1/5" : "4/5")]], { on, tempo: 60, gain: "high" });
  return {
    ...passage,
    pins: [{ want: "demand", string, from: { bar: 1, at: "1/4" }, to: { bar: 2, at: "0" }, contact: { hand: "fretting", part: "ease" } }],
  };
}

describe("touches", () => {
  const loss = (samples: Float32Array, afterMs: number) => loudnessDb(slice(samples, 20, 60), "A") - loudnessDb(slice(samples, 20 + afterMs, 60), "A");
  it("a palm-muted note is gone long before an open one (common practice: T60 0.15-0.8 s against 5-20 s)", () => {
    const palm = sound(note("electric", 6, 0, { tone: "palm" }), { damping: "planned", string: 6, toMs: 1200 });
    const open = sound(note("electric", 6, 0), { damping: "planned", string: 6, toMs: 1200 });
    expect(loss(palm, 200)).toBeGreaterThan(12);
    expect(loss(open, 200)).toBeLessThan(4);
    // It still has its pitch.
    expect(Math.abs(cents(peakNear(spectrum(slice(palm, 20, 200), 65536), pitchOf("electric", 6, 0), 10).hz, pitchOf("electric", 6, 0)))).toBeLessThan(25);
  });
  it("an eased string is 40 dB down within 100 ms, on every string of guitar and five-string bass", () => {
    for (const [on, strings] of [
      ["electric", 6],
      ["bass5", 5],
    ] as const)
      for (let string = 1; string <= strings; string++)
        for (const fret of [1, 3, 8, 10]) {
          const samples = sound(eased(on, string, fret), { damping: "planned", string, toMs: 1500 });
          const before = rmsDb(slice(samples, 940, 50));
          expect(before - rmsDb(slice(samples, 1100, 50)), `${on}, string ${string}, fret ${fret}`).toBeGreaterThan(40);
        }
  });
  it("a palm-muted note is written lighter or firmer, and heard so", () => {
    const lostUnder = (mute: "light" | "choked") =>
      loss(sound(note("electric", 6, 0, { tone: "palm", mute }), { damping: "planned", string: 6, toMs: 1200 }), 150);
    const plain = loss(sound(note("electric", 6, 0, { tone: "palm" }), { damping: "planned", string: 6, toMs: 1200 }), 150);
    expect(lostUnder("light")).toBeLessThan(plain - 3);
    expect(lostUnder("choked")).toBeGreaterThan(plain + 3);
  });
  it("a deeper, firmer palm takes more: light, medium, choked in this order", () => {
    for (const on of ["electric", "acoustic", "nylon", "bass"]) {
      const set = new StringSet(instrument(on), RENDERED_PARTIALS);
      const lost = PALM_GRADES.map((grade) => {
        const { rate, fromBridgeMm, toBridgeMm } = set.rig.palm[grade];
        const string = new SoundingString(set.count, set, SAMPLE_RATE, 0);
        string.take({ ms: 0, kind: "touch", touches: [{ rate, fromMm: set.openLengthMm - toBridgeMm, toMm: set.openLengthMm - fromBridgeMm }] });
        string.take({ ms: 0, kind: "pluck", fret: 0, partial: 1, level: 1, noise: null });
        const bands = new Bands(SAMPLE_RATE / 2 - 2);
        string.render(bands, 0, SAMPLE_RATE / 2 - 2, 0, 0);
        return loss(Float32Array.from(bands.taken()), 200);
      });
      expect(lost[0]).toBeLessThan(lost[1]!);
      expect(lost[1]).toBeLessThan(lost[2]!);
    }
  });
  it("a finger eased over fret 12 lies near a node: the string chimes on", () => {
    const fall = (fret: number) => {
      const samples = sound(eased("electric", 3, fret), { damping: "planned", string: 3, toMs: 1500 });
      return rmsDb(slice(samples, 940, 50)) - rmsDb(slice(samples, 1100, 50));
    };
    expect(fall(12)).toBeLessThan(fall(10) - 3);
  });
  it("a dead stroke is a short knock without sustain", () => {
    const ghost = passageOf([stroke("0", "1/8", "5/3~1 4/5~3 3/5~4", { as: "ghost", strings: [5, 4, 3] })], { tempo: 60, player: { chuck: "release" } });
    const samples = sound(ghost, { damping: "planned", toMs: 800 });
    expect(rmsDb(slice(samples, 0, 20)) - rmsDb(slice(samples, 120, 60))).toBeGreaterThan(30);
  });
});

describe("strings that nobody plays", () => {
  it("sound on after the played one is damped where partials coincide, and hardly a semitone off", () => {
    // D3 on string 5 at fret 5 is open string 4's pitch; one fret higher is a semitone off.
    const answer = (fret: number) => {
      const passage = passageOf([[stroke("0", "1/4", `5/${fret}~1`)], [stroke("0", "1/4", "1/12")]], { on: "acoustic", tempo: 60, gain: "clean" });
      return rmsDb(slice(sound(passage, { string: 4, toMs: 1900 }), 1100, 400));
    };
    expect(answer(5) - answer(6)).toBeGreaterThan(8);
  });
  it("energy never grows without a stroke", () => {
    for (const passage of [note("electric", 5, 3), note("bass", 3, 2), note("nylon", 2, 1, { tone: "palm" })]) {
      const samples = sound(passage, { damping: "planned", string: passage.bars[0]!.strokes[0]!.notes[0]!.string, toMs: 3000 });
      let before = Number.POSITIVE_INFINITY;
      for (let ms = 40; ms < 2800; ms += 100) {
        const now = rmsDb(slice(samples, ms, 100));
        if (before > -120) expect(now).toBeLessThan(before + 0.3);
        before = now;
      }
    }
  });
});

describe("the samples", () => {
  const busy = passageOf(line(8, ["6/3+5/5+4/5", "6/3p", "5/2", "5/3+4/5+3/5+2/5+1/3", "3/7", "2/8", "1/7", "6/0"]), { gain: "high" });
  it("never clip, at any gain", () => {
    for (const gain of ["clean", "edge", "high"] as const) for (const x of sound(busy, { gain, damping: "none" })) expect(Math.abs(x)).toBeLessThan(1);
  });
  it("are the same however they are asked for: pieces join without a seam", () => {
    for (const gain of ["clean", "high"] as const) {
      const whole = sound(busy, { gain });
      const rendering = new Rendering(busy, planStages(busy), { damping: "none", gain });
      let at = 0;
      for (const size of [1, 441, 5000, 97, 44100, 3]) {
        const piece = rendering.take(size)!;
        expect(piece).toHaveLength(size);
        expect(piece).toEqual(whole.slice(at, at + size));
        at += size;
      }
    }
  });
  it("are the same for the same input", () => {
    expect(sound(busy, { gain: "high" })).toEqual(sound(busy, { gain: "high" }));
  });
});
