import { strToU8, zipSync } from "fflate";
import { expect, it } from "vitest";
import { pack, unpack } from "./zip.ts";

const files = new Map([
  ["a.txt", strToU8("first")],
  ["folder/b.txt", strToU8("second")],
]);
const limits = { limit: { most: 1000, of: "MB", than: "anything here takes" } };

it("what is packed comes out as it was, wanted files only if asked; the same content gives the same bytes", () => {
  expect(pack(files)).toEqual(pack(new Map(files)));
  const all = unpack(pack(files), limits);
  expect(all.ok && all.value.files).toEqual(files);
  const some = unpack(pack(files), { ...limits, wanted: (name) => name.startsWith("folder/") });
  expect(some.ok && [...some.value.files.keys()]).toEqual(["folder/b.txt"]);
  expect(some.ok && some.value.names).toEqual([...files.keys()]);
});
it("names that lead out of a folder stay names", () => {
  const read = unpack(zipSync({ "../../etc/passwd": strToU8("x"), "C:\\boot": strToU8("y") }), limits);
  expect(read.ok && [...read.value.files.keys()].sort()).toEqual(["../../etc/passwd", "C:\\boot"]);
});
it("more than is allowed, a cut archive and no archive at all are refused in one sentence", () => {
  const large = unpack(zipSync({ a: new Uint8Array(600), b: new Uint8Array(600) }), limits);
  expect(large.ok ? [] : large.faults.map(({ says }) => says)).toEqual(["it holds 0.1 MB, more than the 0.001 MB anything here takes"]);
  for (const bytes of [pack(files).subarray(0, 60), strToU8("PK but no more"), new Uint8Array()]) {
    const read = unpack(bytes, limits);
    expect(read.ok ? [] : read.faults).toHaveLength(1);
  }
});
