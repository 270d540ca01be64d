import { sampleRateHz, soundChannels } from '../codec/soundRates';

/** Stereo of 16 bit at 48 kHz as a RIFF WAVE file (Microsoft and IBM, "Multimedia Programming Interface", 1991): PCM, 44 bytes of head. */
export function waveFile(samples: Int16Array): Uint8Array {
  const head = new DataView(new ArrayBuffer(44));
  const text = (at: number, word: string): void =>
    [...word].forEach((sign, i) => head.setUint8(at + i, sign.charCodeAt(0)));
  const frameBytes = soundChannels * 2;
  text(0, 'RIFF');
  head.setUint32(4, 36 + samples.byteLength, true);
  text(8, 'WAVEfmt ');
  head.setUint32(16, 16, true);
  head.setUint16(20, 1, true);
  head.setUint16(22, soundChannels, true);
  head.setUint32(24, sampleRateHz, true);
  head.setUint32(28, sampleRateHz * frameBytes, true);
  head.setUint16(32, frameBytes, true);
  head.setUint16(34, 16, true);
  text(36, 'data');
  head.setUint32(40, samples.byteLength, true);
  const file = new Uint8Array(44 + samples.byteLength);
  file.set(new Uint8Array(head.buffer));
  file.set(new Uint8Array(samples.buffer, samples.byteOffset, samples.byteLength), 44);
  return file;
}
