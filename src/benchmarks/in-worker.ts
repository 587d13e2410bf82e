import { planStages } from "../core/engine.ts";
import { EngineCache } from "../core/engine-cache.ts";
import { sixteenthRiff } from "./passages.ts";
import { afterEdit, fromNothing, valid } from "./planning.ts";

/** What runs in a worker of a page: where players' passages are planned. */

export interface Planned {
  fromNothing: number;
  afterEdit: number;
}

const riff = valid(sixteenthRiff(64));
const cache = new EngineCache();
planStages(riff, cache);
const planned: Planned = { fromNothing: fromNothing(), afterEdit: afterEdit(riff, cache) };
self.postMessage(planned);
