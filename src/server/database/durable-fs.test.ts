import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, it, vi } from "vitest";

const synced = vi.hoisted(() => ({ calls: 0 }));
vi.mock("node:fs", async (importOriginal) => {
  const real = await importOriginal<typeof import("node:fs")>();
  return {
    ...real,
    fsyncSync: (fd: number) => {
      synced.calls++;
      real.fsyncSync(fd);
    },
  };
});

it("a commit waits for the disk: fsync is called for it", async () => {
  const { openDatabase } = await import("./open.ts");
  const { LOCAL_PERSON } = await import("./database.ts");
  const { players } = await import("./schema.ts");
  const directory = mkdtempSync(join(tmpdir(), "rest-hand-sync-"));
  const { db, close } = await openDatabase(directory, async () => {});
  const before = synced.calls;
  await db.insert(players).values({ owner: LOCAL_PERSON, name: "p", value: {}, canonical: "{}" });
  expect(synced.calls).toBeGreaterThan(before);
  await close();
  rmSync(directory, { recursive: true, force: true });
}, 60_000);
