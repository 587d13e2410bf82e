/** Noise of all pitches, so many dB below the music. */
export function withNoise(samples: Float32Array, db: number, random: () => number): void {
  let power = 0;
  for (const sample of samples) power += sample * sample;
  const level = Math.sqrt(power / samples.length) * 10 ** (-db / 20);
  // Even noise between -1 and 1 has a third of power.
  for (let i = 0; i < samples.length; i++) samples[i]! += (2 * random() - 1) * level * Math.sqrt(3);
}

/** Echoes of a room in ms: primes between, so that no pitch is favoured; the walls swallow the high ones (a feedback delay network). */
const WALLS_MS = [23, 29, 37, 43] as const;
/** How much of what is heard is the room. */
const WET = 0.25;

/** The same in a room whose echo has fallen by 60 dB after so many seconds. */
export function inRoom(samples: Float32Array, sampleRate: number, seconds: number, random: () => number): Float32Array {
  const lines = WALLS_MS.map((ms) => {
    const length = Math.max(1, Math.round(((ms + 2 * random()) * sampleRate) / 1000));
    return { buffer: new Float32Array(length), at: 0, keeps: 10 ** ((-3 * length) / sampleRate / seconds), damped: 0 };
  });
  const out = new Float32Array(samples.length);
  for (let i = 0; i < samples.length; i++) {
    let sum = 0;
    for (const line of lines) sum += line.buffer[line.at]!;
    out[i] = samples[i]! + WET * sum;
    for (const line of lines) {
      // Householder mixing: nothing is added to what goes round.
      const back = line.buffer[line.at]! - sum / 2;
      line.damped += 0.6 * (back - line.damped);
      line.buffer[line.at] = samples[i]! + line.damped * line.keeps;
      line.at = (line.at + 1) % line.buffer.length;
    }
  }
  return out;
}
