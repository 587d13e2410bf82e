import type { PlannedStep } from "../document/plan.ts";
import type { ContactFinger } from "../hands/fingers.ts";
import { partOf } from "../hands/parts.ts";
import { type Blow, FRETS, type Mark, type Posture, postureOf } from "./marks.ts";
import { around, type Box, disc, line, PAPER, type Paint, path, type SvgText, slab, svgOf, words } from "./svg.ts";

/** How a player likes to see the strings. */
export interface View {
  /** Which hand frets; the right one sees the neck the other way round. */
  frets: "left" | "right";
  /** Which string is on top. */
  top: "string-1" | "lowest";
}

export interface HandsOptions extends Partial<View> {
  /** Small leaves out all writing but the fret's number: to be read at a width of 60 pixels. */
  size?: "large" | "small";
  paint?: Paint;
  /** Where it stands in another drawing. */
  box?: Box;
  /** Without the bridge there is only the neck: for chords to choose from. */
  bridge?: boolean;
  /** A string whose number stands out. */
  selected?: number;
}

/** Measures in units of the drawing. */
interface Measures {
  row: number;
  fret: number;
  /** From the last fret drawn to the bridge. */
  body: number;
  /** Left and right of the neck, and over and under the strings. */
  margin: number;
  /** For the numbers of the strings. */
  names: number;
  below: number;
  /** Radius of a fingertip. */
  tip: number;
  stroke: number;
  text: number;
  writes: boolean;
}

const SIZES: Readonly<Record<"large" | "small", Measures>> = {
  large: { row: 30, fret: 68, body: 200, margin: 14, names: 22, below: 28, tip: 13, stroke: 2.2, text: 18, writes: true },
  small: { row: 6, fret: 8, body: 18, margin: 2, names: 0, below: 8, tip: 2.7, stroke: 0.9, text: 7.5, writes: false },
};

/** Both hands at a step as one drawing. */
export function handsSvg(step: PlannedStep, options: HandsOptions = {}): string {
  return drawHands(postureOf(step), options);
}

/** Both hands on the strings as the player sees them: five frets of the neck on one side, the bridge on the other. */
export function drawHands(posture: Posture, options: HandsOptions = {}): string {
  const { size = "large", paint = PAPER, frets = "left", top = "string-1", bridge = true, selected, box } = options;
  const m = measuresOf(size, bridge);
  const { first, shown } = windowOf(posture);
  const { width, height } = sizeOf(posture, options);
  const nut = m.margin + m.names;
  const neckEnd = nut + shown * m.fret;
  const across = (x: number) => (frets === "right" ? width - x : x);
  const board: Board = {
    m,
    paint,
    first,
    shown,
    count: posture.count,
    x: across,
    fretX: (fret) => across(nut + (fret - first + 1) * m.fret),
    fingerX: (fret) => across(nut + (fret - first + 0.55) * m.fret),
    bodyX: (share) => across(neckEnd + share * m.body),
    y: (string) => m.margin + m.tip / 2 + (top === "lowest" ? posture.count - string : string - 1) * m.row,
  };
  const shapes = [
    ...neck(board),
    ...(bridge ? bridgeShapes(board) : []),
    ...(m.writes ? names(board, across(m.margin), selected) : []),
    ...strings(board, posture),
    ...posture.marks.flatMap((mark) => lying(board, mark, posture.marks)),
    ...posture.marks.flatMap((mark) => pressing(board, mark, posture.marks)),
    ...posture.bends.map(({ string, fret, towardsTreble }) => bendArrow(board, string, fret, towardsTreble)),
    ...posture.blows.flatMap((blow) => blowShapes(board, blow)),
  ];
  return svgOf(width, height, shapes, box);
}

function measuresOf(size: "large" | "small", bridge: boolean): Measures {
  return bridge ? SIZES[size] : { ...SIZES[size], body: SIZES[size].fret * 0.5 };
}

/** Width and height of a drawing in its own units. */
export function sizeOf(posture: Posture, { size = "large", bridge = true }: HandsOptions = {}): { width: number; height: number } {
  const m = measuresOf(size, bridge);
  return {
    width: 2 * m.margin + m.names + windowOf(posture).shown * m.fret + m.body,
    height: 2 * m.margin + (posture.count - 1) * m.row + m.tip + m.below,
  };
}

/** Where everything is. */
interface Board {
  m: Measures;
  paint: Paint;
  first: number;
  shown: number;
  count: number;
  x(along: number): number;
  fretX(fret: number): number;
  fingerX(fret: number): number;
  /** Between the neck (0) and the bridge (1). */
  bodyX(share: number): number;
  y(string: number): number;
}

