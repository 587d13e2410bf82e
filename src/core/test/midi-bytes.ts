import { strToU8 } from "fflate";

/* Bytes of Standard MIDI Files, for tests that write what no writer would. */

/** A number in so many bytes, the highest first. */
export function be(value: number, bytes: number): number[] {
  return Array.from({ length: bytes }, (_, i) => Math.floor(value / 256 ** (bytes - 1 - i)) % 256);
}

/** A number as delta times are written: seven bits a byte. */
export function varied(value: number): number[] {
  const out = [value & 127];
  for (let rest = Math.floor(value / 128); rest > 0; rest = Math.floor(rest / 128)) out.unshift((rest & 127) | 128);
  return out;
}

/** A file of these tracks, format 1 where there are several; each ends as a track must. */
export function midiFile(tracks: readonly Uint8Array[], division = 480): Uint8Array {
  const head = [...strToU8("MThd"), ...be(6, 4), ...be(tracks.length > 1 ? 1 : 0, 2), ...be(tracks.length, 2), ...be(division, 2)];
  const parts = tracks.flatMap((track) => [Uint8Array.from([...strToU8("MTrk"), ...be(track.length + 4, 4)]), track, Uint8Array.of(0, 255, 47, 0)]);
  return joined([Uint8Array.from(head), ...parts]);
}

export function joined(parts: readonly Uint8Array[]): Uint8Array<ArrayBuffer> {
  const out = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}
