/** Lines over and under a stave that carry signs rather than words. */

/** Whether a line between staves carries signs (counts, strokes, fingers, durations, palm-mute spans) rather than words. */
export function isSigns(text: string): boolean {
  return [isPalmLine, isCountLine, isStrokeLine, isMeterLine, isPluckLine, isLetterLine, isStemLine].some((is) => is(text));
}

export function isPalmLine(text: string): boolean {
  return /^[\sPMpm.\-|_]*$/.test(text) && /P\.?M\.?/i.test(text);
}

/** Meters such as "3/4" over the bars they begin at. */
export function isMeterLine(text: string): boolean {
  return /^\s*\d{1,2}\/\d{1,2}(\s+\d{1,2}\/\d{1,2})*\s*$/.test(text);
}

/** Counts; a line of digits alone may also name the fretting fingers. */
export function isCountLine(text: string): boolean {
  return /^[\s\d&+ea|]*$/.test(text) && /\d/.test(text);
}

export function isStrokeLine(text: string): boolean {
  return /^[\sDUdu|]*$/.test(text) && /[DUdu]/.test(text);
}

/** Plucking fingers, such as "p i m a". */
export function isPluckLine(text: string): boolean {
  return /^[\s|]*[pimac](?:[\s|]+[pimac])*[\s|]*$/.test(text);
}

/** Durations by letters: w h q e s t, a dot for half as long again, a 3 for a triplet. */
export function isLetterLine(text: string): boolean {
  return /^[\s|]*[whqest]\.?3?(?:[\s|]+[whqest]\.?3?)+[\s|]*$/i.test(text);
}

/** Durations by stems: alone a quarter, joined by one line eighths, by a double one sixteenths. */
export function isStemLine(text: string): boolean {
  return /^[\s|_=\-.3]*$/.test(text) && (text.split("|").length > 2 || /\|[_=]|[_=]\|/.test(text));
}
