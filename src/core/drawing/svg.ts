/** Colours of a drawing, as SVG takes them. */
export interface Paint {
  ground: string;
  ink: string;
  faint: string;
  fretting: string;
  onFretting: string;
  picking: string;
  onPicking: string;
  stray: string;
}

/** Black on white. */
export const PAPER: Paint = {
  ground: "#fff",
  ink: "#000",
  faint: "#888",
  fretting: "#000",
  onFretting: "#fff",
  picking: "#000",
  onPicking: "#fff",
  stray: "#000",
};

/** Drawn, as SVG. */
export type SvgText = string;

type Point = readonly [number, number];
interface Pen {
  stroke?: string;
  width?: number;
  fill?: string;
  fillOpacity?: number;
  opacity?: number;
  dash?: string;
  round?: boolean;
}

function pen({ stroke, width, fill = "none", fillOpacity, opacity, dash, round }: Pen): string {
  return [
    ` fill="${fill}"`,
    fillOpacity === undefined ? "" : ` fill-opacity="${fillOpacity}"`,
    stroke === undefined ? "" : ` stroke="${stroke}" stroke-width="${short(width ?? 1)}"`,
    opacity === undefined ? "" : ` opacity="${opacity}"`,
    dash === undefined ? "" : ` stroke-dasharray="${dash}"`,
    round ? ' stroke-linecap="round"' : "",
  ].join("");
}

/** Two decimals are finer than any screen. */
function short(x: number): number {
  return Math.round(x * 100) / 100;
}

export function line([x1, y1]: Point, [x2, y2]: Point, how: Pen): SvgText {
  return `<path d="M${short(x1)} ${short(y1)}L${short(x2)} ${short(y2)}"${pen(how)}/>`;
}

export function path(d: string, how: Pen): SvgText {
  return `<path d="${d.replace(/\d+\.\d{3,}/g, (x) => String(short(Number(x))))}" stroke-linejoin="round"${pen(how)}/>`;
}

export function disc([cx, cy]: Point, r: number, how: Pen): SvgText {
  return `<circle cx="${short(cx)}" cy="${short(cy)}" r="${short(r)}"${pen(how)}/>`;
}

export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** A box around x, from one y to another, or around a point. */
export function around([x, from, to]: readonly [number, number, number] | readonly [number, number], width: number, height?: number): Box {
  if (to === undefined || height !== undefined) return { x: x - width / 2, y: from - (height ?? width) / 2, width, height: height ?? width };
  return { x: x - width / 2, y: from, width, height: to - from };
}

/** A box with rounded corners. */
export function slab({ x, y, width, height }: Box, radius: number, how: Pen): SvgText {
  return `<rect x="${short(x)}" y="${short(y)}" width="${short(width)}" height="${short(height)}" rx="${short(Math.min(radius, width / 2, height / 2))}"${pen(how)}/>`;
}

/** Writing around a point. */
export function words(
  [x, y]: Point,
  text: string,
  { fill, size, bold, underlined }: { fill: string; size: number; bold?: boolean; underlined?: boolean },
): SvgText {
  const weight = bold ? ' font-weight="800"' : "";
  const under = underlined ? ' text-decoration="underline"' : "";
  return `<text x="${short(x)}" y="${short(y)}" text-anchor="middle" font-size="${short(size)}"${weight}${under} fill="${fill}">${text}</text>`;
}

/** A drawing; where it stands in another one, the box it fills there. */
export function svgOf(width: number, height: number, shapes: readonly SvgText[], box?: Box): string {
  const within = box ? ` x="${short(box.x)}" y="${short(box.y)}" width="${short(box.width)}" height="${short(box.height)}"` : "";
  return `<svg xmlns="http://www.w3.org/2000/svg"${within} viewBox="0 0 ${short(width)} ${short(height)}">${shapes.join("")}</svg>`;
}
