/* What comes in, block by block, as it is: sent on in pieces, so that the page is not woken for every 3 ms. */

declare const registerProcessor: (name: string, processor: unknown) => void;
declare class AudioWorkletProcessor {
  readonly port: MessagePort;
}

const PIECE = 2048;

class Recorder extends AudioWorkletProcessor {
  private piece = new Float32Array(PIECE);
  private at = 0;

  process(inputs: Float32Array[][]): boolean {
    const channels = inputs[0] ?? [];
    const length = channels[0]?.length ?? 0;
    for (let i = 0; i < length; i++) {
      let sum = 0;
      for (const channel of channels) sum += channel[i]!;
      this.piece[this.at++] = sum / channels.length;
      if (this.at < PIECE) continue;
      this.port.postMessage(this.piece, [this.piece.buffer]);
      this.piece = new Float32Array(PIECE);
      this.at = 0;
    }
    return true;
  }
}

registerProcessor("recorder", Recorder);