/** The frets that are seen: those by the nut as long as nothing is beyond them, else from the index's on; all that is touched is in view. */
function windowOf({ marks, position }: Posture): { first: number; shown: number } {
  const used = marks.flatMap(({ fret }) => (fret === undefined || fret === 0 ? [] : [fret]));
  const last = Math.max(position + 3, ...used);
  if (last <= FRETS) return { first: 1, shown: FRETS };
  const first = Math.max(1, Math.min(position, ...used));
  return { first, shown: Math.max(FRETS, Math.max(...used, first) - first + 1) };
}

function neck(board: Board): SvgText[] {
  const { m, paint, first, shown, fretX, fingerX } = board;
  const [top, bottom] = edges(board);
  const over = m.row * 0.3;
  const lines = Array.from({ length: shown + 1 }, (_, i) => {
    const fret = first - 1 + i;
    const isNut = fret === 0;
    return line([fretX(fret), top - (isNut ? over : 0)], [fretX(fret), bottom + (isNut ? over : 0)], {
      stroke: isNut ? paint.ink : paint.faint,
      width: m.stroke * (isNut ? 2.6 : 0.8),
    });
  });
  const numbers = m.writes ? range(first, first + shown - 1) : [first];
  return [...lines, ...numbers.map((fret) => words([fingerX(fret), under(board)], String(fret), { fill: paint.ink, size: m.text }))];
}

function bridgeShapes(board: Board): SvgText[] {
  const { m, paint, bodyX } = board;
  const [top, bottom] = edges(board);
  const over = m.row * 0.3;
  const bridge = line([bodyX(1), top - over], [bodyX(1), bottom + over], { stroke: paint.ink, width: m.stroke * 2.6 });
  return m.writes ? [bridge, words([bodyX(0.5), under(board)], "bridge side", { fill: paint.ink, size: m.text * 0.85 })] : [bridge];
}

/** Numbers of the strings beside the nut. */
function names({ m, paint, count, y }: Board, x: number, selected: number | undefined): SvgText[] {
  return range(1, count).map((string) =>
    words([x, y(string) + m.text * 0.35], String(string), { fill: paint.ink, size: m.text, bold: string === selected, underlined: string === selected }),
  );
}

function edges({ y, count }: Board): [number, number] {
  return [Math.min(y(1), y(count)), Math.max(y(1), y(count))];
}

function under(board: Board): number {
  return edges(board)[1] + board.m.tip / 2 + board.m.below * 0.82;
}

/** Strings are thin as long as nothing is heard of them; what sounds is thick from where it is pressed to the bridge. */
function strings({ m, paint, count, fretX, bodyX, first, y }: Board, { states, marks }: Posture): SvgText[] {
  return range(1, count).flatMap((string) => {
    const state = states[string - 1];
    const pressed = Math.max(0, ...marks.filter(({ part, strings }) => part === "press" && strings.includes(string)).map(({ fret = 0 }) => fret));
    const [nut, bridge] = [fretX(first - 1), bodyX(1)];
    const from = pressed >= first ? fretX(pressed) : nut;
    const at = y(string);
    const thin = line([nut, at], [bridge, at], { stroke: paint.ink, width: m.stroke * (0.35 + string * 0.06), opacity: 0.55 });
    const heard = (dash?: string) => line([from, at], [bridge, at], { stroke: paint.ink, width: m.stroke * 1.9, ...(dash ? { dash } : {}) });
    if (state === "ring") return [thin, heard()];
    if (state === "free") return [thin, heard(`${m.stroke} ${m.stroke * 2}`)];
    if (state === "muffled") return [thin, heard(`${m.stroke * 2.4} ${m.stroke * 1.6}`)];
    if (state === "stray") return [thin, wave([from, at], bridge, m, paint)];
    return [thin];
  });
}

/** A string that rings and should not: a wave, so that it is known without its colour. */
function wave([from, at]: readonly [number, number], to: number, m: Measures, paint: Paint): SvgText {
  const step = m.row * 0.28 * Math.sign(to - from);
  const steps = Math.floor(Math.abs((to - from) / step));
  const d = Array.from({ length: steps }, (_, i) => `q${step / 2} ${(i % 2 === 0 ? -1 : 1) * m.row * 0.42} ${step} 0`).join("");
  return path(`M${from} ${at}${d}`, { stroke: paint.stray, width: m.stroke * 1.5 });
}

/** Where parts of the picking hand lie between neck (0) and bridge (1), and how wide they are there. */
const PICKING_PLACE = { strike: 0.3, finger: 0.56, heel: 0.62, heelWidth: 0.52, palm: 0.86, palmWidth: 0.26 };

