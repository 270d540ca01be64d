import { practiceSounds, soundCodecs, type Lane } from '@mellow/model';
import { laneBits, lanesBits, pcmBitsPerSecond } from './index';

const lane = (codec: Lane['codec'], sources: Lane['sources'] = ['game'], bitrateKbps = 160): Lane => ({
  name: 'A lane',
  codec,
  sources,
  bitrateKbps,
});

describe('bits of a lane', () => {
  it('are those of 48 kHz, 16 bit, stereo for PCM: 48 000 x 16 x 2', () => {
    expect(pcmBitsPerSecond).toBe(1_536_000);
    expect(laneBits(lane('pcm'), practiceSounds)).toEqual({ value: 1_536_000, low: 1_536_000, high: 1_536_000 });
  });
  it.each(['aac', 'opus'] as const)('are the set rate for %s, whatever it holds, without a range', (codec) => {
    for (const kbps of [64, 96, 160, 320])
      expect(laneBits(lane(codec, ['voice'], kbps), practiceSounds)).toEqual({
        value: kbps * 1000,
        low: kbps * 1000,
        high: kbps * 1000,
      });
  });
  it('follow the sound for FLAC: a game has more than a voice, several together more than either, all less than PCM', () => {
    const of = (...sources: Lane['sources']) => laneBits(lane('flac', sources), practiceSounds);
    expect(of('chat').value).toBeLessThan(of('voice').value);
    expect(of('voice').value).toBeLessThan(of('game').value);
    expect(of('game').value).toBeLessThan(of('game', 'voice').value);
    for (const one of [of('chat'), of('voice'), of('game'), of('voice', 'chat'), of('game', 'voice', 'chat')]) {
      expect(one.low).toBeLessThan(one.value);
      expect(one.high).toBeGreaterThan(one.value);
      expect(one.high).toBeLessThan(pcmBitsPerSecond / 2);
    }
  });
  it('do not hang on the order of the sources', () => {
    expect(laneBits(lane('flac', ['voice', 'game']), practiceSounds)).toEqual(
      laneBits(lane('flac', ['game', 'voice']), practiceSounds),
    );
  });
});

describe('bits of all lanes', () => {
  it('are none without a lane', () => {
    expect(lanesBits([], practiceSounds)).toEqual({ value: 0, low: 0, high: 0 });
  });
  it('are the sum of each, ends too', () => {
    for (const codec of soundCodecs) {
      const lanes = [lane(codec, ['game', 'voice', 'chat']), lane('flac', ['voice']), lane('aac', ['game'], 96)];
      const each = lanes.map((one) => laneBits(one, practiceSounds));
      for (const end of ['value', 'low', 'high'] as const)
        expect(lanesBits(lanes, practiceSounds)[end]).toBeCloseTo(
          each.reduce((sum, one) => sum + one[end], 0),
          6,
        );
    }
  });
});
