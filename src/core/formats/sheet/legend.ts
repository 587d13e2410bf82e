import { line, movedTo, svgOf, text } from "./ink.ts";
import { TOUCH_LINE, TOUCH_SIGNS } from "./signs.ts";

/** What the signs mean, as a drawing of its own. */
export function legendSvg(widthPx: number): string {
  const { content, heightPx } = legend(widthPx);
  return svgOf(widthPx, heightPx, content);
}

/** What the signs mean, in as many rows as there is room for. */
export function legend(widthPx: number): { content: string; heightPx: number } {
  const signs: [string, number][] = [
    [`<rect x="0" y="8" width="26" height="4"/>${text(32, 14, "sounds", { size: 11 })}`, 82],
    [`${line([0, 10], [26, 10], { width: 8, dash: "2 3.5" })}${text(32, 14, "palm-muted", { size: 11 })}`, 104],
    [`<path d="M8 5l9 9m0-9l-9 9" stroke="#000" stroke-width="2"/>${text(24, 14, "dead", { size: 11 })}`, 62],
    [`${line([0, 10], [26, 10], { width: 2, dash: "1 4" })}${text(32, 14, "may ring on", { size: 11 })}`, 108],
    [`<path d="M0 12l3 -5l3 5l3 -5l3 5l3 -5l3 5" fill="none" stroke="#000" stroke-width="1.6"/>${text(24, 14, "rings astray", { size: 11 })}`, 102],
    [`<path d="M0 5h9l-4.5 10z"/>${text(14, 14, "down", { size: 11 })}`, 54],
    [`<path d="M0 14.5h8l-4 -9z" fill="#fff" stroke="#000" stroke-width="1.3"/>${text(14, 14, "up", { size: 11 })}`, 40],
  ];
  const hands = TOUCH_SIGNS.map(({ says, sign, edge }): [string, number] => [
    `${sign(0, 10)}${line([0, 10 + edge], [26, 10 + edge], TOUCH_LINE)}${text(32, 14, says, { size: 11 })}`,
    160,
  ]);
  let [x, row] = [0, 0];
  const content = [...signs, ...hands].map(([drawing, width], i) => {
    if (x > 0 && (x + width > widthPx || i === signs.length)) [x, row] = [0, row + 1];
    const placed = movedTo(x, row * LEGEND_ROW, drawing);
    x += width;
    return placed;
  });
  return { content: content.join(""), heightPx: (row + 1) * LEGEND_ROW + 4 };
}

const LEGEND_ROW = 24;
