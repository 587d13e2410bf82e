/*
 * Plain data as short text, to know it again by: one character for a value without parts, a small whole number or a word.
 */
const START = 0;
const END = 1;
const NULL = 2;
const UNDEFINED = 3;
const NO = 4;
const YES = 5;
/** The eight bytes of a number follow. */
const NUMBER = 6;
/** A word's own number follows. */
const WORD = 7;
/** The whole number 0; those after it have the characters after this one, as far as one byte goes. */
const ZERO = 8;
const LARGEST = 255 - ZERO;

/** Every word met so far has its number. */
const words = new Map<string, number>();

/** A number and its bytes. */
const numbers = new Float64Array(1);
const bytes = new Uint8Array(numbers.buffer);

/** Where a text is written, used again for the next. */
const signs: number[] = [];
let used = 0;

/**
 * All values of plain data in order, without the names of fields. Values of one type have equal texts exactly when they are
 * equal, as long as their fields are always written in the same order and none is left out. For use within one process.
 */
export function textOf(value: unknown): string {
  used = 0;
  write(value);
  signs.length = used;
  return String.fromCharCode.apply(null, signs);
}

function put(sign: number): void {
  signs[used++] = sign;
}

function write(value: unknown): void {
  if (typeof value === "number") writeNumber(value);
  else if (typeof value === "string") {
    put(WORD);
    writeNumber(numberOf(value));
  } else if (typeof value === "boolean") put(value ? YES : NO);
  else if (value === null) put(NULL);
  else if (typeof value !== "object") put(UNDEFINED);
  else {
    put(START);
    if (Array.isArray(value)) for (let i = 0; i < value.length; i++) write(value[i]);
    else for (const key in value) write((value as Record<string, unknown>)[key]);
    put(END);
  }
}

function writeNumber(value: number): void {
  if (value >= 0 && value <= LARGEST && Number.isInteger(value)) {
    put(ZERO + value);
    return;
  }
  put(NUMBER);
  numbers[0] = value;
  // One by one: V8 may compile a loop here in mid-flight, with what comes after it unknown, and then throws the code away at every number.
  put(bytes[0]!);
  put(bytes[1]!);
  put(bytes[2]!);
  put(bytes[3]!);
  put(bytes[4]!);
  put(bytes[5]!);
  put(bytes[6]!);
  put(bytes[7]!);
}

function numberOf(word: string): number {
  const known = words.get(word);
  if (known !== undefined) return known;
  words.set(word, words.size);
  return words.size - 1;
}
