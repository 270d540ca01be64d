import { filedSize } from '@mellow/core';
import type { Lane, Recipe } from '@mellow/model';
import {
  AV_DISPOSITION_DEFAULT,
  AVCHROMA_LOC_LEFT,
  AVCOL_PRI_BT709,
  AVCOL_TRC_BT709,
  AVFMT_FLAG_CUSTOM_IO,
  AVFMT_FLAG_FLUSH_PACKETS,
  AVMEDIA_TYPE_VIDEO,
  type AVSeekWhence,
} from 'node-av/constants';
import { Dictionary, FFmpegError, FormatContext, IOContext, Packet, Rational, type Stream } from 'node-av/lib';
import { opening, type Owns } from '../shared/disposer';
import { reorderDelayOf } from './decodeTimes';
import { pictureTimescale } from './pictureTimescale';
import { nativeEncoders, nativePixels, trackTag } from '../native/encoderNames';
import { fileTags } from '../native/pictureFrames';
import { tellPictureLevel } from './pictureLevel';
import { requireNative } from '../native/requireNative';
import type { LaneEncoder } from '../sound/laneEncoder';
import { setOptions } from '../native/setOptions';

/** Where the muxer's bytes go. */
export interface ByteSink {
  /** Returns a negative library error, or 0. */
  write(position: number, bytes: Uint8Array): number;
}

export interface FileWriter {
  /** A picture's packet, time stamps in due indices; a negative library error or 0 comes back. */
  writePicture(packet: Packet): number;
  /** Pictures that may not be handed out yet when `writePicture` returns. */
  keepsBack: number;
  writeSound(lane: number, packet: Packet): number;
  /** Position up to which the muxer has handed out bytes that it will not touch before the end. */
  position(): number;
  close(): number;
  /** Gives native memory back in the order the library needs; the thread must not end before. */
  free(): void;
}

/**
 * A container collects so much before it hands bytes out: half a second, since what it has collected is lost with the recorder
 * (`secondsLostIfKilled`).
 */
const formats: Record<Recipe['container'], { name: string; options: Record<string, string> }> = {
  matroska: { name: 'matroska', options: { cluster_time_limit: '500', cluster_size_limit: '67108864' } },
  'fragmented-mp4': {
    name: 'mp4',
    options: { movflags: '+empty_moov+delay_moov+default_base_moof', frag_duration: '500000' },
  },
  mp4: { name: 'mp4', options: {} },
};

/** Opens a container over a byte sink: one picture track, one track for each lane, named. @param continues lanes go on from a part before */
export function openFileWriter(
  recipe: Recipe,
  header: Uint8Array | null,
  lanes: readonly { lane: Lane; encoder: LaneEncoder }[],
  sink: ByteSink,
  continues = false,
): FileWriter {
  return opening((owns, free) => openOwned(recipe, header, lanes, sink, continues, owns, free));
}

