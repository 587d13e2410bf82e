import type { Browser } from "playwright-core";
import { afterAll, afterEach, beforeAll } from "vitest";
import { launch, openPassage, type Server, startServer, visit, type Watched } from "./kit.ts";

/** One server and one browser for the tests of a file, and a fresh visitor for each. */
export interface Stage {
  server: Server;
  browser: Browser;
  /** The visitor of this test. */
  seen: Watched;
  visit(options?: Parameters<typeof visit>[2]): Promise<Watched["page"]>;
  open(title: string, options?: Parameters<typeof visit>[2]): Promise<Watched["page"]>;
}

export function setStage(): Stage {
  let seen: Watched | null = null;
  const stage: Stage = {
    get seen() {
      return seen!;
    },
    async visit(options) {
      seen = await visit(stage.browser, stage.server.url, options);
      return seen.page;
    },
    async open(title, options) {
      const page = await stage.visit(options);
      await openPassage(page, title);
      return page;
    },
  } as Stage;
  beforeAll(async () => {
    [stage.server, stage.browser] = await Promise.all([startServer(), launch()]);
  });
  afterAll(async () => {
    await stage.browser.close();
    await stage.server.stop();
  });
  afterEach(async () => {
    await seen?.context.close();
    seen = null;
  });
  return stage;
}
