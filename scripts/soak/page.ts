import { launch, startServer, visit } from "../../e2e/kit.ts";
import type { SoakOptions } from "./main.ts";
import { brokenNumbers, RandomUser } from "./user.ts";

const SIZES = [
  { width: 1280, height: 800 },
  { width: 1024, height: 768 },
  { width: 390, height: 844 },
];

/** Acts between two looks at the page, and between two ways in. */
const ACTS_A_LOOK = 10;
const ACTS_A_VISIT = 120;

/**
 * A random user goes through every place for minutes: any error of the page, any answer of the server from 500 on and any number
 * that is none ends it, with the seed and what was done last.
 */
export async function wandersThroughThePage({ seed, minutes }: SoakOptions): Promise<string[]> {
  const until = performance.now() + minutes * 60_000;
  const server = await startServer();
  const browser = await launch();
  let acts = 0;
  let visits = 0;
  try {
    const passages = (await (await fetch(`${server.url}api/passages`)).json()) as { id: string }[];
    const places = [
      "",
      "setup",
      ...["bench", "writer", "treatments", "ring", "sheet"].flatMap((view) => passages.slice(0, 4).map(({ id }) => `${view}/${id}`)),
    ];
    while (performance.now() < until) {
      const place = places[(seed + visits) % places.length]!;
      const own = seed * 1000 + visits++;
      const { context, page, trouble } = await visit(browser, server.url, { theme: visits % 2 === 0 ? "stand" : "stage", ...SIZES[visits % 3]! });
      page.on("response", (response) => {
        if (response.status() >= 500) trouble.push(`${response.status()} from ${response.url()}`);
      });
      page.on("dialog", (dialog) => void dialog.dismiss());
      // A print dialog would wait for somebody.
      await page.addInitScript(() => {
        window.print = () => {};
      });
      await page.goto(`${server.url}${place}`);
      const user = new RandomUser(page, own);
      for (let k = 0; k < ACTS_A_VISIT && performance.now() < until; k++) {
        await user.act();
        acts++;
        if (k % ACTS_A_LOOK === ACTS_A_LOOK - 1) trouble.push(...(await page.evaluate(brokenNumbers)));
        // Words of a refused request are on the console too; what the page makes of it is looked at above.
        const real = trouble.filter((line) => !/status of 4\d\d/.test(line));
        if (real.length > 0)
          throw new Error(`at /${place}, visit ${visits} of seed ${seed}, now at ${page.url()}:\n${real.join("\n")}\n\nlast done:\n${user.done.join("\n")}`);
      }
      await context.close();
      process.stdout.write(`\r${acts} acts in ${visits} visits, nothing broken`);
    }
    process.stdout.write("\n");
    return [];
  } catch (error) {
    return [(error as Error).message];
  } finally {
    await browser.close();
    await server.stop();
  }
}