function openOwned(
  recipe: Recipe,
  header: Uint8Array | null,
  lanes: readonly { lane: Lane; encoder: LaneEncoder }[],
  sink: ByteSink,
  continues: boolean,
  owns: Owns,
  free: () => void,
): FileWriter {
  const format = formats[recipe.container];
  // The order matters: the context lets go of its bytes before they are given back.
  const io = owns(new IOContext(), (one) => one.freeContext());
  const context = owns(new FormatContext(), (one) => {
    one.pb = null;
    one.freeContext();
  });
  FFmpegError.throwIfError(context.allocOutputContext2(null, format.name, null), 'opening the container');
  let position = 0;
  let end = 0;
  io.allocContextWithCallbacks(
    65_536,
    1,
    null,
    (bytes) => {
      const code = sink.write(position, bytes);
      if (code < 0) return code;
      position += bytes.byteLength;
      end = Math.max(end, position);
      return bytes.byteLength;
    },
    (offset: bigint, whence: AVSeekWhence) => {
      const kind = Number(whence) & ~0x20000;
      if (kind === 0x10000) return BigInt(end);
      position = kind === 1 ? position + Number(offset) : kind === 2 ? end + Number(offset) : Number(offset);
      return BigInt(position);
    },
  );
  context.pb = io;
  context.setFlags(AVFMT_FLAG_CUSTOM_IO, AVFMT_FLAG_FLUSH_PACKETS);
  const picture = addPicture(context, recipe, header);
  const sounds = lanes.map(({ lane, encoder }, i) => addLane(context, recipe, lane, encoder, i === 0, continues));
  const options = { ...format.options };
  // A multiple of the frame rate's own numerator keeps due indices exact.
  if (recipe.container !== 'matroska') options['video_track_timescale'] = String(pictureTimescale(recipe.rate));
  setOptions(context, options);
  FFmpegError.throwIfError(context.writeHeaderSync(null), 'writing the head of the file');
  const dueBase = { num: recipe.rate.den, den: recipe.rate.num };
  const sampleBase = { num: 1, den: 48_000 };
  const write = (packet: Packet, durationDue: bigint): number => {
    packet.streamIndex = picture.index;
    packet.duration = durationDue;
    packet.rescaleTs(dueBase, picture.timeBase);
    return context.writeFrameSync(packet);
  };
  // A fragment tells the length of its last picture, which is known only when the next one comes: gaps make it longer.
  const held = recipe.container === 'fragmented-mp4' ? owns(holdOne(), (one) => one.free()) : null;
  const writeHeld = (nextDts: bigint | null): number => {
    const before = held?.take();
    if (!before) return 0;
    const code = write(before, nextDts === null ? 1n : nextDts - before.dts);
    before.unref();
    return code;
  };
  return {
    keepsBack: held ? 2 : 1,
    writePicture(packet) {
      if (!held) return write(packet, 1n);
      const code = writeHeld(packet.dts);
      held.put(packet);
      return code;
    },
    writeSound(lane, packet) {
      const stream = requireNative(sounds[lane], `lane ${lane}`);
      packet.streamIndex = stream.index;
      packet.rescaleTs(sampleBase, stream.timeBase);
      return context.writeFrameSync(packet);
    },
    position: () => end,
    close() {
      const code = writeHeld(null);
      return code < 0 ? code : context.writeTrailerSync();
    },
    free,
  };
}

/** Room for one packet that waits. */
function holdOne() {
  const kept = new Packet();
  kept.alloc();
  let full = false;
  return {
    put(packet: Packet): void {
      FFmpegError.throwIfError(kept.ref(packet), 'keeping a picture back');
      full = true;
    },
    take(): Packet | null {
      const was = full;
      full = false;
      return was ? kept : null;
    },
    free: () => kept.free(),
  };
}

function addPicture(context: FormatContext, recipe: Recipe, header: Uint8Array | null): Stream {
  const stream = context.newStream(null);
  const parameters = stream.codecpar;
  parameters.codecType = AVMEDIA_TYPE_VIDEO;
  parameters.codecId = nativeEncoders[recipe.encode.encoder].codecId;
  parameters.codecTag = trackTag(recipe);
  const { widthPx, heightPx } = filedSize(recipe);
  parameters.width = widthPx;
  parameters.height = heightPx;
  parameters.format = nativePixels(recipe.encode).format;
  parameters.sampleAspectRatio = new Rational(1, 1);
  tellPictureLevel(parameters, recipe.rate);
  const tags = fileTags(recipe);
  parameters.colorRange = tags.range;
  parameters.colorSpace = tags.matrix;
  parameters.colorPrimaries = AVCOL_PRI_BT709;
  parameters.colorTrc = AVCOL_TRC_BT709;
  parameters.chromaLocation = AVCHROMA_LOC_LEFT;
  parameters.videoDelay = reorderDelayOf(recipe);
  parameters.extradata = header ? Buffer.from(header) : null;
  stream.timeBase = new Rational(recipe.rate.den, recipe.rate.num);
  stream.avgFrameRate = new Rational(recipe.rate.num, recipe.rate.den);
  stream.rFrameRate = new Rational(recipe.rate.num, recipe.rate.den);
  stream.disposition = AV_DISPOSITION_DEFAULT;
  return stream;
}

function addLane(
  context: FormatContext,
  recipe: Recipe,
  lane: Lane,
  encoder: LaneEncoder,
  isDefault: boolean,
  continues: boolean,
): Stream {
  const stream = context.newStream(null);
  FFmpegError.throwIfError(stream.codecpar.fromContext(encoder.context), `lane ${lane.name}`);
  // The packet before the first sample was left out by the lane's encoder.
  if ((lane.codec === 'aac' && recipe.container === 'matroska') || continues) stream.codecpar.initialPadding = 0;
  stream.timeBase = new Rational(1, 48_000);
  stream.metadata = Dictionary.fromObject({ title: lane.name, handler_name: lane.name });
  if (isDefault) stream.disposition = AV_DISPOSITION_DEFAULT;
  return stream;
}
