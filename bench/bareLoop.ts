import { closeSync, fdatasyncSync, openSync, writeSync } from 'node:fs';
import { Packet } from 'node-av/lib';
import { takeOrderSchema } from '@mellow/model';
import { createPicture, practiceScene } from '@mellow/practice';
import { openPictureEncoder } from '../packages/engine/src/encode/pictureEncoder';
import { createNativeFrame, fileTags, fillNativeFrame, freshMemory } from '../packages/engine/src/native/pictureFrames';
import { sourceLayout } from '../packages/engine/src/size/sizer';

/**
 * The least that has to be done with pictures that stand in memory: one loop that copies each into a native frame, sends it
 * to the encoder with the same options and threads, and writes and syncs the packets; no container, no ledger, no threads.
 */
process.once('message', (raw) => {
  const order = takeOrderSchema.parse(raw);
  const { game, recipe } = order;
  const scene = practiceScene(game);
  const layout = sourceLayout(game);
  const frames = Array.from({ length: order.predrawnFrames }, (_, i) => {
    const picture = createPicture(game.widthPx, game.heightPx);
    scene.draw(picture, 240 + i * 2);
    return picture;
  });
  const native = Array.from({ length: 3 }, () => createNativeFrame(game.widthPx, game.heightPx, fileTags(recipe)));
  const encoder = openPictureEncoder(recipe, order.encoderThreads, true);
  const packet = new Packet();
  packet.alloc();
  const file = openSync(order.filePath, 'r+');
  let lastSync = performance.now();
  const drain = () => {
    while (encoder.receive(packet) >= 0) {
      if (packet.data) writeSync(file, packet.data);
      packet.unref();
    }
    if (performance.now() - lastSync > 1000) {
      fdatasyncSync(file);
      lastSync = performance.now();
    }
  };
  const startedMs = performance.now();
  for (let n = 0; n < order.dueFrames; n++) {
    const picture = frames[n % frames.length];
    const frame = native[n % native.length];
    if (!picture || !frame) break;
    freshMemory(frame);
    fillNativeFrame(frame, [picture.y, picture.u, picture.v], layout);
    frame.pts = BigInt(n);
    encoder.send(frame);
    drain();
    if (n % 100 === 0) process.send?.({ done: n, wallUs: null });
  }
  encoder.send(null);
  drain();
  fdatasyncSync(file);
  closeSync(file);
  const wallUs = (performance.now() - startedMs) * 1000;
  process.send?.({ done: order.dueFrames, wallUs }, () => process.exit(0));
});
