import { json, Router } from "express";
import { secretSent, sharedPassage } from "../../api/wire.ts";
import { bodyOf } from "../asked.ts";
import type { Database } from "../database/database.ts";
import { Refusal } from "../problems.ts";
import { reply } from "../reply.ts";
import { sharedUnder } from "../teaching/links.ts";

/** For whoever has an address, with or without an account. The secret comes in the body, so that no log of a proxy has it. */
export function sharedRoutes(db: Database): Router {
  return Router().post("/shared", json({ limit: "8kb" }), async (request, response) => {
    const found = await sharedUnder(db, bodyOf(secretSent, request).secret);
    if (!found) throw new Refusal({ status: 404, title: "Nothing here any more", detail: "This link has ended, or was withdrawn. Ask for a new one." });
    reply(response, sharedPassage, found);
  });
}
