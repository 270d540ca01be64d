import type { SettingKey } from '@mellow/core';

/** Why a setting is as it is; where practice disagrees, both sides and what decides between them. */
export interface WhyText {
  text: string;
  /** Two voices of practice, and the condition or the trial that settles it. */
  sides?: readonly [string, string];
  settles?: string;
}

export const whyTexts: Partial<Record<SettingKey, WhyText>> = {
  rate: {
    text: 'Each step up halves the time between two pictures and adds work at every station. More than the destination shows is only of use slowed down; more than the game draws is filed as repeats.',
    sides: [
      'Exactly what the destination shows, fractions of 1001 included: nothing is converted.',
      'Whole rates: most destinations take 30 and 60 as they are, and cutting is simpler.',
    ],
    settles:
      'The destination of the brief decides; the strip beside a rate shows which frames a conversion would repeat or drop.',
  },
  size: {
    text: 'What is not shown need not be filed; smaller costs less work and fewer bits. The height that small text keeps stands beside the sizes.',
    sides: [
      'Record as played: no scaling work, and the sharpest picture.',
      'Play large, file small: every pixel of the file is the mean of several drawn ones, and Encode has less to do.',
    ],
    settles: 'Both are forecast here: look at Size and Encode, and at the height of small text.',
  },
  filter: {
    text: 'Matters only when scaling. Crisp keeps most when scaling down and costs most; quick costs least; hard edges is for pixel art.',
  },
  fit: {
    text: 'Where game and file have different shapes: bars keep everything, cutting fills the frame, stretching distorts.',
  },
  encoder: {
    text: 'A block of its own on the card leaves the processor to the game; software shares it.',
    sides: [
      'A block: the game keeps its cores; what it shares is memory and card.',
      'Software at the lightest effort: a full card makes frames late even with a block.',
    ],
    settles: 'The play cost of a trial with each settles it; the forecast shows which station is nearer to its budget.',
  },
  effort: {
    text: 'How long the encoder may look for savings: smaller files at one quality, for more work a frame.',
    sides: [
      'Lightest: the game’s frame rate comes first.',
      'Middle or thorough: the file gets smaller, and a block has the time.',
    ],
    settles: 'Where Encode stays easy in its busiest 1 %, more effort costs nothing that shows.',
  },
  rateControl: {
    text: 'Constant quality follows the content: more bits where a loss is seen, fewer where it is not. Constant quantiser has one coarseness everywhere, which is plain to compare and larger at one look. Constant bitrate is foreseeable. Variable bitrate has a ceiling for a drive or a line.',
  },
  quality: {
    text: 'Lower is better and larger. By the rate model 6 to 7 steps double or halve moving scenes; this setup’s own trials narrow it.',
    sides: [
      'Finer, where takes are short and effects work on them: room for the size is there.',
      'Coarser, where sessions are long: one trial at each number shows from where on it is seen.',
    ],
    settles:
      'The ruler shows what each costs here; a trial pair and the same frame side by side settle whether it shows.',
  },
  bitrate: {
    text: 'The same number is plenty for a small, calm picture and little for a large, quick one. What counts is the bits a pixel, which stand beside it with the picture they are expected to give.',
    sides: [
      'High, so that no busy scene ever lacks bits.',
      'Low, so that hours fit on the drive and a line can carry it.',
    ],
    settles:
      'The picture word of the forecast for this rate, and SSIM of a trial. Constant quality needs no answer to this.',
  },
  ceiling: { text: 'The highest rate of busy scenes. About one and a half times the bitrate leaves room for motion.' },
  quantiser: {
    text: 'How finely each picture is kept by itself. The steps are named by what is seen; the codec’s own quantiser stands under all settings.',
  },
  keyDistance: {
    text: 'A key picture stands by itself: the file can be cut, and read again after a gap, only there. Closer together costs bits, most of all in still scenes.',
    sides: ['Close together, for an editor that stutters between key pictures.', 'Far apart: the file gets smaller.'],
    settles: 'The editor of the brief decides.',
  },
  groups: { text: 'Closed groups can be cut anywhere at a key picture; open ones save a little.' },
  bFrames: {
    text: 'Pictures that lean on a later one: by the rate model they save a tenth of the bits, by the work table each two cost 14 % more work in software. None delays least.',
  },
  lowDelay: {
    text: 'Lets no picture wait. At the lightest effort it changes nothing; above, one quality number means a larger file.',
    sides: [
      'Fewer frames inside the encoder: less is lost if the recorder dies.',
      'For a file delay does not matter, and waiting saves bits.',
    ],
    settles:
      '“If the recorder dies” on Pack shows the seconds for both; a trial of each shows whether the game notices.',
  },
  pixels: {
    text: '4:2:0 keeps a quarter of the colour samples: half the data of full RGB, and less to copy, scale and encode. 4:4:4 and RGB keep coloured small text sharp, and few players open them.',
  },
  profile: { text: 'High is usual; Main and Baseline open on older players and need more bits.' },
  threads: {
    text: 'Automatic uses all cores. Fewer leave cores to the game and let a frame take longer; Encode’s busiest 1 % shows whether there is time for that.',
  },
  range: {
    text: 'Limited range is what players expect. Full is right only where the editor asks for it; a full-range file that is not tagged looks washed out or crushed. Mellow Frame tags both.',
  },
  camera: {
    text: 'A picture of the person who plays. Over the game it is burnt in; beside it, or in a file of its own, it can be moved and cut afterwards, and all three begin with the take.',
    sides: [
      'Over the game: one picture, ready to be shown.',
      'Apart: an editor is needed, and nothing is decided yet.',
    ],
    settles: 'The plan shows what it hides; a trial with the stand-in camera shows what it costs.',
  },
  matrix: {
    text: 'How red, green and blue become light and colour. Rec. 709 is what players expect of today’s sizes; Rec. 601 is for a project or a player of standard-definition footage. Both are tagged; read as the other, greens and reds shift.',
  },
  lookAhead: {
    text: 'How many pictures the encoder sees before it spends bits on one. More foresight spends them better around cuts and quick turns; each picture waited for is one more that is lost if the recorder dies.',
    sides: ['Many, for a file that is small at one look.', 'Few, for less memory and processor, and less to lose.'],
    settles: '“If the recorder dies” on Pack shows the seconds; a trial pair shows size and load.',
  },
  eyeTuning: {
    text: 'Keeps texture where an eye sees it and not where a measure counts. Grass and grain look livelier; SSIM of a trial comes out lower at the same bits, so that it cannot tell which looks better.',
  },
  easyDecode: {
    text: 'Leaves out what costs a decoder most. An editor without help from a card scrubs more smoothly; the same look takes more bits.',
  },
  card: {
    text: 'Where several cards are in the PC, the one that the game does not use encodes without taking anything from it. Cards are counted as the system counts them.',
  },
  priority: {
    text: 'Who goes first where the processor is full, the game or the encoder’s threads. It settles who suffers and makes nothing faster.',
    sides: ['Before the game: fewer frames are lost.', 'After the game: play stays smooth, and frames are lost first.'],
    settles: 'A trial pair: lost frames of one against the play cost of the other.',
  },
  container: {
    text: 'Matroska and fragmented MP4 can be read up to the last second when the recorder dies; plain MP4 opens everywhere and is lost before it is closed.',
  },
  rewrap: {
    text: 'The tracks are copied into a plain MP4 after stopping: no picture changes, and both files need room. In its place means that the file goes to the discards once the MP4 was compared with it byte by byte; it can be brought back for a week.',
  },
  drive: {
    text: 'Best a drive that neither the game nor the system reads from. Two partitions of one drive do not help: one head serves both.',
  },
  subfolder: { text: 'Takes of one game or setup lie together, so that they are found again.' },
  name: {
    text: 'The pills are filled in for each take. A name that is taken already gets a number behind it, so nothing is written over.',
  },
  nextDrives: {
    text: 'Where the drive has no room left the take goes on in a new file on the next of these. Without one it is closed and ends. A striped take is written to all of them at once.',
  },
  parts: {
    text: 'A full take in one file is simplest to keep together. In parts each begins with a key picture and none has a frame or a sample less; the take’s page joins them to one file when you want. Striped it is as fast as its folders together, and other programs read it when it is built.',
    sides: [
      'One file: nothing to join, and nothing to lose on the way.',
      'Parts: files that a file system or an upload takes, and a shorter copy each.',
    ],
  },
  ceilingMinutes: { text: 'A take ends by itself after so long, so that a forgotten one does not fill the drive.' },
  lanes: {
    text: 'Voice and game apart can be balanced later; one mixed lane is lightest. Players play the first lane only: a silent voice there is no fault.',
  },
};