/** Everything that rests: in outline over the strings it covers. */
function lying(board: Board, mark: Mark, all: readonly Mark[]): SvgText[] {
  const { m, paint, fingerX, bodyX, y, fretX, first } = board;
  const { finger, strings, fret = 0 } = mark;
  const at = fingerX(fret > 0 ? fret : first);
  switch (partOf(mark).draws) {
    case "press":
      return [];
    case "band": {
      const x = fretX(first - 1) + (fretX(first) - fretX(first - 1)) * 0.16;
      const name = m.writes ? [words([x, edges(board)[0] - m.row * 0.45], "wrap", { fill: paint.fretting, size: m.text * 0.8 })] : [];
      return [...covers(board, "fretting", x, m.fret * 0.18, [strings], ""), ...name];
    }
    case "nose": {
      const beside = strings[0]!;
      const back = Math.sign(y(beside) - y(beside - 1)) * m.row * 0.12;
      return [line([at, y(beside - 1)], [at, y(beside) - back], { stroke: paint.fretting, width: m.tip * 0.75, round: true })];
    }
    case "across":
      return covers(board, "fretting", at, m.fret * 0.92, [strings], "hand");
    case "lying":
      return lyingFinger(board, mark, all, at);
    case "bridge":
      return covers(board, "picking", bodyX(PICKING_PLACE.palm), PICKING_PLACE.palmWidth * m.body, runsOf(strings), "palm");
    case "flat-hand":
      return covers(board, "picking", bodyX(PICKING_PLACE.heel), PICKING_PLACE.heelWidth * m.body, runsOf(strings), "flat hand");
    case "square":
      return covers(board, "picking", bodyX(PICKING_PLACE.finger), m.tip * 2.1, runsOf(strings), finger === undefined ? "" : signOf(finger));
  }
}

/** A finger lies in one piece: from the string on that it presses or rests on, and over strings that others press beyond it. */
function lyingFinger(board: Board, mark: Mark, all: readonly Mark[], at: number): SvgText[] {
  const { part, finger, strings, fret = 0 } = mark;
  const same = all.filter((other) => other.hand === "fretting" && other.finger === finger && other.fret === fret && other !== mark);
  if (part === "ease" && same.some((other) => other.part === "underside")) return [];
  const presses = same.filter((other) => other.part === "press");
  const own = [...presses, ...(part === "underside" ? same.filter((other) => other.part === "ease") : [])].flatMap((other) => other.strings);
  const beyond = all.filter((press) => press.part === "press" && (press.fret ?? 0) > fret).flatMap((press) => press.strings);
  const spans = runsOf([...strings, ...own], (string) => part === "underside" && beyond.includes(string));
  const width = board.m.tip * (partOf(mark).role === "thumb" ? 2.6 : 1.9);
  return covers(board, "fretting", at, width, spans, presses.length > 0 ? "" : String(finger ?? ""), true);
}

/** One piece of a hand over some strings, which do not show under it: its colour around it and a little of it inside. */
function covers(
  board: Board,
  hand: "fretting" | "picking",
  x: number,
  width: number,
  spans: readonly (readonly number[])[],
  says: string,
  round = false,
): SvgText[] {
  const { m, paint } = board;
  return spans.flatMap((span) => {
    const box = around([x, ...rangeY(board, span)], width);
    const radius = round ? width / 2 : 0;
    const isLong = says.length > 2;
    // The name stands over the bass-most string, where fingers come from.
    const at = isLong ? middleOf(board, span) : board.y(span.at(-1)!);
    return [
      slab(box, radius, { fill: paint.ground, fillOpacity: 0.8 }),
      slab(box, radius, { stroke: paint[hand], width: m.stroke, fill: paint[hand], fillOpacity: 0.22 }),
      ...(m.writes && says !== "" ? [words([x, at + m.text * 0.35], says, { fill: paint[hand], size: m.text * (isLong ? 0.8 : 1), bold: true })] : []),
    ];
  });
}

/** Picking fingers by their usual letters, the thumb as p. */
function signOf(finger: ContactFinger): string {
  return finger === "T" ? "p" : String(finger);
}

/** Fingers that press: filled; one that presses several strings is one bar. */
function pressing(board: Board, { hand, part, finger, strings, fret = 0 }: Mark, all: readonly Mark[]): SvgText[] {
  const { m, paint, fingerX, y } = board;
  if (part !== "press") return [];
  const color = hand === "picking" ? paint.picking : paint.fretting;
  const on = hand === "picking" ? paint.onPicking : paint.onFretting;
  const spans = finger === 1 || strings.length > 2 ? [[strings[0]!, strings.at(-1)!]] : runsOf(strings);
  const twin = all.some((other) => other.part === "press" && other.fret === fret && other.hand !== hand && other.strings.some((s) => strings.includes(s)));
  const x = fingerX(fret) + (twin ? m.tip : 0);
  return spans.flatMap((span) => {
    const [low, high] = [span[0]!, span.at(-1)!];
    const shape = low === high ? disc([x, y(low)], m.tip, { fill: color }) : slab(around([x, ...rangeY(board, span)], m.tip * 2), m.tip, { fill: color });
    if (!m.writes || finger === undefined) return [shape];
    return [shape, words([x, y(high) + m.text * 0.35], String(finger), { fill: on, size: m.text, bold: true })];
  });
}

