export const scalingFilters = ['nearest', 'bilinear', 'bicubic', 'area', 'lanczos', 'spline'] as const;
export type ScalingFilter = (typeof scalingFilters)[number];

/** The effort ladder: how long the encoder may look for savings; names are ours, the rungs are the encoder's. */
export const efforts = ['lightest', 'light', 'middle', 'thorough', 'most-thorough'] as const;
export type Effort = (typeof efforts)[number];

/** Encoders by coding standard and by the part of the machine that does the work. */
export const encoders = [
  'avc-software',
  'hevc-software',
  'av1-software',
  'vp9-software',
  'ffv1-software',
  'utvideo-software',
  'mjpeg-software',
  'avc-card',
  'hevc-card',
  'av1-card',
  'avc-processor-graphics',
  'hevc-processor-graphics',
] as const;
export type EncoderName = (typeof encoders)[number];

/** What is kept of the colours: a quarter of the colour samples, with 8 or 10 bits each, all of them, or red, green and blue. */
export const pixelKinds = ['4:2:0', '4:2:0-10', '4:4:4', 'rgb'] as const;
export type PixelKind = (typeof pixelKinds)[number];

/** What happens where game and file have different shapes: bars, edges cut off, or stretched. */
export const fits = ['bars', 'fill', 'stretch'] as const;
export type Fit = (typeof fits)[number];

/** The highest AVC profile that may be used; older players know less. */
export const profiles = ['high', 'main', 'baseline'] as const;
export type Profile = (typeof profiles)[number];

/** How luma and colour are made of red, green and blue: Rec. 709, or Rec. 601 for what was made before it. */
export const matrices = ['bt709', 'bt601'] as const;
export type Matrix = (typeof matrices)[number];

/** Bits put where an eye sees them and not where a measure does: as the encoder has it, always, or never. */
export const eyeTunings = ['own', 'on', 'off'] as const;
export type EyeTuning = (typeof eyeTunings)[number];

/** Which of several the system lets run first, the recorder's encoder or the game. */
export const priorities = ['usual', 'above', 'below'] as const;
export type Priority = (typeof priorities)[number];

/** Further ahead no picture is held back for: the sound of it would have to wait too. */
export const mostLookAhead = 40;

/** Where below the drive's folder a take lies. */
export const subfolders = ['none', 'day', 'game', 'game-day', 'setup'] as const;
export type Subfolder = (typeof subfolders)[number];

/**
 * `constant-quality`: the encoder spends by what is seen, around its quality number. `constant-quantiser`: the number is the
 * quantiser itself, everywhere. `picture-by-picture`: each picture by itself with the same quantiser.
 */
export const rateControls = [
  'constant-quality',
  'constant-quantiser',
  'constant-bitrate',
  'variable-bitrate',
  'lossless',
  'picture-by-picture',
] as const;
export type RateControl = (typeof rateControls)[number];

export const containers = ['matroska', 'fragmented-mp4', 'mp4'] as const;
export type Container = (typeof containers)[number];

export const soundCodecs = ['flac', 'pcm', 'aac', 'opus'] as const;
export type SoundCodec = (typeof soundCodecs)[number];

/** Matroska numbers its tracks to 127 in one byte; readers are tried here with so many. */
export const mostLanes = 24;

/**
 * How a take begins: at once; with a second of quiet, by which the noise of the room is known; or with three marks after it,
 * a tone in every lane and a square in the picture at once, by which files of other recorders are lined up.
 */
export const leadIns = ['none', 'silence', 'mark'] as const;
export type LeadIn = (typeof leadIns)[number];
