// .ch.x.mts
import { readFileSync } from "node:fs";

// src/core/grips/hold.ts
var ONE_PER_FRET = [0, 1, 2, 3];
var LOW_BASS = [0, 1, 2, 2];
var LOW_BASS_BELOW = 5;
var REACH_UP = 4;
var DRAWN_IN = [0, 1, 1, 0.95, 1];
var SPARED_RING = 0.5;
var IDLE_INDEX = 1;
var IDLE_INDEX_IN_CHORD = 3.5;
var INDEX_BARRE = 2;
var OTHER_BARRE = 6;
var PER_BARRED_STRING = 0.4;
var OTHER_THAN_NATURAL = 3;
var UNPLAYABLE = 40;
function gripOptions(notes, isBass, open = []) {
  const fretted = notes.filter((n) => n.finger !== "T");
  if (fretted.length === 0) return [{ position: 1, fingers: notes.map((n) => n.finger ?? "T"), cost: 0 }];
  const lowest = Math.min(...fretted.map((n) => n.fret));
  const options = [];
  for (let position = Math.max(1, lowest - 3); position <= lowest; position++) options.push(gripAt(notes, position, isBass, open));
  return options;
}
function gripAt(notes, position, isBass, open) {
  const natural = isBass && position < LOW_BASS_BELOW ? LOW_BASS : ONE_PER_FRET;
  const isPair = notes.length === 2 && notes[0].fret === notes[1].fret && open.length > 0;
  const order = notes.map((_, i) => i).sort((a2, b2) => notes[a2].fret - notes[b2].fret || notes[b2].string - notes[a2].string);
  const fingers = new Array(notes.length).fill(0);
  let best = null;
  const search = (k, cost) => {
    if (best && cost >= best.cost) return;
    const i = order[k];
    if (i === void 0) {
      const whole = cost + (fingers.includes(1) || isPair ? 0 : notes.length > 1 ? IDLE_INDEX_IN_CHORD : IDLE_INDEX);
      if (!best || whole < best.cost) best = { fingers: [...fingers], cost: whole };
      return;
    }
    const note = notes[i];
    const wishes = note.finger === void 0 ? [1, 2, 3, 4] : [note.finger];
    for (const finger of wishes) {
      fingers[i] = finger;
      search(k + 1, cost + added(notes, order, k, fingers, natural, position, open));
    }
    fingers[i] = 0;
  };
  search(0, 0);
  const found = best;
  return { position, fingers: found.fingers, cost: found.cost };
}
function added(notes, order, k, fingers, natural, position, open) {
  const i = order[k];
  const note = notes[i];
  const finger = fingers[i];
  if (finger === "T" || finger === 0) return 0;
  const off = note.fret - position - natural[finger - 1];
  let cost = off > 0 ? REACH_UP * off : -DRAWN_IN[finger] * off;
  if (natural === LOW_BASS && finger === 3) cost += SPARED_RING;
  if (note.finger !== void 0) cost = OTHER_THAN_NATURAL * Math.abs(finger - naturalFinger(natural, note.fret - position));
  let joins = false;
  for (let before = 0; before < k; before++) {
    const j = order[before];
    const other = fingers[j];
    if (other === "T" || other === 0) continue;
    if (other === finger && notes[j].fret === note.fret) {
      if (!joins) cost += barreCost(notes, note, notes[j], finger, isFirstOf(order, k, notes, fingers, finger), open);
      joins = true;
    } else if (other === finger || other > finger) cost += UNPLAYABLE;
  }
  return cost;
}
function isFirstOf(order, k, notes, fingers, finger) {
  let count = 0;
  for (let before = 0; before < k; before++) if (fingers[order[before]] === finger && notes[order[before]].fret === notes[order[k]].fret) count++;
  return count === 1;
}
function barreCost(notes, a2, b2, finger, begins, open) {
  const low = Math.min(a2.string, b2.string);
  const high = Math.max(a2.string, b2.string);
  const lies = (string) => string > low && string < high;
  const stops = open.some(lies) || notes.some((n) => lies(n.string) && n.fret < a2.fret);
  return (stops ? UNPLAYABLE : 0) + (begins ? (finger === 1 ? INDEX_BARRE : OTHER_BARRE) : 0) + PER_BARRED_STRING;
}
function naturalFinger(natural, offset) {
  if (offset < 0) return 1;
  const at = natural.indexOf(offset);
  return at < 0 ? 4 : natural === LOW_BASS && offset === 2 ? 4 : at + 1;
}

// .ch.x.mts
var data = JSON.parse(readFileSync("node_modules/@tombatossals/chords-db/lib/guitar.json", "utf8"));
var shapes = Object.values(data.chords)
  .flat()
  .flatMap(({ key, suffix, positions }) =>
    positions.map((r) => {
      const strings = r.frets.map((f, i) => ({ string: 6 - i, fret: f > 0 ? f + r.baseFret - 1 : f, finger: r.fingers[i] }));
      return {
        name: `${key} ${suffix}`,
        base: r.baseFret,
        strings,
        fretted: strings.filter((s) => s.fret > 0),
        open: strings.filter((s) => s.fret === 0).map((s) => s.string),
      };
    }),
  );
var ok = shapes.filter(
  (x) =>
    !(x.strings.some((s) => s.fret > 0 !== s.finger > 0) || x.fretted.some((a2) => x.fretted.some((b2) => a2.finger === b2.finger && a2.fret !== b2.fret))) &&
    x.fretted.length,
);
var rows = {};
var miss = /* @__PURE__ */ new Map();
for (const x of ok) {
  const notes = x.fretted.map(({ string, fret }) => ({ string, fret, finger: void 0 }));
  const best = gripOptions(notes, false, x.open).reduce((a2, b2) => (b2.cost < a2.cost ? b2 : a2));
  const good = best.fingers.every((f, k) => f === x.fretted[k].finger);
  const g = `${x.open.length > 0 ? "open" : "closed"} ${x.fretted.length} idx ${x.fretted.some((f) => f.finger === 1)}`;
  rows[g] ??= [0, 0];
  rows[g][good ? 0 : 1]++;
  if (!good) {
    const k = `${g} | ${x.strings.map((s) => (s.fret < 0 ? "x" : s.fret)).join(" ")} | theirs ${x.fretted.map((f) => f.finger)} ours ${best.fingers}`;
    miss.set(k, (miss.get(k) ?? 0) + 1);
  }
}
var a = 0;
var b = 0;
for (const [k, v] of Object.entries(rows).sort()) {
  console.log(k, v);
  a += v[0];
  b += v[1];
}
console.log(a, b, ((100 * a) / (a + b)).toFixed(1));
if (process.argv[2]) for (const [k] of [...miss].filter(([k2]) => k2.startsWith(process.argv[2])).slice(0, 60)) console.log(k);
