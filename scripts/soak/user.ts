import type { Page } from "playwright-core";
import { uniformInt } from "pure-rand/distribution/uniformInt";
import { xoroshiro128plus } from "pure-rand/generator/xoroshiro128plus";

/** Somebody who presses and drags whatever is there, the same for the same seed. */
export class RandomUser {
  private readonly random;
  /** What was done last, the newest at the end. */
  readonly done: string[] = [];

  constructor(
    private readonly page: Page,
    seed: number,
  ) {
    this.random = xoroshiro128plus(seed);
  }

  /** One thing, whatever it is. */
  async act(): Promise<void> {
    const which = this.below(10);
    if (which < 5) await this.press();
    else if (which < 8) await this.click();
    else if (which < 9) await this.drag();
    else await this.type();
  }

  private below(count: number): number {
    return uniformInt(this.random, 0, count - 1);
  }

  private pick<T>(from: readonly T[]): T {
    return from[this.below(from.length)]!;
  }

  private note(what: string): void {
    this.done.push(what);
    if (this.done.length > 40) this.done.shift();
  }

  private async press(): Promise<void> {
    const key = this.pick(KEYS);
    this.note(`key ${key}`);
    await this.page.keyboard.press(key);
  }

  /** Something that is in view and can be pressed. */
  private async click(): Promise<void> {
    const spots = await this.page.evaluate(pressable);
    if (spots.length === 0) return;
    const { x, y, name } = this.pick(spots);
    this.note(`click ${name}`);
    await this.page.mouse.click(x, y);
  }

  private async drag(): Promise<void> {
    const { width, height } = this.page.viewportSize()!;
    const [x, y] = [this.below(width), this.below(height)];
    const [to, down] = [x + this.below(300) - 150, y + this.below(120) - 60];
    this.note(`drag ${x},${y} to ${to},${down}`);
    await this.page.mouse.move(x, y);
    await this.page.mouse.down();
    await this.page.mouse.move((x + to) / 2, (y + down) / 2);
    await this.page.mouse.move(to, down);
    await this.page.mouse.up();
  }

  private async type(): Promise<void> {
    const text = this.pick(TEXTS);
    this.note(`type ${JSON.stringify(text)}`);
    await this.page.keyboard.insertText(text);
  }
}

const KEYS = [
  ..."0123456789abcdefghijklmnopqrstuvwxyz?.,/-+ ",
  ...["ArrowLeft", "ArrowRight", "ArrowUp", "ArrowDown", "Home", "End", "PageUp", "PageDown", "Enter", "Escape", "Tab", "Delete", "Backspace"],
  ...["Shift+ArrowRight", "Shift+ArrowLeft", "Shift+Tab", "Shift+D", "Shift+P", "Control+z", "Control+y", "Control+ArrowRight", "Control+ArrowLeft"],
  ...["Alt+b", "Alt+w", "Alt+t", "Alt+r", "Alt+s", "Control+d", "Alt+ArrowUp", "Alt+ArrowDown"],
];

const TEXTS = ["0", "999", "-1", "1e9", "x02210", "Am7/G", "ss ss ss ss", "s.k. ||", "3/4", "<b>&\"'", "\u{1d11e}é日", " ", "E4", "1/0"];

/** Centres of everything in view that can be pressed and leads nowhere outside the page, with its name. */
function pressable(): { x: number; y: number; name: string }[] {
  const found: { x: number; y: number; name: string }[] = [];
  for (const element of document.querySelectorAll("button, a[href], input, select, summary, [role=button], [role=application] *, label")) {
    const { x, y, width, height } = element.getBoundingClientRect();
    const [cx, cy] = [x + width / 2, y + height / 2];
    if (width < 4 || height < 4 || cx < 0 || cy < 0 || cx > innerWidth || cy > innerHeight) continue;
    const top = document.elementFromPoint(cx, cy);
    if (!top || !(element.contains(top) || top.contains(element))) continue;
    if ((element as HTMLInputElement).type === "file") continue;
    found.push({
      x: cx,
      y: cy,
      name: `${element.tagName.toLowerCase()} ${(element.getAttribute("aria-label") ?? element.textContent ?? "").trim().slice(0, 40)}`,
    });
  }
  return found;
}

/** What no user should ever see: numbers that are none, in words or in a drawing. */
export function brokenNumbers(): string[] {
  const bad = /\b(NaN|undefined|Infinity)\b/;
  const found: string[] = [];
  const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  for (let node = walker.nextNode(); node; node = walker.nextNode())
    if (bad.test(node.textContent ?? "") && !node.parentElement?.closest("[data-typed], textarea"))
      found.push(`text: ${node.textContent!.trim().slice(0, 120)}`);
  for (const element of document.querySelectorAll("svg *"))
    for (const { name, value } of element.attributes) if (bad.test(value)) found.push(`${element.tagName} ${name}="${value.slice(0, 80)}"`);
  return found;
}
