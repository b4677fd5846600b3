/** Runs in the sound thread of the browser: puts what comes in to one channel and hands it on, block by block. */
interface Processor {
  readonly port: MessagePort;
}
declare const AudioWorkletProcessor: new () => Processor;
declare function registerProcessor(name: string, processor: unknown): void;

/** Samples handed on at once: about 12 ms. */
const BLOCK = 512;

class Tap extends AudioWorkletProcessor {
  #block = new Float32Array(BLOCK);
  #at = 0;

  process(inputs: readonly (readonly Float32Array[])[]): boolean {
    const channels = inputs[0] ?? [];
    const length = channels[0]?.length ?? 0;
    for (let i = 0; i < length; i++) {
      let sum = 0;
      for (const channel of channels) sum += channel[i]!;
      this.#block[this.#at++] = sum / channels.length;
      if (this.#at < BLOCK) continue;
      this.port.postMessage(this.#block, [this.#block.buffer]);
      this.#block = new Float32Array(BLOCK);
      this.#at = 0;
    }
    return true;
  }
}
registerProcessor('tap', Tap);
