import { clashCases } from './clashCases.test-support';
import {
  camera,
  encode,
  size,
  rate,
  lanes,
  drive,
  software,
  drives,
  trialLoads,
  desk,
  heard,
  display,
  windowOf,
  from,
  type Case,
} from './ruleCaseParts.test-support';
import { kestrel, wren } from '../machine';

/** For each rule a case in which it fires; it has to be quiet on the good setup, or on the second case where one stands. */
export const cases: Record<string, { fires: Case; quiet?: Case }> = {
  ...clashCases,
  'screen-of-another': {
    fires: [{ context: { machine: { ...kestrel, origin: 'simulated' } } }, from(display)],
    quiet: [{ context: { machine: { ...kestrel, origin: 'measured' } } }, from(display)],
  },
  'sound-of-another': {
    fires: [{ context: { machine: { ...kestrel, origin: 'simulated' } } }, heard(desk)],
    quiet: [{ context: { machine: { ...kestrel, origin: 'measured' } } }, heard(desk)],
  },
  'kept-muted': { fires: [{}, heard({ ...desk, muted: true })], quiet: [{}, heard(desk)] },
  'whole-display': { fires: [{}, from(display)], quiet: [{}, from(windowOf)] },
  'full-screen-window': {
    fires: [{ facts: { windowMode: 'full-screen' } }, from(windowOf)],
    quiet: [{ facts: { windowMode: 'borderless' } }, from(windowOf)],
  },
  'strict-anti-cheat': {
    fires: [{ facts: { antiCheat: 'strict' } }, from(windowOf)],
    quiet: [{ facts: { antiCheat: 'usual' } }, from(windowOf)],
  },
  'above-level': {
    fires: [{}, rate(240)],
    quiet: [{}, rate(120)],
  },
  stretched: {
    fires: [{ game: { widthPx: 1024, heightPx: 768 } }, size(1280, 720, { fit: 'stretch' })],
    quiet: [{}, size(1600, 900, { fit: 'stretch' })],
  },
  bars: { fires: [{ game: { widthPx: 2560, heightPx: 1080 } }, size(1920, 1080, { fit: 'bars' })] },
  'edges-cut': {
    fires: [{ game: { widthPx: 2560, heightPx: 1080 } }, size(1920, 1080, { fit: 'fill' })],
    quiet: [{}, size(1280, 720, { fit: 'fill' })],
  },
  enlarged: { fires: [{ game: { widthPx: 1280, heightPx: 720 } }, size(1920, 1080)] },
  'nearly-own-size': { fires: [{}, size(1830, 1030)], quiet: [{}, size(1280, 720)] },
  'more-than-shown': { fires: [{ brief: { shownLines: 720 } }, size(1920, 1080)] },
  'text-too-small': {
    fires: [{ facts: { smallTextPx: 12 } }, size(1280, 720)],
    quiet: [{ facts: { smallTextPx: 14 } }, size(1280, 720)],
  },
  'quarter-pixels': { fires: [{}, size(960, 540)], quiet: [{}, size(1600, 900)] },
  'hard-edges': {
    fires: [{}, size(1280, 720, { filter: 'nearest' })],
    quiet: [{}, size(960, 540, { filter: 'nearest' })],
  },
  'other-display-shape': { fires: [{ game: { widthPx: 2560, heightPx: 1080 } }, size(2560, 1080)] },
  'lines-not-there': { fires: [{ brief: { shownLines: 2160 } }], quiet: [{ brief: { shownLines: 1080 } }] },
  'game-size-changed': {
    fires: [{ ...trialLoads({ gameSize: { widthPx: 1280, heightPx: 720 } }) }],
    quiet: [trialLoads()],
  },
  'full-range': {
    fires: [{}, encode({ range: 'full' })],
    quiet: [{ brief: { purpose: 'master' } }, encode({ range: 'full' })],
  },
  'game-slower': { fires: [{ game: { capFps: 40 } }, rate(60)], quiet: [{ game: { capFps: 60 } }] },
  'uneven-steps': { fires: [{ game: { capFps: 144 }, facts: { freeFps: 200 } }], quiet: [{ game: { capFps: 120 } }] },
  'variable-refresh': {
    fires: [{ facts: { limiters: ['variable refresh'] } }],
    quiet: [{ facts: { limiters: ['sync to the display'] } }],
  },
  'cap-equals-rate': {
    fires: [{ game: { capFps: 60 } }],
    quiet: [{ game: { capFps: 60 }, facts: { freeFps: 58 } }],
  },
  'frames-not-kept': {
    fires: [{ game: { capFps: null }, facts: { freeFps: 200 } }],
    quiet: [{ game: { capFps: null }, facts: { freeFps: 110 } }],
  },
  'more-fps-than-shown': {
    fires: [{ brief: { shownFps: 30 } }, rate(60)],
    quiet: [{ brief: { shownFps: 30, purpose: 'slow-motion' } }, rate(60)],
  },
  'mains-family': {
    fires: [{ brief: { destination: 'broadcaster', mainsHz: 50 } }, rate(60)],
    quiet: [{ brief: { destination: 'broadcaster', mainsHz: 50 } }, rate(50)],
  },
  'fractional-rate': {
    fires: [{}, rate(30_000, 1001)],
    quiet: [{ brief: { destination: 'broadcaster' } }, rate(30_000, 1001)],
  },
  'motion-at-30': { fires: [{}, rate(30)], quiet: [{ facts: { motion: 'calm' } }, rate(30)] },
  'calm-at-60': { fires: [{ facts: { motion: 'calm' } }, rate(60)] },
  'slow-motion-short': {
    fires: [{ brief: { purpose: 'slow-motion', slowPercent: 25 } }, rate(120)],
    quiet: [{ brief: { purpose: 'slow-motion', slowPercent: 50 } }, rate(120)],
  },
  'below-25': { fires: [{}, rate(20)], quiet: [{}, rate(24_000, 1001)] },
  'high-rate-page': { fires: [{}, rate(120)] },
  limiters: {
    fires: [{ facts: { limiters: ['battery saving'] } }],
    quiet: [{ facts: { limiters: ['sync to the display'] } }],
  },
  'display-sync': { fires: [{ facts: { limiters: ['sync to the display'] } }] },
  'rate-unknown': { fires: [{ facts: { freeFps: null } }] },
  'motion-unknown': { fires: [{ facts: { motion: null } }] },
  'encoder-not-here': { fires: [{}, encode({ encoder: 'av1-card' })], quiet: [{}, encode({ encoder: 'hevc-card' })] },
  'block-idle': { fires: [{}, software], quiet: [{ context: { machine: wren } }, software] },
  'card-is-full': { fires: [{ game: { capFps: null } }] },
  'encode-over': {
    fires: [{ context: { machine: wren } }, encode({ encoder: 'avc-software', effort: 'most-thorough' })],
    quiet: [{}, software],
  },
  'quality-too-fine': {
    fires: [{}, encode({ quality: 8 })],
    quiet: [{ brief: { purpose: 'master' } }, encode({ quality: 8 })],
  },
  'quality-coarse': { fires: [{}, encode({ quality: 32 })] },
  'bitrate-low': {
    fires: [{}, encode({ rateControl: 'variable-bitrate', bitrateKbps: 400 })],
    quiet: [{}, encode({ rateControl: 'variable-bitrate', bitrateKbps: 9000 })],
  },
  'bitrate-high': {
    fires: [{}, encode({ rateControl: 'variable-bitrate', bitrateKbps: 60_000, ceilingKbps: 90_000 })],
  },
  'constant-bitrate-waste': {
    fires: [{}, encode({ rateControl: 'constant-bitrate' })],
    quiet: [{}, encode({ rateControl: 'variable-bitrate' })],
  },
  'lossless-to-publish': {
    fires: [{}, software, encode({ rateControl: 'lossless' })],
    quiet: [{ brief: { purpose: 'master' } }, software, encode({ rateControl: 'lossless' })],
  },
  'all-colours': { fires: [{}, software, encode({ pixels: '4:4:4' })], quiet: [{}, software] },
  'ten-bits': { fires: [{}, software, encode({ pixels: '4:2:0-10' })], quiet: [{}, software] },
  'encoder-priority': {
    fires: [{}, software, (r) => ({ ...r, priority: 'above' })],
    quiet: [{}, encode({ encoder: 'avc-card' }), (r) => ({ ...r, priority: 'above' })],
  },
  'colours-not-there': { fires: [{ brief: { purpose: 'master' } }, software, encode({ pixels: 'rgb' })] },
  'keys-far': {
    fires: [{ brief: { editor: 'old' } }, encode({ keyDistanceFrames: 120 })],
    quiet: [{ brief: { editor: 'old' } }, encode({ keyDistanceFrames: 30 })],
  },
  'keys-near': {
    fires: [{}, encode({ keyDistanceFrames: 15 })],
    quiet: [{ brief: { editor: 'old' } }, encode({ keyDistanceFrames: 15 })],
  },
  'open-groups': {
    fires: [{ brief: { editor: 'mp4' } }, encode({ closedGroups: false })],
    quiet: [{}, encode({ closedGroups: false })],
  },
  'old-profile': {
    fires: [{}, software, encode({ profile: 'main' })],
    quiet: [{ brief: { editor: 'old' } }, software, encode({ profile: 'main' })],
  },
  'few-threads': {
    fires: [{ context: { machine: wren } }, encode({ encoder: 'avc-software', effort: 'middle', threads: 1 })],
    quiet: [{}, software, encode({ threads: 1 })],
  },
  'editor-knows-avc': {
    fires: [{ brief: { editor: 'old' } }, encode({ encoder: 'hevc-card' })],
    quiet: [{}, encode({ encoder: 'hevc-card' })],
  },
  'not-in-browser': { fires: [{}, encode({ encoder: 'hevc-card' })] },
  'effort-to-spare': {
    fires: [{ brief: { matters: ['small-files', 'game', 'safety', 'picture'] } }, encode({ effort: 'lightest' })],
    quiet: [{}, encode({ effort: 'lightest' })],
  },
  'newer-standard': { fires: [{ brief: { matters: ['small-files', 'game', 'safety', 'picture'] } }], quiet: [{}] },
  'thirsty-b-frames': {
    fires: [{ context: { machine: wren } }, encode({ encoder: 'avc-software', effort: 'thorough', bFrames: 2 })],
    quiet: [{}, encode({ bFrames: 2 })],
  },
  'camera-wanted': { fires: [{ brief: { camera: 'beside' } }], quiet: [{ brief: { camera: 'beside' } }, camera({})] },
  'camera-beside': { fires: [{}, camera({ where: 'beside' })], quiet: [{}, camera({})] },
  'camera-over': { fires: [{}, camera({})], quiet: [{}, camera({ where: 'own-file' })] },
  'camera-stand-in': {
    fires: [{}, camera({})],
    quiet: [{}, camera({ from: { kind: 'device', device: '/dev/video0', name: 'Desk camera' } })],
  },
  'camera-of-another': {
    fires: [{ context: { machine: wren } }, camera({ from: { kind: 'device', device: '/dev/video0', name: 'Desk' } })],
    quiet: [{ context: { machine: wren } }, camera({})],
  },
  'editor-wants-mp4': {
    fires: [{ brief: { editor: 'mp4' } }, (r) => ({ ...r, rewrap: false })],
    quiet: [{ brief: { editor: 'mp4' } }, (r) => ({ ...r, rewrap: true })],
  },
  'rewrap-of-mp4': {
    fires: [{}, (r) => ({ ...r, container: 'mp4', rewrap: true })],
    quiet: [{}, (r) => ({ ...r, rewrap: true })],
  },
  'no-sound': { fires: [{}, (r) => ({ ...r, lanes: [] })] },
  'voice-mixed': { fires: [{}, lanes('flac')], quiet: [{ brief: { soundLayout: 'mix' } }, lanes('flac')] },
  'chat-mixed': { fires: [{ brief: { soundLayout: 'every-source' } }, lanes('flac', 'flac')] },
  'chat-kept': { fires: [{ facts: { extras: ['voice chat'] } }] },
  'first-lane-part': { fires: [{}, (r) => ({ ...r, lanes: r.lanes.toReversed() })] },
  'aac-on-few-cores': {
    fires: [
      { context: { machine: { ...wren, cores: 2 } } },
      encode({ encoder: 'avc-software' }),
      lanes('aac', 'aac', 'aac'),
    ],
    quiet: [{}, lanes('aac', 'aac', 'aac')],
  },
  'many-lanes': {
    fires: [{}, lanes('flac', 'flac', 'flac', 'flac', 'flac')],
    quiet: [{}, lanes('flac', 'flac', 'flac', 'flac')],
  },
  'thin-sound': {
    fires: [{}, (r) => ({ ...r, lanes: r.lanes.map((l) => ({ ...l, codec: 'aac' as const, bitrateKbps: 64 })) })],
    quiet: [{}, lanes('aac', 'aac')],
  },
  'pcm-larger': { fires: [{}, lanes('pcm', 'flac')] },
  'lossy-master': { fires: [{ brief: { purpose: 'master' } }, lanes('aac')], quiet: [{}, lanes('aac')] },
  'background-sound': { fires: [{ facts: { extras: ['browser'] } }] },
  'no-drive': { fires: [{}, drive('gone')] },
  'drive-trouble': { fires: [drives((d) => (d.id === 'kestrel-attic' ? { ...d, problem: 'It is not there.' } : d))] },
  'drive-too-slow': { fires: [drives((d) => ({ ...d, writeBytesPerSecond: 1e6 }))] },
  'same-drive-as-game': {
    fires: [{ facts: { driveId: 'kestrel-attic' } }],
    quiet: [{ facts: { driveId: 'elsewhere' } }],
  },
  'game-drive-unknown': { fires: [{ facts: { driveId: null } }] },
  partition: { fires: [drives((d) => ({ ...d, deviceId: 'one' }))] },
  'drive-not-measured': { fires: [drives((d) => ({ ...d, writeBytesPerSecond: null }))] },
  'network-drive': { fires: [drives((d) => (d.id === 'kestrel-attic' ? { ...d, kind: 'network' } : d))] },
  'hard-disk-heavy': {
    fires: [{}, drive('kestrel-barn'), encode({ encoder: 'utvideo-software', rateControl: 'lossless' })],
    quiet: [{}, drive('kestrel-barn')],
  },
  'room-short': { fires: [drives((d) => ({ ...d, freeBytes: 1e9 }))] },
  striping: {
    fires: [drives((d) => ({ ...d, writeBytesPerSecond: 0.8e6 }))],
    quiet: [drives((d) => ({ ...d, writeBytesPerSecond: 20e6 }))],
  },
  'ceiling-under-session': {
    fires: [{}, (r) => ({ ...r, ceilingMinutes: 20 })],
    quiet: [{}, (r) => ({ ...r, ceilingMinutes: 120 })],
  },
  'forgotten-take': {
    fires: [{ ...drives((d) => ({ ...d, freeBytes: 20e9 })), brief: { sessionMinutes: 90 } }],
    quiet: [{}, (r) => ({ ...r, ceilingMinutes: 120 })],
  },
  'file-limit': {
    fires: [{ ...drives((d) => ({ ...d, largestFileBytes: 2 ** 32 - 1 })), brief: { sessionMinutes: 400 } }],
    quiet: [
      { ...drives((d) => ({ ...d, largestFileBytes: 2 ** 32 - 1 })), brief: { sessionMinutes: 400 } },
      (r) => ({ ...r, parts: { by: 'length', minutes: 10 } }),
    ],
  },
  'site-size': { fires: [{}], quiet: [{ brief: { destination: 'archive' } }] },
  'hdr-display': {
    fires: [{ context: { machine: { ...kestrel, displays: kestrel.displays.map((d) => ({ ...d, hdr: true })) } } }],
  },
  'two-chips': {
    fires: [
      {
        context: {
          machine: {
            ...kestrel,
            encoders: kestrel.encoders.map((e) =>
              e.encoder === 'avc-processor-graphics' ? { ...e, works: true, reason: null } : e,
            ),
          },
        },
      },
    ],
  },
  'editor-sound': {
    fires: [{ brief: { editor: 'mp4' } }, lanes('flac', 'aac'), (r) => ({ ...r, rewrap: true })],
    quiet: [{ brief: { editor: 'mp4' } }, lanes('aac', 'aac'), (r) => ({ ...r, rewrap: true })],
  },
  'gaps-for-editor': {
    fires: [
      { brief: { editor: 'mp4' }, context: { machine: wren } },
      encode({ encoder: 'avc-software', effort: 'most-thorough' }),
    ],
    quiet: [{ context: { machine: wren } }, encode({ encoder: 'avc-software', effort: 'most-thorough' })],
  },
  'long-upload': { fires: [{ brief: { uploadMbps: 2 } }], quiet: [{ brief: { uploadMbps: 500 } }] },
  'memory-short': { fires: [{ facts: { memoryGb: 31 } }] },
  extras: { fires: [{ facts: { extras: ['overlay'] } }], quiet: [{ facts: { extras: ['voice chat'] } }] },
  'picture-filters': { fires: [{ facts: { extras: ['picture filters'] } }] },
  priority: {
    fires: [{ context: { machine: wren } }, encode({ encoder: 'avc-software', effort: 'most-thorough' })],
    quiet: [{}, software],
  },
  'others-busy': { fires: [trialLoads({ othersCores: 2 })], quiet: [trialLoads()] },
  'key-clash': { fires: [{ facts: { keys: ['w', 'a', 'n'] } }], quiet: [{ facts: { keys: ['w', 'a'] } }] },
};
