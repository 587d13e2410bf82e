import { parseCookie, stringifySetCookie } from "cookie";
import { json, type Request, type RequestHandler, type Response, Router } from "express";
import { z } from "zod";
import {
  acceptance,
  confirmation,
  credentials,
  invitationAsked,
  invitationList,
  madeInvitation,
  me,
  newPassphrase,
  offeredInvitation,
  type Person,
  secretSent,
  signInList,
} from "../../api/wire.ts";
import { bodyOf, notThere } from "../asked.ts";
import { LOCAL_PERSON } from "../database/database.ts";
import { Refusal } from "../problems.ts";
import { reply } from "../reply.ts";
import type { Attempts } from "./attempts.ts";
import type { People } from "./people.ts";
import { type SignedIn, type SignIns, STAYS_DAYS } from "./sign-ins.ts";

/** Who may come in: routes for that, before all others, and whose request one is. */
export interface Access {
  routes: RequestHandler;
  /** The id of who is asking; throws where nobody is signed in. */
  personOf(request: Request, response: Response): Promise<string>;
}

/** On a machine of one's own everybody who reaches the server is the player. */
export const OWN_MACHINE: Access = {
  routes: Router().get("/me", (_request, response) => reply(response, me, { login: false, person: null })),
  personOf: async () => LOCAL_PERSON,
};

const COOKIE = "rest-hand";

