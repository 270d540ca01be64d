/** Runs beside the page's own thread: hands on what it hears, interleaved, a hundred times a second. */
declare class AudioWorkletProcessor {
  readonly port: MessagePort;
}
declare function registerProcessor(name: string, processor: typeof AudioWorkletProcessor): void;
declare const sampleRate: number;

class PageSound extends AudioWorkletProcessor {
  private readonly waiting: Float32Array[] = [];
  private count = 0;

  process([input]: Float32Array[][]): boolean {
    const channels = input ?? [];
    const samples = channels[0]?.length ?? 0;
    if (!samples) return true;
    const piece = new Float32Array(samples * channels.length);
    channels.forEach((values, channel) => {
      for (let i = 0; i < samples; i++) piece[i * channels.length + channel] = values[i] ?? 0;
    });
    this.waiting.push(piece);
    this.count += samples;
    if (this.count >= sampleRate / 100) this.send(channels.length);
    return true;
  }

  private send(channels: number): void {
    const all = new Float32Array(this.count * channels);
    let at = 0;
    for (const piece of this.waiting.splice(0)) {
      // A device that changes its number of channels on the way begins anew; what does not fit is left out.
      if (at + piece.length <= all.length) all.set(piece, at);
      at += piece.length;
    }
    this.count = 0;
    this.port.postMessage({ channels, samples: all }, [all.buffer]);
  }
}

registerProcessor('page-sound', PageSound);
