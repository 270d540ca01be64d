import { containers, efforts, encoders, purposes, scalingFilters, soundCodecs } from '@mellow/model';
import {
  containerTakesSound,
  containerWords,
  effortWords,
  filterWords,
  gameDifferences,
  mp4Trouble,
  plainPracticeGame,
  recipeClashes,
  laneWords,
  purposeWords,
  rateWords,
  recipeHeadline,
  soundCodecWords,
  startRecipe,
} from './index';
import { withEncoder } from '../codec';

const recipe = startRecipe({ purpose: 'long-play', sessionMinutes: 60 }, plainPracticeGame, 'd');
const plain = (text: string) => text.replaceAll('\u2009', ' ');

describe('words for a recipe', () => {
  it('there are some for every value', () => {
    for (const filter of scalingFilters) expect(filterWords[filter].result).toBeTruthy();
    for (const effort of efforts) expect(effortWords[effort]).toBeTruthy();
    for (const container of containers) expect(containerWords[container].name).toBeTruthy();
    for (const codec of soundCodecs) expect(soundCodecWords[codec]).toBeTruthy();
    for (const purpose of purposes) expect(purposeWords[purpose].meaning).toBeTruthy();
  });
  it('no two filters, efforts or purposes share a name', () => {
    expect(new Set(scalingFilters.map((f) => filterWords[f].result)).size).toBe(scalingFilters.length);
    expect(new Set(efforts.map((e) => effortWords[e])).size).toBe(efforts.length);
    expect(new Set(purposes.map((p) => purposeWords[p].name)).size).toBe(purposes.length);
  });
  it('tell the rate by its control', () => {
    const { encode } = recipe;
    expect(rateWords(encode)).toBe('quality 20');
    expect(plain(rateWords({ ...encode, rateControl: 'constant-bitrate', bitrateKbps: 9000 }))).toBe(
      'constant 9 000 kb/s',
    );
    expect(
      plain(rateWords({ ...encode, rateControl: 'variable-bitrate', bitrateKbps: 9000, ceilingKbps: 14_000 })),
    ).toBe('9 000 kb/s, at most 14 000 kb/s');
  });
  it('give a lane’s rate only where it has an effect', () => {
    const lane = { name: 'Voice', sources: ['voice' as const], codec: 'flac' as const, bitrateKbps: 160 };
    expect(laneWords(lane)).toBe('Voice, FLAC');
    expect(laneWords({ ...lane, codec: 'opus' })).toBe('Voice, Opus 160 kb/s');
  });
  it('put a recipe on one line', () => expect(recipeHeadline(recipe)).toBe('1280×720 at 60 fps, quality 20'));
});

describe('containers', () => {
  it('Matroska takes every sound codec; MP4 takes all but PCM', () => {
    for (const codec of soundCodecs) {
      expect(containerTakesSound('matroska', codec)).toBe(true);
      expect(containerTakesSound('mp4', codec)).toBe(codec !== 'pcm');
      expect(containerTakesSound('fragmented-mp4', codec)).toBe(codec !== 'pcm');
    }
  });
  it('a plain MP4 is refused for sound and pictures that it does not hold, and for no others', () => {
    for (const codec of soundCodecs)
      for (const encoder of encoders) {
        const { encode } = withEncoder(recipe, encoder);
        const lanes = [{ ...recipe.lanes[0]!, codec }];
        const holds = codec !== 'pcm' && !/^(ffv1|utvideo)/.test(encoder);
        expect([encoder, codec, mp4Trouble({ encode, lanes }) === null]).toEqual([encoder, codec, holds]);
        expect(recipeClashes({ ...recipe, encode, lanes, rewrap: true }).some(({ id }) => id === 'rewrap-cannot')).toBe(
          !holds,
        );
      }
  });
  it('only plain MP4 needs its end', () => {
    expect(containers.filter((c) => !containerWords[c].survives)).toEqual(['mp4']);
  });
});

describe('differences of a game as a trial notices them', () => {
  it('name each change both ways, and nothing else', () => {
    expect(gameDifferences(plainPracticeGame, plainPracticeGame)).toEqual([]);
    const changed = { ...plainPracticeGame, capFps: 60, helpers: 2, helperLoadUs: 1500, seed: 7 };
    expect(gameDifferences(plainPracticeGame, changed)).toEqual([
      'cap 120 fps, now 60 fps',
      'helpers none, now 2 of 1.5 ms',
      'draw 20, now 7',
    ]);
    const facts = { ...plainPracticeGame.facts, notes: 'other', memoryGb: 9 };
    expect(gameDifferences(plainPracticeGame, { ...plainPracticeGame, facts })).toEqual([]);
  });
});
