import { sampleRateHz, soundChannels } from '@mellow/core';
import type { Container, Lane, SoundCodec } from '@mellow/model';
import {
  AV_CODEC_FLAG_GLOBAL_HEADER,
  AV_SAMPLE_FMT_FLT,
  AV_SAMPLE_FMT_FLTP,
  AV_SAMPLE_FMT_S16,
  AV_CHANNEL_LAYOUT_STEREO,
  AVERROR_EAGAIN,
  AVERROR_EOF,
  type AVSampleFormat,
} from 'node-av/constants';
import { Codec, CodecContext, FFmpegError, Frame, Packet, Rational } from 'node-av/lib';
import { requireNative } from '../native/requireNative';

const codecs: Record<SoundCodec, { name: 'flac' | 'pcm_s16le' | 'aac' | 'libopus'; format: AVSampleFormat }> = {
  flac: { name: 'flac', format: AV_SAMPLE_FMT_S16 },
  pcm: { name: 'pcm_s16le', format: AV_SAMPLE_FMT_S16 },
  aac: { name: 'aac', format: AV_SAMPLE_FMT_FLTP },
  opus: { name: 'libopus', format: AV_SAMPLE_FMT_FLT },
};

export interface LaneEncoder {
  context: CodecContext;
  /** Interleaved stereo in -1..1 goes in; packets go out to `take`, valid during the call. */
  add(samples: Float32Array, take: (packet: Packet) => void): void;
  flush(take: (packet: Packet) => void): void;
  free(): void;
}

/**
 * Opens the encoder of one lane; time base 1/48 000, time stamps are sample indices. AAC begins with a packet from before
 * the first sample. MP4 says so and readers leave it out; Matroska would begin at -21 ms, and programs that copy from it
 * move every picture: there the packet is left out, and the first 21 ms fade in.
 * @param fromSample where in the lane it begins; one that goes on from another leaves its packet before that out as well
 */
export function openLaneEncoder(lane: Lane, container: Container, fromSample = 0): LaneEncoder {
  const { name, format } = codecs[lane.codec];
  const codec = requireNative(Codec.findEncoderByName(name as never), `${name} encoder`);
  const context = new CodecContext();
  context.allocContext3(codec);
  context.sampleRate = sampleRateHz;
  context.sampleFormat = format;
  context.channelLayout = AV_CHANNEL_LAYOUT_STEREO;
  context.timeBase = new Rational(1, sampleRateHz);
  if (lane.codec === 'aac' || lane.codec === 'opus') context.bitRate = BigInt(lane.bitrateKbps) * 1000n;
  context.setFlags(AV_CODEC_FLAG_GLOBAL_HEADER);
  FFmpegError.throwIfError(context.open2Sync(codec, null), `opening the encoder of lane ${lane.name}`);
  const dropsPriming = fromSample > 0 || (lane.codec === 'aac' && container === 'matroska');
  const chunk = context.frameSize > 0 ? context.frameSize : 1024;
  const waiting = new Float32Array(chunk * soundChannels);
  const packet = new Packet();
  packet.alloc();
  let filled = 0;
  let position = fromSample;

  const drain = (take: (packet: Packet) => void): void => {
    for (;;) {
      const code = context.receivePacketSync(packet);
      if (code === AVERROR_EAGAIN || code === AVERROR_EOF) return;
      FFmpegError.throwIfError(code, 'encoding sound');
      if (!dropsPriming || packet.pts >= BigInt(fromSample)) take(packet);
      packet.unref();
    }
  };
  // One frame for all: what the library makes for each is given back when the event loop turns, which a thread of a take never does.
  const frame = new Frame();
  frame.alloc();
  let planes = giveMemory(frame, format, chunk);
  const send = (count: number, take: (packet: Packet) => void): void => {
    if (!frame.isWritable || frame.nbSamples !== count) {
      frame.unref();
      planes = giveMemory(frame, format, count);
    }
    fillSamples(planes, waiting, count);
    frame.pts = BigInt(position);
    position += count;
    FFmpegError.throwIfError(context.sendFrameSync(frame), 'encoding sound');
    drain(take);
  };
  return {
    context,
    add(samples, take) {
      let at = 0;
      while (at < samples.length) {
        const part = samples.subarray(at, Math.min(samples.length, at + waiting.length - filled));
        waiting.set(part, filled);
        filled += part.length;
        at += part.length;
        if (filled === waiting.length) {
          send(chunk, take);
          filled = 0;
        }
      }
    },
    flush(take) {
      if (filled > 0) send(filled / soundChannels, take);
      FFmpegError.throwIfError(context.sendFrameSync(null), 'closing sound');
      drain(take);
    },
    free() {
      packet.free();
      frame.free();
      context.freeContext();
    },
  };
}

type Samples = Int16Array | Float32Array;

/** Room for so many samples of stereo: the frame's own planes, as what lies in them. */
function giveMemory(frame: Frame, format: AVSampleFormat, count: number): Samples[] {
  frame.format = format;
  frame.nbSamples = count;
  frame.sampleRate = sampleRateHz;
  frame.channelLayout = AV_CHANNEL_LAYOUT_STEREO;
  FFmpegError.throwIfError(frame.getBuffer(0), 'memory for sound');
  const planar = format === AV_SAMPLE_FMT_FLTP;
  const values = planar ? count : count * soundChannels;
  return requireNative(frame.data, 'memory in a sound frame')
    .slice(0, planar ? soundChannels : 1)
    .map(({ buffer, byteOffset }) =>
      format === AV_SAMPLE_FMT_S16
        ? new Int16Array(buffer, byteOffset, values)
        : new Float32Array(buffer, byteOffset, values),
    );
}

/** Puts interleaved samples into planes: each channel into its own where there are as many. */
function fillSamples(planes: readonly Samples[], samples: Float32Array, count: number): void {
  const step = planes.length;
  planes.forEach((plane, channel) => {
    if (plane instanceof Int16Array)
      for (let i = 0; i < count * soundChannels; i++)
        plane[i] = Math.max(-32768, Math.min(32767, Math.round((samples[i] ?? 0) * 32767)));
    else if (step === 1) plane.set(samples.subarray(0, count * soundChannels));
    else for (let i = 0; i < count; i++) plane[i] = samples[i * soundChannels + channel] ?? 0;
  });
}