/** Everybody has an account, and is known by a cookie once they have signed in. `forget` removes the files of somebody who is gone. */
export function accountAccess(people: People, signIns: SignIns, attempts: Attempts, forget: (person: string) => void): Access {
  const router = Router();
  const sent = json({ limit: "8kb" });

  const signedIn = async (request: Request, response: Response): Promise<SignedIn> => {
    const found = await whoIs(request, response);
    if (!found) throw new Refusal({ status: 401, title: "Sign in", detail: "Nobody is signed in here, or not any more." });
    return found;
  };
  const whoIs = async (request: Request, response: Response): Promise<SignedIn | null> => {
    const secret = parseCookie(request.headers.cookie ?? "")[COOKIE];
    const found = secret ? await signIns.find(secret) : null;
    if (found?.renewed) setCookie(request, response, found.renewed);
    return found;
  };
  const comeIn = async (request: Request, response: Response, person: Person): Promise<void> => {
    setCookie(request, response, await signIns.begin(person.id, (request.headers["user-agent"] ?? "").slice(0, 300)));
    reply(response, me, { login: true, person });
  };
  /** Refuses where the passphrase is not that of who is asking. */
  const confirmed = async (request: Request, { person }: SignedIn, passphrase: string): Promise<void> => {
    await attempts.count(person.name, addressOf(request));
    if (!(await people.known(person.name, passphrase))) throw new Refusal({ status: 403, title: "Not your passphrase", detail: "Nothing was changed." });
    await attempts.forgive(person.name, addressOf(request));
  };

  router.get("/me", async (request, response) => {
    reply(response, me, { login: true, person: (await whoIs(request, response))?.person ?? null });
  });

  router.post("/sign-in", sent, async (request, response) => {
    const { name, passphrase } = bodyOf(credentials, request);
    await attempts.count(name, addressOf(request));
    const person = await people.known(name, passphrase);
    if (!person) throw new Refusal({ status: 403, title: "Not known", detail: "No account has this name and this passphrase." });
    await attempts.forgive(name, addressOf(request));
    await comeIn(request, response, person);
  });

  router.post("/invitations/accept", sent, async (request, response) => {
    const { secret, name, passphrase } = bodyOf(acceptance, request);
    await attempts.count(null, addressOf(request));
    const person = await people.accept(secret, name, passphrase);
    if (person === "no invitation") throw noInvitation();
    if (person === "name taken") throw new Refusal({ status: 409, title: "This name is taken", detail: "Take another one." });
    await comeIn(request, response, person);
  });

  /** For whoever has its address, signed in or not. */
  router.post("/invitations/look", sent, async (request, response) => {
    const invitation = await people.invitation(bodyOf(secretSent, request).secret);
    if (!invitation) throw noInvitation();
    reply(response, offeredInvitation, invitation);
  });
  /** Whoever has an account already becomes a student. */
  router.post("/invitations/join", sent, async (request, response) => {
    const { person } = await signedIn(request, response);
    if (!(await people.join(bodyOf(secretSent, request).secret, person.id))) throw noInvitation();
    response.status(204).end();
  });

  router.post("/sign-out", async (request, response) => {
    const found = await whoIs(request, response);
    if (found) await signIns.end(found.person.id, found.id);
    clearCookie(request, response);
    response.status(204).end();
  });

  router.get("/sign-ins", async (request, response) => {
    const { person, id } = await signedIn(request, response);
    reply(response, signInList, await signIns.list(person.id, id));
  });

  /** Signs out everywhere else, or in one other place. */
  router.delete("/sign-ins", async (request, response) => {
    const { person, id } = await signedIn(request, response);
    await signIns.endAll(person.id, id);
    response.status(204).end();
  });
  router.delete("/sign-ins/:id", async (request, response) => {
    const { person } = await signedIn(request, response);
    if (!(await signIns.end(person.id, idIn(request)))) throw notThere();
    response.status(204).end();
  });

  router.put("/me/passphrase", sent, async (request, response) => {
    const found = await signedIn(request, response);
    const { now, passphrase } = bodyOf(newPassphrase, request);
    await confirmed(request, found, now);
    await people.setPassphrase(found.person.id, passphrase);
    // Whoever knew the old one is out, everywhere.
    await signIns.endAll(found.person.id);
    await comeIn(request, response, found.person);
  });

  router.delete("/me", sent, async (request, response) => {
    const found = await signedIn(request, response);
    await confirmed(request, found, bodyOf(confirmation, request).passphrase);
    await people.remove(found.person.id);
    forget(found.person.id);
    clearCookie(request, response);
    response.status(204).end();
  });

  router.get("/invitations", async (request, response) => {
    const { person } = await signedIn(request, response);
    reply(response, invitationList, await people.invitationsBy(person.id));
  });
  router.post("/invitations", sent, async (request, response) => {
    const { person } = await signedIn(request, response);
    const asked = bodyOf(invitationAsked, request);
    if (!person.mayInvite) throw new Refusal({ status: 403, title: "You may not invite", detail: "Who runs this server can let you." });
    reply(response.status(201), madeInvitation, await people.invite(person.id, asked));
  });
  router.delete("/invitations/:id", async (request, response) => {
    const { person } = await signedIn(request, response);
    if (!(await people.withdraw(person.id, idIn(request)))) throw notThere();
    response.status(204).end();
  });

  return { routes: router, personOf: async (request, response) => (await signedIn(request, response)).person.id };
}

function idIn(request: Request): string {
  const id = z.uuid().safeParse(request.params.id);
  if (id.success) return id.data;
  throw notThere();
}

function noInvitation(): Refusal {
  return new Refusal({ status: 404, title: "No such invitation", detail: "It was taken already, withdrawn, or is too old." });
}

function addressOf(request: Request): string {
  return request.ip ?? "";
}

/** Only this server's pages send it, no script reads it, and over https it never leaves by another way. */
function cookieOf(request: Request, value: string, maxAge: number): string {
  return stringifySetCookie({ name: COOKIE, value, httpOnly: true, sameSite: "strict", secure: request.secure, path: "/", maxAge });
}

function setCookie(request: Request, response: Response, secret: string): void {
  response.setHeader("Set-Cookie", cookieOf(request, secret, STAYS_DAYS * 24 * 60 * 60));
}

function clearCookie(request: Request, response: Response): void {
  response.setHeader("Set-Cookie", cookieOf(request, "", 0));
}
