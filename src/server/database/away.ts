/** Classes of PostgreSQL's error codes (appendix A of its manual), and single codes, that tell of the database and not of what was asked. */
const TELLING: readonly [RegExp, string][] = [
  [/^53100$/, "the disk of the database is full"],
  [/^53300$/, "the database has no connection left"],
  [/^53/, "the database lacks room to work"],
  [/^57014$/, "the database took too long"],
  [/^(57P0[1-5]|08)/, "the database is being restarted or is away"],
  [/^(40001|40P01|55P03)$/, "others were writing the same just now"],
  [/^25006$/, "the database can only be read just now"],
  [/^(ECONN|EPIPE|ENOTFOUND|EAI_AGAIN|ETIMEDOUT|ENOENT)/, "the database does not answer"],
];

/** What the driver says without a code. */
const SAYINGS: readonly [RegExp, string][] = [
  [/timeout exceeded when trying to connect|connection timeout/i, "the database does not answer"],
  [/connection terminated|connection ended|client has encountered a connection error|cannot use a pool after/i, "the database is being restarted or is away"],
];

/** Why the database could not do what was asked though another time it may, in words that go on after "because"; null for any other fault. */
export function whyAway(error: unknown): string | null {
  for (let one = error; one instanceof Error; one = one.cause) {
    const { code, message } = one as NodeJS.ErrnoException;
    const why = (code && TELLING.find(([pattern]) => pattern.test(code))?.[1]) || SAYINGS.find(([pattern]) => pattern.test(message))?.[1];
    if (why) return why;
  }
  return null;
}
