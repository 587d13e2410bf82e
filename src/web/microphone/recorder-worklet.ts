/* What comes in, block by block, as it is: sent on in pieces, each with the frame at which it begins, so that the page is not woken for every 3 ms. */

declare const registerProcessor: (name: string, processor: unknown) => void;
declare const currentFrame: number;
declare class AudioWorkletProcessor {
  readonly port: MessagePort;
}

const PIECE = 2048;

class Recorder extends AudioWorkletProcessor {
  private samples = new Float32Array(PIECE);
  private frame = 0;
  private at = 0;

  process(inputs: Float32Array[][]): boolean {
    const channels = inputs[0] ?? [];
    const length = channels[0]?.length ?? 0;
    for (let i = 0; i < length; i++) {
      if (this.at === 0) this.frame = currentFrame + i;
      let sum = 0;
      for (const channel of channels) sum += channel[i]!;
      this.samples[this.at++] = sum / channels.length;
      if (this.at < PIECE) continue;
      this.port.postMessage({ samples: this.samples, frame: this.frame }, [this.samples.buffer]);
      this.samples = new Float32Array(PIECE);
      this.at = 0;
    }
    return true;
  }
}

registerProcessor("recorder", Recorder);