/** A bent string: an arrow from its finger to the side it goes. */
function bendArrow({ m, paint, fingerX, y, x }: Board, string: number, fret: number, towardsTreble: boolean): SvgText {
  const way = Math.sign((y(1) - y(2)) * (towardsTreble ? 1 : -1));
  const at = fingerX(fret) + (x(1) - x(0)) * m.tip * 1.7;
  const [from, to] = [y(string), y(string) + way * m.row * 0.95];
  const head = m.tip * 0.55;
  return path(`M${at} ${from}V${to}M${at - head} ${to - way * head}L${at} ${to}L${at + head} ${to - way * head}`, {
    stroke: paint.fretting,
    width: m.stroke * 1.4,
  });
}

/** Strokes: an arrow along the strings it goes through, a filled square for each finger that plucks, crosses for what gives no pitch. */
function blowShapes(board: Board, { way, strings, direction, fingers, dead }: Blow): SvgText[] {
  const { m, paint, bodyX, y } = board;
  const at = bodyX(PICKING_PLACE.strike);
  const size = m.tip * 1.75;
  const crosses = (x: number) => dead.map((string) => cross([x, y(string)], m.tip * 0.42, m, paint));
  const squares = (x: number) =>
    fingers.flatMap(({ string, finger }) => [
      slab(around([x, y(string)], size, size), 0, { fill: paint.picking }),
      ...(m.writes ? [words([x, y(string) + m.text * 0.35], signOf(finger), { fill: paint.onPicking, size: m.text, bold: true })] : []),
    ]);
  if (way === "onto") return crosses(at);
  if (way === "plucked") return squares(at);
  const beside = bodyX(PICKING_PLACE.strike - (m.writes ? 0.12 : 0.22));
  return [arrow(board, at, strings, direction), ...crosses(beside), ...squares(beside)];
}

function arrow({ m, paint, y }: Board, x: number, strings: readonly number[], direction: Blow["direction"]): SvgText {
  const [first, last] = [strings[0]!, strings.at(-1)!];
  const towardsTreble = Math.sign(y(1) - y(2));
  const way = first === last ? towardsTreble * (direction === "up" ? -1 : 1) : Math.sign(y(last) - y(first));
  const head = m.tip * 0.8;
  const [from, to] = [y(first) - way * m.row * 0.42, y(last) + way * m.row * 0.42];
  return path(`M${x} ${from}V${to - way * head * 0.6}M${x - head * 0.8} ${to - way * head * 1.3}L${x} ${to}L${x + head * 0.8} ${to - way * head * 1.3}Z`, {
    stroke: paint.picking,
    width: m.stroke * 1.3,
    fill: paint.picking,
  });
}

function cross([x, y]: readonly [number, number], r: number, m: Measures, paint: Paint): SvgText {
  return path(`M${x - r} ${y - r}l${2 * r} ${2 * r}m0 ${-2 * r}l${-2 * r} ${2 * r}`, { stroke: paint.ink, width: m.stroke * 1.2 });
}

/** From the first to the last of some strings, a little beyond both. */
function rangeY({ m, y }: Board, strings: readonly number[]): [number, number] {
  const ys = [y(strings[0]!), y(strings.at(-1)!)];
  return [Math.min(...ys) - m.row * 0.4, Math.max(...ys) + m.row * 0.4];
}

function middleOf({ y }: Board, strings: readonly number[]): number {
  return (y(strings[0]!) + y(strings.at(-1)!)) / 2;
}

/** Neighbouring strings together, over gaps of strings that may lie between. */
function runsOf(strings: readonly number[], mayBeBetween: (string: number) => boolean = () => false): number[][] {
  const runs: number[][] = [];
  for (const string of [...strings].sort((a, b) => a - b)) {
    const run = runs.at(-1);
    const gap = run ? range(run.at(-1)! + 1, string - 1) : [];
    if (run && gap.every(mayBeBetween)) run.push(string);
    else runs.push([string]);
  }
  return runs;
}

function range(from: number, to: number): number[] {
  return Array.from({ length: Math.max(0, to - from + 1) }, (_, i) => from + i);
}
