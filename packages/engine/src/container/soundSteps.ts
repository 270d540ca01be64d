import { AV_CODEC_ID_AAC, AV_CODEC_ID_FLAC, AV_CODEC_ID_OPUS, AV_CODEC_ID_PCM_S16LE } from 'node-av/constants';
import type { Packet, Stream } from 'node-av/lib';

/** Frame lengths of Opus by the upper five bits of a packet's first byte, in samples at 48 kHz (RFC 6716, section 3.1). */
const opusFrames = [480, 960, 1920, 2880, 480, 960, 1920, 2880, 480, 960, 1920, 2880, 480, 960, 480, 960];

function opusSamples(data: Uint8Array): number {
  const first = data[0] ?? 0;
  const config = first >> 3;
  const each = config < 16 ? (opusFrames[config] ?? 960) : ([120, 240, 480, 960][config & 3] ?? 960);
  const frames = [1, 2, 2, (data[1] ?? 1) & 63][first & 3] ?? 1;
  return each * frames;
}

/** Samples of a FLAC frame from its own head (RFC 9639, section 9.1.1 and 9.1.6); null where it follows the stream's. */
export function flacSamples(data: Uint8Array): number | null {
  const code = (data[2] ?? 0) >> 4;
  if (code === 1) return 192;
  if (code >= 2 && code <= 5) return 576 << (code - 2);
  if (code >= 8) return 256 << (code - 8);
  if (code !== 6 && code !== 7) return null;
  // The coded number before it is 1 to 7 bytes long, as in UTF-8.
  const lead = data[4] ?? 0;
  let length = 1;
  for (let bit = 0x80; lead >= 0xc0 && lead & bit; bit >>= 1) length = bit === 0x80 ? 1 : length + 1;
  const at = 4 + length;
  return code === 6 ? (data[at] ?? 0) + 1 : (((data[at] ?? 0) << 8) | (data[at + 1] ?? 0)) + 1;
}

/**
 * Samples a packet of sound decodes to; containers that keep milliseconds cannot tell it exactly.
 * @returns null where the codec is not one of ours
 */
export function samplesIn(stream: Stream, packet: Packet): number | null {
  const { codecId, channels } = stream.codecpar;
  const data = packet.data;
  if (codecId === AV_CODEC_ID_AAC) return 1024;
  if (!data) return null;
  if (codecId === AV_CODEC_ID_PCM_S16LE) return data.length / (2 * Math.max(1, channels));
  if (codecId === AV_CODEC_ID_OPUS) return opusSamples(data);
  if (codecId === AV_CODEC_ID_FLAC) return flacSamples(data);
  return null;
}

/** Gives the packets of one lane times on its own sample clock; where the file really has a gap, the gap stays. */
export function soundClock(sampleRateHz: number) {
  const toleranceSamples = sampleRateHz / 200;
  let next: number | null = null;
  return {
    /** @param toldSamples the container's time, rounded to its own ticks. @returns the packet's time in samples */
    at(toldSamples: number, samples: number): number {
      const time: number =
        next !== null && Math.abs(next - toldSamples) <= toleranceSamples ? next : Math.round(toldSamples);
      next = time + samples;
      return time;
    },
  };
}
