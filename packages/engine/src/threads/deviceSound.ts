import { parentPort, workerData } from 'node:worker_threads';
import { errorText } from '@mellow/core';
import {
  AVMEDIA_TYPE_AUDIO,
  AV_CODEC_ID_PCM_F32LE,
  AV_CODEC_ID_PCM_F64LE,
  AV_CODEC_ID_PCM_S16LE,
  AV_CODEC_ID_PCM_S24LE,
  AV_CODEC_ID_PCM_S32LE,
} from 'node-av/constants';
import { Dictionary, FFmpegError, FormatContext, InputFormat, Packet } from 'node-av/lib';
import type { ChannelPlace } from '@mellow/model';
import { requireNative } from '../native/requireNative';
import { nowUs } from '../shared/monotonic';
import type { DeviceMessage, DeviceOrder } from '../sound/deviceFeed';
import { samplesOfPcm, type PcmKind } from '../sound/pcm';

/** Reads one sound device by the library, and hands its samples on as they come. */
const tell = (message: DeviceMessage): void => parentPort?.postMessage(message);

const kinds = new Map<number, PcmKind>([
  [AV_CODEC_ID_PCM_S16LE, 's16'],
  [AV_CODEC_ID_PCM_S24LE, 's24'],
  [AV_CODEC_ID_PCM_S32LE, 's32'],
  [AV_CODEC_ID_PCM_F32LE, 'f32'],
  [AV_CODEC_ID_PCM_F64LE, 'f64'],
]);

/** The usual order of channels by their number (ITU-R BS.775; WAVEFORMATEXTENSIBLE for seven and eight). */
const usual: Record<number, ChannelPlace[]> = {
  1: ['mono'],
  2: ['front-left', 'front-right'],
  6: ['front-left', 'front-right', 'front-center', 'lfe', 'rear-left', 'rear-right'],
  8: ['front-left', 'front-right', 'front-center', 'lfe', 'rear-left', 'rear-right', 'side-left', 'side-right'],
};

try {
  read(workerData as DeviceOrder);
} catch (error) {
  tell({ type: 'ended', why: errorText(error) });
}

function read({ input: { format, address, options }, stop }: DeviceOrder): void {
  const stopped = new Int32Array(stop);
  const input = new FormatContext();
  const device = requireNative(InputFormat.findInputFormat(format), `${format} devices`);
  FFmpegError.throwIfError(
    input.openInputSync(address, device, Dictionary.fromObject(options)),
    'the device cannot be opened',
  );
  const stream = input.streams?.find(({ codecpar }) => codecpar.codecType === AVMEDIA_TYPE_AUDIO);
  const kind = stream && kinds.get(stream.codecpar.codecId);
  if (!stream || !kind) throw new Error('the device brings no plain samples');
  const { sampleRate, channels } = stream.codecpar;
  const places = usual[channels] ?? Array.from({ length: channels }, (): ChannelPlace => 'other');
  tell({ type: 'begins', format: { rateHz: sampleRate, channels: places } });
  const packet = new Packet();
  packet.alloc();
  while (Atomics.load(stopped, 0) === 0) {
    const code = input.readFrameSync(packet);
    if (code < 0) throw new FFmpegError(code);
    const { data } = packet;
    if (data && packet.streamIndex === stream.index)
      tell({ type: 'samples', samples: samplesOfPcm(data, kind), arrivalUs: nowUs() });
    packet.unref();
  }
  packet.free();
  input.closeInputSync();
}
