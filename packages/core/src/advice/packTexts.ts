import type { Lane, SoundInput, Station } from '@mellow/model';
import { capitalised, formatKbps, listWords, plural } from '../units';
import { soundCodecWords } from '../recipe/words';

/** What the rules of packRules.ts say. */
export const packTexts = {
  editorWantsMp4: {
    title: 'The editor opens MP4 only',
    text: 'Record Matroska, which survives a crash, and copy its tracks into a plain MP4 after stopping: no loss, some seconds, the same size again.',
  },
  editorSound: (lanes: Lane[]) => ({
    title: `${listWords([...new Set(lanes.map((lane) => soundCodecWords[lane.codec]))])} in MP4 is opened by few editors`,
    text: 'The picture would be there and the sound silent. AAC is what editors take from an MP4.',
  }),
  gapsForEditor: (station: Station) => ({
    title: 'Frames that are lost leave gaps, which this editor reads as a variable frame rate',
    text: `More is asked of ${station === 'game' ? 'the game' : capitalised(station)} than it can do, so some will be. Cuts and sound then drift apart on its timeline.`,
  }),
  loseNone: 'Follow the first line above until a trial loses nothing; a take without losses has one rate throughout.',
  rewrapOfMp4: {
    title: 'The file is a plain MP4 already',
    text: 'A second one would be a copy of the first.',
  },
  noSound: {
    title: 'The file will be silent',
    text: 'No lane is kept. Sound that was not recorded cannot be had again.',
  },
  voiceMixed: {
    title: 'The voice is on no lane of its own',
    text: 'Mixed with the game it cannot be made louder, cleaned or cut afterwards.',
  },
  chatMixed: {
    title: 'Other people’s talk is on no lane of its own',
    text: 'On its own lane it can be deleted, as they may want.',
  },
  chatKept: {
    title: 'The first lane keeps other people’s talk',
    text: 'Players play the first lane; what others said is published with it.',
  },
  firstLanePart: (lanes: Lane[]) => ({
    title: `Players play “${lanes[0]?.name ?? ''}” only`,
    text: 'They play the first lane; a silent voice or game there is no fault of the file. The lane with most sources belongs first.',
  }),
  aacOnFewCores: (aac: Lane[]) => ({
    title: `${plural(aac.length, 'AAC lane')} cost about ${(aac.length * 0.085).toFixed(2)} of a core`,
    text: 'FLAC is lossless, costs an eighth of that and fits the drive easily.',
  }),
  manyLanes: (lanes: Lane[]) => ({
    title: `${plural(lanes.length, 'lane')} are more than most editors show`,
    text: 'One lane is the lightest; everything, voice and game are enough for most.',
  }),
  thinSound: (thin: Lane[]) => ({
    title: `${thin[0]?.name ?? ''} has ${formatKbps(thin[0]?.bitrateKbps ?? 0)}`,
    text: 'Below 96 kb/s AAC gives up the highest sounds of a stereo lane; 128 cost a quarter of a megabyte more a minute.',
  }),
  pcmLarger: (pcm: number) => ({
    title: `${plural(pcm, 'lane')} in ${soundCodecWords.pcm}: ${(pcm * 11.5).toFixed(1)} MB a minute`,
    text: 'FLAC holds the same samples in about two thirds. A few old programs read PCM only.',
  }),
  lossyMaster: {
    title: 'A master copy with lossy sound',
    text: 'Cleaning and pitch work better on all of it; FLAC adds some MB a minute.',
  },
  hearSomething: 'On Sound, choose under “Hear something else” what is to be heard.',
  soundOfAnother: (machine: string, sounds: readonly SoundInput[]) => ({
    title: `${listWords(sounds.map(({ name }) => name))} cannot be heard on ${machine}`,
    text: 'That machine is simulated and has no devices; its takes have the practice game’s stand-ins.',
  }),
  keptMuted: (sounds: readonly SoundInput[]) => ({
    title: `${listWords(sounds.map(({ name }) => name))} ${sounds.length === 1 ? 'is' : 'are'} kept, and muted or closed`,
    text: 'The lane is there and silent. What was not heard cannot be had again.',
  }),
  backgroundSound: {
    title: 'Everything the PC plays is recorded',
    text: 'A film or music in a browser goes into the game’s sound and cannot be taken out.',
  },
};
