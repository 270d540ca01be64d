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
    text: 'Games, sport and anything with motion gain from 60; talk and desktop do not. Above 60 only for slow motion. The game must show at least as many frames.',
    sides: [
      'Match the destination exactly, 29.97 included: some convert anything else.',
      'Whole rates are fine: most destinations take 30 and 60 as they are.',
    ],
    settles:
      'The destination of the brief decides; the strip beside a rate shows which frames a conversion would repeat or drop.',
  },
  size: {
    text: 'What is not shown need not be filed; smaller costs less work and fewer bits. Below 720 lines small text is the first thing to go.',
    sides: [
      'Record as played: no scaling work, and the sharpest picture.',
      'Play large, file small: it looks better than playing small, and costs less than full size.',
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
      'Hardware first: it does not load the game.',
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
    text: 'Constant quality follows the content and wastes nothing in calm scenes. Constant bitrate is foreseeable. Variable bitrate has a ceiling for a drive or a line.',
  },
  quality: {
    text: 'Lower is better and larger; about 6 steps double or halve the file.',
    sides: [
      '16 to 18 for takes under 20 minutes: below 18 nothing is gained that can be seen.',
      '20 for long sessions, then down by one until no difference is seen.',
    ],
    settles:
      'The ruler shows what each costs here; a trial pair and the same frame side by side settle whether it shows.',
  },
  bitrate: {
    text: 'For 1080 lines at 60 fps 8 000 to 9 000 kb/s are very usable, 15 000 is good enough to publish, above 18 000 more cannot be told apart.',
    sides: ['One voice: always 30 000, whatever the size.', 'One voice: 6 000 is normal and 8 000 the maximum.'],
    settles: 'Bits per pixel decide: 0.05 is low and 0.13 plenty for much motion. Constant quality asks for neither.',
  },
  ceiling: { text: 'The highest rate of busy scenes. About one and a half times the bitrate leaves room for motion.' },
  share: { text: 'From 99 % much is saved, at 95 % the first loss shows (common practice).' },
  keyDistance: {
    text: 'Every 2 s is usual. Closer together is easier to cut and costs bits.',
    sides: ['Every 15 frames, where an older editor needs it.', 'Leave it to the encoder: the file gets smaller.'],
    settles: 'The editor of the brief decides.',
  },
  groups: { text: 'Closed groups can be cut anywhere at a key picture; open ones save a little.' },
  bFrames: {
    text: 'Two save 9 to 15 % of the bits and cost about a quarter more work in software; none is lightest, and delays least.',
  },
  lowDelay: {
    text: 'Lets no picture wait. At the lightest effort it changes nothing; above, one quality number means a larger file.',
    sides: ['The decisive switch: the game stays playable.', 'For a file delay does not matter.'],
    settles: 'It shortens what is lost if the recorder dies; play cost is settled by a trial pair.',
  },
  pixels: {
    text: '4:2:0 keeps a quarter of the colour samples: half the data of full RGB, which took one game from 60 to 70 to 90 fps. 4:4:4 and RGB keep coloured small text sharp, and few players open them.',
  },
  profile: { text: 'High is usual; Main and Baseline open on older players and need more bits.' },
  threads: {
    text: 'Automatic uses all cores. People who compared one, two and all saw no difference; the play cost of a trial tells for yours.',
  },
  range: {
    text: 'Limited range is what players expect. Full is right only where the editor asks for it; a full-range file that is not tagged looks washed out or crushed. Mellow Frame tags both.',
  },
  container: {
    text: 'Matroska and fragmented MP4 can be read up to the last second when the recorder dies; plain MP4 opens everywhere and is lost before it is closed.',
  },
  rewrap: {
    text: 'The tracks are copied into a plain MP4 beside the take after stopping: no picture changes, and both files need room.',
  },
  drive: {
    text: 'Best a drive that neither the game nor the system reads from. Two partitions of one drive do not help: one head serves both.',
  },
  subfolder: { text: 'Takes of one game or setup lie together, so that they are found again.' },
  pattern: { text: 'Words in braces are filled in for each take; two takes must not get one name.' },
  ceilingMinutes: { text: 'A take ends by itself after so long, so that a forgotten one does not fill the drive.' },
  lanes: {
    text: 'Voice and game apart can be balanced later; one mixed lane is lightest. Players play the first lane only: a silent voice there is no fault.',
  },
};
