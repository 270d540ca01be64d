import { createHash, type Hash } from 'node:crypto';
import {
  AV_CODEC_ID_FLAC,
  AV_CODEC_ID_PCM_S16LE,
  AVERROR_EAGAIN,
  AVERROR_EOF,
  AVMEDIA_TYPE_VIDEO,
} from 'node-av/constants';
import { FFmpegError, Frame, Packet, type Stream } from 'node-av/lib';
import { createDisposer } from '../shared/disposer';
import { openDecoder } from './decodedPictures';

/** Of a group so many packets are decoded at most. */
const packetsOfGroup = 24;

/** What came out of a decoder for some groups of packets of one track, each as a hash. */
export interface DecodedSamples {
  /** Takes the track's next packet; it is copied where it is needed. */
  packet(packet: Packet): void;
  /** @returns a hash for each group that was decoded, the last of the track among them */
  end(): string[];
  free(): void;
}

/**
 * Decodes the first group of pictures of a track, the second, the fourth, the eighth and so on, and the last: what describes the
 * packets has to fit them all along, and a file of many hours is proved in little more time than reading it takes. Of a lane the
 * packets are taken in groups of as many.
 * @throws where no decoder takes what the track says it is
 */
export function decodedSamples(stream: Stream): DecodedSamples {
  const { owns, dispose } = createDisposer();
  const isPicture = stream.codecpar.codecType === AVMEDIA_TYPE_VIDEO;
  const hashes: string[] = [];
  let group: Packet[] = [];
  let began = -1;
  let packets = 0;
  owns(null, () => clear());

  function clear(): void {
    for (const packet of group.splice(0)) packet.free();
  }
  const isPowerOfTwo = (n: number): boolean => (n & (n - 1)) === 0;
  const isSampled = (): boolean => began >= 0 && isPowerOfTwo(began);

  function decode(): void {
    if (!group.length) return;
    hashes.push(hashOf(stream, group));
    clear();
  }

  return {
    packet(packet) {
      const begins = isPicture ? packet.isKeyframe : packets % packetsOfGroup === 0;
      packets++;
      if (begins) {
        if (isSampled()) decode();
        else clear();
        began++;
        group = [];
      }
      if (began < 0 || group.length >= packetsOfGroup) return;
      const own = new Packet();
      own.alloc();
      FFmpegError.throwIfError(own.ref(packet), 'keeping a packet');
      group.push(own);
    },
    end() {
      decode();
      return hashes;
    },
    free: dispose,
  };
}

/** Decodes packets that stand alone, by a decoder of their own. @throws in words where they cannot be decoded */
function hashOf(stream: Stream, packets: readonly Packet[]): string {
  const { owns, dispose } = createDisposer();
  const hash = createHash('sha256');
  const { codecType, codecId } = stream.codecpar;
  const exact = codecType === AVMEDIA_TYPE_VIDEO || codecId === AV_CODEC_ID_FLAC || codecId === AV_CODEC_ID_PCM_S16LE;
  try {
    const decoder = owns(openDecoder(stream, 1), (one) => one.freeContext());
    const frame = owns(new Frame(), (one) => one.free());
    frame.alloc();
    let frames = 0;
    const drain = (): void => {
      for (;;) {
        const code = decoder.receiveFrameSync(frame);
        if (code === AVERROR_EAGAIN || code === AVERROR_EOF) return;
        FFmpegError.throwIfError(code, 'decoding');
        frames++;
        addFrame(hash, frame, exact);
        frame.unref();
      }
    };
    for (const packet of packets) {
      FFmpegError.throwIfError(decoder.sendPacketSync(packet), 'decoding');
      drain();
    }
    decoder.sendPacketSync(null);
    drain();
    if (frames === 0) throw new Error('nothing comes out of its decoder');
    return hash.digest('hex');
  } finally {
    dispose();
  }
}

/** Sizes, kind of pixels or samples, and every byte that is shown or heard; what lies beside a line is none of it. */
function addFrame(hash: Hash, frame: Frame, exact: boolean): void {
  hash.update(`${frame.width}x${frame.height} ${frame.format} ${frame.sampleRate};`);
  // Containers say in different ways what a lossy lane has before its first sample: what is decoded there differs, and is not heard.
  if (exact) hash.update(frame.toBuffer());
}
