import { encoderFacts, plainPracticeGame, startRecipe, withEncoder, errorText } from '@mellow/core';
import type { EncoderProof, MediaJob, Recipe } from '@mellow/model';
import { createPicture, practiceScene } from '@mellow/practice';
import type { Frame } from 'node-av/lib';
import { nativePixels } from '../native/encoderNames';
import { openPictureEncoder } from './pictureEncoder';
import { createNativeFrame, fileTags, fillNativeFrame } from '../native/pictureFrames';
import { pixelLayout, planesOver } from '../native/pixelLayout';
import type { ReadProgress } from '../reading/readBack';
import { createSizer, sourceLayout } from '../size/sizer';
import { timeFrames } from './timeFrames';

const drawnPictures = 12;
const size = { widthPx: 1280, heightPx: 720 };

/**
 * Encodes some frames of the practice game without a clock. A listed encoder proves nothing: only packets do.
 * Processor time is that of this whole process, which does nothing else meanwhile.
 */
export function proveEncoder(job: Extract<MediaJob, { kind: 'prove-encoder' }>, progress: ReadProgress): EncoderProof {
  const start = startRecipe({ purpose: 'long-play', sessionMinutes: 60 }, plainPracticeGame, 'd');
  const base = withEncoder({ ...start, size: { ...start.size, ...size } }, job.encoder);
  const proof: EncoderProof = { works: false, reason: null, ...size, byEffort: {} };
  let pictures: Frame[] = [];
  try {
    pictures = drawPictures(base);
    const efforts = encoderFacts[job.encoder].efforts.length ? job.efforts : (['lightest'] as const);
    for (const effort of efforts) {
      const recipe = { ...base, encode: { ...base.encode, effort } };
      const encoder = openPictureEncoder(recipe, 0, false);
      try {
        proof.byEffort[effort] = timeFrames(encoder, pictures, job.frames, progress);
      } finally {
        encoder.free();
      }
    }
    proof.works = true;
  } catch (error) {
    proof.reason = errorText(error);
  }
  for (const frame of pictures) frame.free();
  return proof;
}

/** Some pictures of the practice game as the encoder takes them. */
function drawPictures(recipe: Recipe): Frame[] {
  const pixels = nativePixels(recipe.encode);
  const from = sourceLayout(size);
  const to = pixelLayout(pixels.name, size.widthPx, size.heightPx, true);
  const target = planesOver(new SharedArrayBuffer(to.bytes), 0, to);
  const scene = practiceScene({ ...plainPracticeGame, ...size });
  const picture = createPicture(size.widthPx, size.heightPx);
  const planes = [picture.y, picture.u, picture.v].map((plane) =>
    Buffer.from(plane.buffer, plane.byteOffset, plane.byteLength),
  );
  const sizer = createSizer(from, to, recipe);
  const frames = Array.from({ length: drawnPictures }, (_, i) => {
    scene.draw(picture, 240 + i * 2);
    sizer.run(planes, target);
    const frame = createNativeFrame(size.widthPx, size.heightPx, fileTags(recipe), pixels.format);
    fillNativeFrame(frame, target, to);
    return frame;
  });
  sizer.free();
  return frames;
}
