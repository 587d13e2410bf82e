/** A size as players read it. */
export function megabytes(bytes: number): string {
  return `${bytes < 1e6 ? (bytes / 1e6).toFixed(1) : Math.round(bytes / 1e6)} MB`;
}
