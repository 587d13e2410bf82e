import { once } from "node:events";
import { createServer } from "node:http";
import type { AddressInfo } from "node:net";
import { connect } from "node:net";
import { networkInterfaces } from "node:os";
import express from "express";
import request from "supertest";
import { describe, expect, it } from "vitest";
import { guard, ownNames } from "./guard.ts";

const HOST = "127.0.0.1:4310";
const app = express();
app.use(guard(() => [HOST]));
app.use((_request, response) => void response.send("in"));
const ask = (path: string, headers: Record<string, string>) =>
  request(app)
    .get(path)
    .set({ Host: HOST, ...headers });

describe("the door", () => {
  it("lets in who names this server, and nobody else", async () => {
    await ask("/api/passages", {}).expect(200);
    await ask("/api/passages", { Host: "evil.test" }).expect(403);
    await ask("/api/passages", { Host: "127.0.0.1:4311" }).expect(403);
    await ask("/api/passages", { Origin: "http://evil.test" }).expect(403);
    await ask("/api/passages", { Origin: `http://${HOST}` }).expect(200);
  });
  it("a page elsewhere reads nothing from here, also without naming its origin; a link from there leads to the page", async () => {
    for (const site of ["cross-site", "same-site"]) {
      await ask("/api/backup", { "Sec-Fetch-Site": site, "Sec-Fetch-Mode": "no-cors" }).expect(403);
      await ask("/api/backup", { "Sec-Fetch-Site": site, "Sec-Fetch-Mode": "navigate" }).expect(403);
      await ask("/assets/page.js", { "Sec-Fetch-Site": site, "Sec-Fetch-Mode": "no-cors" }).expect(403);
      await ask("/bench/1", { "Sec-Fetch-Site": site, "Sec-Fetch-Mode": "navigate" }).expect(200);
    }
    await ask("/api/backup", { "Sec-Fetch-Site": "same-origin", "Sec-Fetch-Mode": "cors" }).expect(200);
    await ask("/", { "Sec-Fetch-Site": "none", "Sec-Fetch-Mode": "navigate" }).expect(200);
  });
  it("a request that names two hosts is refused, whichever comes first", async () => {
    const server = createServer(app).listen(0);
    await once(server, "listening");
    for (const hosts of [
      [HOST, "evil.test"],
      ["evil.test", HOST],
    ]) {
      const socket = connect((server.address() as AddressInfo).port, "127.0.0.1");
      socket.write(`GET /api/passages HTTP/1.1\r\n${hosts.map((host) => `Host: ${host}\r\n`).join("")}Connection: close\r\n\r\n`);
      let answer = "";
      for await (const chunk of socket) answer += chunk;
      expect(answer).toMatch(/^HTTP\/1\.1 400/);
    }
    server.close();
  });
});

describe("a server that listens on every address", () => {
  it("answers under those that this machine has, its name and what is configured, and under no other", () => {
    const names = ownNames("0.0.0.0", 4310, "music.test, studio.test:8080");
    for (const all of Object.values(networkInterfaces()))
      for (const { address, family } of all ?? []) expect(names).toContain(family === "IPv6" ? `[${address}]:4310` : `${address}:4310`);
    expect(names).toEqual(expect.arrayContaining(["localhost:4310", "music.test:4310", "studio.test:8080"]));
    expect(names).not.toContain("0.0.0.0:4310");
    expect(ownNames("192.0.2.7", 4310)).toEqual(["127.0.0.1:4310", "localhost:4310", "[::1]:4310", "192.0.2.7:4310"]);
  });
  it("is named without the usual port too", () => expect(ownNames("127.0.0.1", 80)).toContain("localhost"));
});
