import { AVERROR_EAGAIN, AVERROR_EOF, AVMEDIA_TYPE_VIDEO } from 'node-av/constants';
import { Codec, CodecContext, FFmpegError, Frame, Packet, type FormatContext, type Stream } from 'node-av/lib';
import { requireNative } from '../native/requireNative';

/** The picture track of an opened file. @throws in words where there is none */
export const pictureTrack = (input: FormatContext): Stream =>
  requireNative(
    input.streams.find((stream) => stream.codecpar.codecType === AVMEDIA_TYPE_VIDEO),
    'picture track',
  );

/** A decoder for a track. @param threads 0 leaves the number to the library */
export function openDecoder(stream: Stream, threads: number): CodecContext {
  const codec = requireNative(Codec.findDecoder(stream.codecpar.codecId), 'decoder for this track');
  const decoder = new CodecContext();
  decoder.allocContext3(codec);
  FFmpegError.throwIfError(decoder.parametersToContext(stream.codecpar), 'opening the decoder');
  decoder.threadCount = threads;
  FFmpegError.throwIfError(decoder.open2Sync(codec, null), 'opening the decoder');
  return decoder;
}

/**
 * Decodes a track from where the file stands, in the order of showing. The frame is the same object each time, good until the
 * next is asked for.
 */
export function* decodedPictures(input: FormatContext, stream: Stream, decoder: CodecContext): Generator<Frame> {
  const packet = new Packet();
  packet.alloc();
  const frame = new Frame();
  frame.alloc();
  try {
    for (let ended = false; !ended;) {
      const code = input.readFrameSync(packet);
      ended = code === AVERROR_EOF;
      if (ended) decoder.sendPacketSync(null);
      else {
        FFmpegError.throwIfError(code, 'reading the file');
        if (packet.streamIndex === stream.index) decoder.sendPacketSync(packet);
        packet.unref();
      }
      for (;;) {
        const got = decoder.receiveFrameSync(frame);
        if (got === AVERROR_EAGAIN || got === AVERROR_EOF) break;
        FFmpegError.throwIfError(got, 'decoding');
        yield frame;
        frame.unref();
      }
    }
  } finally {
    packet.free();
    frame.free();
  }
}
