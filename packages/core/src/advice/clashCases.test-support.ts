import type { Recipe } from '@mellow/model';
import { camera, display, encode, from, lanes, rate, size, software, type Case } from './ruleCaseParts.test-support';

const striped = (r: Recipe): Recipe => ({
  ...r,
  parts: { by: 'striped', shares: 'by-speed' },
  nextDriveIds: ['kestrel-barn'],
});

/** For each clash a recipe that has it, and one beside it that has not. */
export const clashCases: Record<string, { fires: Case; quiet?: Case }> = {
  'odd-size': { fires: [{}, size(1919, 1080)] },
  'source-sound': { fires: [{}, (r) => ({ ...r, source: display })], quiet: [{}, from(display)] },
  'encoder-cannot': {
    fires: [{}, encode({ rateControl: 'lossless' })],
    quiet: [{}, software, encode({ rateControl: 'lossless' })],
  },
  'encoder-rate': {
    fires: [{}, encode({ encoder: 'av1-software' }), rate(300)],
    quiet: [{}, encode({ encoder: 'av1-software' }), rate(240)],
  },
  'sound-in-container': { fires: [{}, lanes('pcm'), (r) => ({ ...r, container: 'mp4' })], quiet: [{}, lanes('pcm')] },
  'rewrap-cannot': {
    fires: [{}, lanes('pcm'), (r) => ({ ...r, rewrap: true })],
    quiet: [{}, (r) => ({ ...r, rewrap: true })],
  },
  'b-frames-low-delay': {
    fires: [{}, encode({ bFrames: 2, lowDelay: true })],
    quiet: [{}, encode({ lowDelay: true })],
  },
  'baseline-b-frames': {
    fires: [{}, software, encode({ profile: 'baseline', bFrames: 2 })],
    quiet: [{}, software, encode({ profile: 'main', bFrames: 2 })],
  },
  'ceiling-below-mean': {
    fires: [{}, encode({ rateControl: 'variable-bitrate', bitrateKbps: 20_000, ceilingKbps: 9000 })],
    quiet: [{}, encode({ rateControl: 'variable-bitrate' })],
  },
  'unsafe-mp4': {
    fires: [{}, (r) => ({ ...r, container: 'mp4' })],
    quiet: [{}, (r) => ({ ...r, container: 'fragmented-mp4' })],
  },
  'camera-too-wide': {
    fires: [{ game: { widthPx: 3840, heightPx: 2160 } }, size(7680, 4320), camera({ where: 'beside' })],
    quiet: [{}, camera({ where: 'beside' })],
  },
  'parts-open-groups': {
    fires: [{}, encode({ closedGroups: false, bFrames: 2 }), (r) => ({ ...r, parts: { by: 'length', minutes: 5 } })],
    quiet: [{}, encode({ bFrames: 2 }), (r) => ({ ...r, parts: { by: 'length', minutes: 5 } })],
  },
  'stripes-plain-mp4': {
    fires: [{}, striped, (r) => ({ ...r, container: 'mp4' })],
    quiet: [{}, striped],
  },
  'stripes-one-folder': { fires: [{}, striped, (r) => ({ ...r, nextDriveIds: [] })], quiet: [{}, striped] },
  'lane-of-nothing': { fires: [{}, (r) => ({ ...r, sounds: r.sounds.filter(({ id }) => id !== 'voice') })] },
};
