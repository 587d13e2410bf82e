/** A drawing on white paper. */
export function svgOf(width: number, height: number, content: string): string {
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" width="${width}" height="${height}" font-family="Atkinson Hyperlegible Next Variable, Atkinson Hyperlegible, sans-serif" fill="#000">${content}</svg>`;
}

/** Writing on a line that begins, stands in the middle or ends at x. */
export function text(
  x: number,
  y: number,
  words: string,
  { size, bold = false, anchor = "start" }: { size: number; bold?: boolean; anchor?: "start" | "middle" | "end" },
): string {
  return `<text x="${x}" y="${y}" font-size="${size}"${bold ? ' font-weight="700"' : ""}${anchor === "start" ? "" : ` text-anchor="${anchor}"`}>${escaped(words)}</text>`;
}

function escaped(words: string): string {
  return words.replaceAll("&", "&amp;").replaceAll("<", "&lt;").replaceAll(">", "&gt;");
}

/** A part of a drawing, moved. */
export function movedTo(x: number, y: number, content: string): string {
  return `<g transform="translate(${x} ${y})">${content}</g>`;
}

export interface LineStyle {
  color?: string;
  width: number;
  dash?: string;
}

export function line(from: readonly [number, number], to: readonly [number, number], { color = "#000", width, dash }: LineStyle): string {
  const dashes = dash === undefined ? "" : ` stroke-dasharray="${dash}"`;
  return `<line x1="${from[0]}" x2="${to[0]}" y1="${from[1]}" y2="${to[1]}" stroke="${color}" stroke-width="${width}"${dashes}/>`;
}
