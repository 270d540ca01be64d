import { encoders, type Cause, type EncoderName, type Fate, type Source, type Take } from '@mellow/model';
import { encoderFacts, withEncoder } from '../codec';
import { lossRuns } from '../ledger';
import { testLedger } from '../ledger/testLedger.test-support';
import { levelWords } from './foundWords';
import { verdictOf } from './index';
import { testRecipe, testSecond, testTake } from './testTake.test-support';

const rate = { num: 60, den: 1 };
const plain = (text: string) => text.replaceAll('\u2009', ' ');
const rows = (count: number, ...lost: (Fate | [Fate, Cause])[]): (Fate | [Fate, Cause])[] => [
  ...Array<Fate>(count).fill('new'),
  ...lost,
  'new',
];
const judge = (list: (Fate | [Fate, Cause])[], change: Partial<Take> = {}, seconds = [testSecond(4)]) => {
  const columns = testLedger(rate, list);
  return verdictOf(testTake(columns, change, seconds), lossRuns(columns));
};

describe('the verdict', () => {
  it('keeps a take without losses and says how many frames it has', () => {
    const verdict = judge(rows(599));
    expect(verdict.mark).toBe('keep');
    expect(verdict.sentence).toBe(
      'Keep it. All 600 frames are in the file, each with a new picture; not measured: play cost and picture.',
    );
    expect(verdict.findings).toEqual([]);
    expect(verdict.facts.every((fact) => fact.holds !== false)).toBe(true);
  });
  it('charges each loss to its station, most first', () => {
    const verdict = judge(
      rows(
        590,
        ...Array<[Fate, Cause]>(6).fill(['encode-miss', 'queue-full']),
        ...Array<[Fate, Cause]>(3).fill(['capture-miss', 'picker-late']),
      ),
    );
    expect(verdict.mark).toBe('look');
    expect(verdict.sentence).toBe('Look again. Of 600 frames 9 were lost: 6 at Encode and 3 at Capture.');
  });
  it('says that a sample was not played in full, and takes that for no game that is slow or stands still', () => {
    const still = rows(
      500,
      ...Array<[Fate, Cause]>(60).fill(['repeat', 'slow']),
      ...Array<[Fate, Cause]>(30).fill(['repeat', 'stalled']),
    );
    const ids = (change: Partial<Take>) => judge(still, change).findings.map(({ id }) => id);
    expect(ids({})).toEqual(['game-slow', 'game-stalled']);
    expect(ids({ sampleLeftOut: 91 })).toEqual(['sample-left-out']);
    const verdict = judge(still, { sampleLeftOut: 91 });
    expect(verdict.mark).toBe('look');
    expect(verdict.findings[0]).toMatchObject({
      station: 'game',
      title: 'The sample was not played in full: 91 pictures left out',
    });
  });
  it('tells an encoder that is too slow from one that had to wait', () => {
    const lost = rows(590, ...Array<[Fate, Cause]>(9).fill(['encode-miss', 'queue-full']));
    const slow = judge(lost, {}, [testSecond(19)]).findings[0];
    expect(slow?.id).toBe('encoder-too-slow');
    expect(slow?.text).toContain('19.0 ms of 16.7 ms');
    const taken = judge(lost, {}, [testSecond(5)]).findings[0];
    expect(taken?.id).toBe('encode-waited');
    expect(taken?.text).toContain('0.3 of its threads were ready and waited');
  });
  it('says how much was rescued and how much is lost', () => {
    const verdict = judge(rows(239), {
      state: 'rescued',
      end: 'engine-died',
      tailFrames: 36,
      endText: 'The recorder died while rolling (SIGKILL).',
    });
    expect(verdict.mark).toBe('rescued');
    expect(verdict.sentence).toBe('Rescued: 4.00 s can be played, the last 0.60 s are lost.');
    expect(verdict.findings[0]?.title).toBe('The last 0.60 s are lost');
  });
  it('says that a window has another size than when it was chosen, and what that makes of the file', () => {
    const window = (widthPx: number, heightPx: number): Source => ({
      ...{ kind: 'window', windowId: 7, title: 'Oil Street', whenClosed: 'end', leftPx: 0, topPx: 0, pointer: true },
      ...{ widthPx, heightPx },
    });
    const recipe = { ...testRecipe, source: window(1280, 720) };
    const of = (source: Take['source']) => judge(rows(599), { source, recipe }).findings;
    expect(of(window(1280, 720))).toEqual([]);
    // A sample in its place, or whatever else is played, is no window that has changed.
    expect(of({ kind: 'practice' })).toEqual([]);
    const [smaller] = of(window(640, 360));
    expect(smaller).toMatchObject({ id: 'source-size', tone: 'look', station: 'capture' });
    expect(smaller?.title).toBe('The window “Oil Street” is 640×360 now, and was 1280×720 when it was chosen');
    expect(smaller?.text).toContain('of enlarged pixels');
    expect(of(window(2560, 1440))[0]?.text).toContain('what is finer than that is lost');
  });
  it('of a take from the screen says what a grab took, and how much changed', () => {
    const place = { leftPx: 0, topPx: 0, widthPx: 1280, heightPx: 720, pointer: true };
    const source = { kind: 'window', windowId: 7, title: 'Oil Street', whenClosed: 'end', ...place } as const;
    const late = judge(rows(590, ...Array<[Fate, Cause]>(9).fill(['capture-miss', 'grab-late'])), { source });
    const [finding] = late.findings;
    expect(plain(finding?.title ?? '')).toBe('Grabbing the screen lost 9 frames of 600 (1.5 %)');
    expect(plain(finding?.text ?? '')).toContain('9 grabs came after its frame was due. A grab takes 0.1 ms');
    expect(finding?.change).toContain('Cap the game');
    const hidden = judge(rows(590, ...Array<[Fate, Cause]>(9).fill(['capture-miss', 'no-source'])), { source });
    expect(hidden.findings[0]?.change).toContain('window open and shown');
    expect(late.facts).toContainEqual({
      name: 'Source',
      asked: 'the window “Oil Street”',
      found: '59.1 new pictures a second',
      holds: null,
    });
    expect(judge(rows(599)).facts.map(({ name }) => name)).not.toContain('Source');
    const slow = judge(rows(590, ['capture-miss', 'size-late']), { source });
    expect(slow.findings[0]?.title).toContain('turns the screen’s colours into the file’s');
  });
  it('has a sentence for a take of which nothing can be read', () => {
    const verdict = judge(rows(10), {
      facts: null,
      state: 'failed',
      endText: 'No whole second had reached the drive yet.',
    });
    expect(verdict).toMatchObject({
      mark: 'failed',
      sentence: 'No whole second had reached the drive yet.',
      facts: [],
    });
  });
  it.each<[string, Parameters<typeof judge>, string]>([
    ['a slow game', [rows(500, ...Array<[Fate, Cause]>(99).fill(['repeat', 'slow']))], 'game-slow'],
    ['a stalled game', [rows(500, ...Array<[Fate, Cause]>(20).fill(['repeat', 'stalled']))], 'game-stalled'],
    ['game and file beating', [rows(500, ...Array<[Fate, Cause]>(30).fill(['repeat', 'phase']))], 'phase'],
    ['a slow drive', [rows(500, ...Array<[Fate, Cause]>(9).fill(['write-miss', 'drive-slow']))], 'drive'],
    ['a slow scaler', [rows(500, ['capture-miss', 'size-late'])], 'size-late'],
    ['a grab without a source', [rows(500, ['capture-miss', 'no-source'])], 'capture'],
    ['a container that falls behind', [rows(500, ['write-miss', 'pack-late'])], 'pack-late'],
    ['packets that never arrived', [rows(500, ['write-miss', 'not-found'])], 'not-found'],
    ['other programs', [rows(500), {}, [testSecond(4, 0.5)]], 'disturbed'],
    ['a file type that needs its end', [rows(500), { recipe: { ...testRecipe, container: 'mp4' } }], 'unsafe'],
    ['a lane that clips', [rows(500), {}, [{ ...testSecond(4), lanePeakDbfs: [0, -9, -9] }]], 'clipped-0'],
  ])('finds %s', (_, given, id) => expect(judge(...given).findings.map((f) => f.id)).toContain(id));

  it('says so when the file is shorter than its losses explain', () => {
    const columns = testLedger(rate, rows(599));
    const take = testTake(columns);
    const facts = take.facts!;
    const short = verdictOf({ ...take, facts: { ...facts, picture: { ...facts.picture, endUs: 9.5e6 } } }, []);
    expect(short.facts.filter((f) => f.holds === false).map((f) => f.name)).toEqual(['Length']);
  });
  it('does not take frames that were lost for a game that stands still, nor a file that ends early for the right length', () => {
    const lost = Array<[Fate, Cause]>(390).fill(['encode-miss', 'queue-full']);
    const stalled = Array<[Fate, Cause]>(6).fill(['repeat', 'stalled']);
    const columns = testLedger(rate, ['new', ...stalled, ...rows(202), ...lost]);
    const take = testTake(columns);
    // The picture and its six repeats at 60 fps.
    expect(take.summary!.pacing.longestStillMs).toBeCloseTo((7 * 1000) / 60, 3);
    const facts = take.facts!;
    const early = { ...facts, picture: { ...facts.picture, endUs: (209 * 1e6) / 60 } };
    const { facts: found } = verdictOf({ ...take, lengthS: columns.length / 60, facts: early }, []);
    expect(found.find(({ name }) => name === 'Length')?.holds).toBe(false);
  });
  it('holds facts read back against what was asked', () => {
    const columns = testLedger(rate, rows(59));
    const take = testTake(columns);
    const facts = take.facts!;
    const verdict = verdictOf(
      {
        ...take,
        facts: {
          ...facts,
          picture: { ...facts.picture, widthPx: 640, heightPx: 360, range: 'pc' },
          lanes: facts.lanes.slice(1),
        },
      },
      [],
    );
    const failing = verdict.facts.filter((f) => f.holds === false).map((f) => f.name);
    expect(failing).toEqual(['Picture', 'Colour', 'Sound']);
    expect(plain(verdict.facts[1]?.found ?? '')).toBe('640×360, 60 fps');
  });
});

describe('the measured picture', () => {
  const columns = testLedger(rate, rows(599));
  const likeness = { pictures: 50, ssim: 0.988, worstSecondSsim: 0.98, worstSecond: 3, exact: false };
  const lossless = { ...testRecipe, encode: { ...testRecipe.encode, rateControl: 'lossless' as const } };
  const looked = (change: Partial<Take>) => verdictOf(testTake(columns, change), []);
  it('stands among the facts with its worst second and a word, and is left out where nothing was compared', () => {
    const fact = looked({ likeness }).facts.find((f) => f.name === 'Look');
    expect(fact).toEqual({
      name: 'Look',
      asked: 'follows the quality number',
      found: 'SSIM 0.988, worst second 0.980: cannot be told apart',
      holds: null,
    });
    expect(looked({}).facts.some((f) => f.name === 'Look')).toBe(false);
  });
  it('decides for lossless: a single sample that differs is not what was asked', () => {
    const exact = { ...likeness, ssim: 1, worstSecondSsim: 1, exact: true };
    expect(looked({ recipe: lossless, likeness: exact }).facts.find((f) => f.name === 'Look')?.holds).toBe(true);
    const verdict = looked({ recipe: lossless, likeness: { ...exact, exact: false, ssim: 0.99999 } });
    expect(verdict.mark).toBe('look');
    expect(verdict.sentence).toContain('Look is not as asked');
  });
  it.each([
    [0.988, 0.98, null],
    [0.988, 0.96, null],
    [0.988, 0.93, 'soft in its worst second'],
    [0.96, 0.9, 'blocky in its worst second'],
    [0.93, 0.925, 'soft'],
    [0.9, 0.8, 'blocky'],
  ])('overall %d with a worst second of %d: %s', (ssim, worstSecondSsim, word) => {
    const finding = looked({ likeness: { ...likeness, ssim, worstSecondSsim } }).findings.find(
      (f) => f.id === 'worst-second',
    );
    expect(finding?.title ?? null).toBe(word && `The picture is ${word}`);
    if (word?.endsWith('second')) expect(finding?.atUs).toBe(3_000_000);
  });
});

describe('what decides', () => {
  const columns = testLedger(rate, rows(599));
  const withPicture = (change: Partial<NonNullable<Take['facts']>['picture']>): Take => {
    const take = testTake(columns);
    return { ...take, facts: { ...take.facts!, picture: { ...take.facts!.picture, ...change } } };
  };
  const sentenceOf = (take: Take): string => plain(verdictOf(take, []).sentence);
  it.each<[string, Take, string]>([
    [
      'another size',
      withPicture({ widthPx: 640, heightPx: 360 }),
      'Look again. Picture is not as asked: 1280×720, 60 fps was asked, 640×360, 60 fps was found.',
    ],
    [
      'another rate',
      withPicture({ rate: { num: 30, den: 1 } }),
      'Look again. Picture is not as asked: 1280×720, 60 fps was asked, equal, 30 fps was found.',
    ],
    ['another codec', withPicture({ codec: 'hevc', level: 123 }), 'Look again. Video is not as asked'],
    [
      'other pixels',
      withPicture({ pixelFormat: 'yuv444p' }),
      'Look again. Colour is not as asked: 4:2:0, Rec. 709, limited was asked, 4:4:4, Rec. 709, limited was found.',
    ],
    ['too few key pictures', withPicture({ packets: 600, keys: 1 }), 'Look again. Key pictures is not as asked'],
  ])('%s keeps a take without losses from being kept', (_, take, text) => {
    expect(verdictOf(take, []).mark).toBe('look');
    expect(sentenceOf(take)).toContain(text);
  });
  it('a lane that is missing, of another codec, or too short', () => {
    const take = testTake(columns);
    const lanes = take.facts!.lanes;
    const judged = (change: typeof lanes) => verdictOf({ ...take, facts: { ...take.facts!, lanes: change } }, []);
    expect(judged(lanes.slice(1)).mark).toBe('look');
    expect(judged([]).sentence).toContain('Sound is not as asked');
    expect(judged(lanes.map((lane, i) => (i === 1 ? { ...lane, codec: 'aac' } : lane))).mark).toBe('look');
    const short = judged(lanes.map((lane, i) => (i === 2 ? { ...lane, durationUs: 2e6 } : lane)));
    expect(short.sentence).toContain('too short');
    expect(judged(lanes).mark).toBe('keep');
  });
  it('repeats of a slow game or of beating from a tenth on, but not a game that loads', () => {
    const repeats = (cause: Cause, n: number) =>
      judge(rows(600 - n, ...Array<[Fate, Cause]>(n).fill(['repeat', cause])));
    expect(repeats('slow', 300).mark).toBe('look');
    expect(repeats('slow', 300).sentence).toContain('the game was too slow for the file');
    expect(repeats('phase', 120).sentence).toContain('game and file beat against each other');
    expect(repeats('slow', 30).mark).toBe('keep');
    expect(repeats('stalled', 200).mark).toBe('keep');
    expect(repeats('still', 300).mark).toBe('keep');
  });
});

describe('facts of every encoder', () => {
  const columns = testLedger(rate, rows(599));
  // What the reader calls what each encoder makes, from files read back in the matrix; levels by the standards' own numbers.
  const made: Record<
    EncoderName,
    { codec: string; level: number; pixelFormat: string; range?: string; matrix?: string }
  > = {
    'avc-software': { codec: 'h264', level: 32, pixelFormat: 'yuv420p' },
    'hevc-software': { codec: 'hevc', level: 123, pixelFormat: 'yuv420p' },
    'av1-software': { codec: 'av1', level: 9, pixelFormat: 'yuv420p' },
    'vp9-software': { codec: 'vp9', level: -99, pixelFormat: 'yuv420p' },
    'ffv1-software': { codec: 'ffv1', level: -99, pixelFormat: 'yuv420p' },
    'utvideo-software': { codec: 'utvideo', level: -99, pixelFormat: 'yuv420p' },
    'mjpeg-software': { codec: 'mjpeg', level: -99, pixelFormat: 'yuvj420p', range: 'pc', matrix: 'bt470bg' },
    'avc-card': { codec: 'h264', level: 42, pixelFormat: 'yuv420p' },
    'hevc-card': { codec: 'hevc', level: 120, pixelFormat: 'yuv420p' },
    'av1-card': { codec: 'av1', level: 8, pixelFormat: 'yuv420p' },
    'avc-processor-graphics': { codec: 'h264', level: 42, pixelFormat: 'nv12' },
    'hevc-processor-graphics': { codec: 'hevc', level: 120, pixelFormat: 'nv12' },
  };
  const takeOf = (encoder: EncoderName, change: Partial<Take['recipe']['encode']> = {}): Take => {
    const recipe = withEncoder(testRecipe, encoder);
    const take = testTake(columns, { recipe: { ...recipe, encode: { ...recipe.encode, ...change } } });
    const whole = !encoderFacts[encoder].keyDistance;
    const picture = { ...take.facts!.picture, packets: 600, keys: whole ? 600 : 6, range: 'tv', ...made[encoder] };
    return { ...take, facts: { ...take.facts!, picture } };
  };
  const failing = (take: Take): string[] =>
    verdictOf(take, [])
      .facts.filter((fact) => fact.holds === false)
      .map((fact) => fact.name);
  it.each(encoders)('hold for a good file of %s, and Video fails for another codec', (encoder) => {
    const take = takeOf(encoder);
    expect(failing(take)).toEqual([]);
    expect(verdictOf(take, []).mark).toBe('keep');
    const other = made[encoder].codec === 'h264' ? 'hevc' : 'h264';
    const swapped = { ...take, facts: { ...take.facts!, picture: { ...take.facts!.picture, codec: other } } };
    expect(failing(swapped)).toEqual(['Video']);
  });
  it.each<[EncoderName, string, string]>([
    ['avc-software', 'AVC, light, quality 20', 'AVC level 3.2'],
    ['hevc-software', 'HEVC, light, quality 13', 'HEVC level 4.1'],
    ['av1-software', 'AV1, light, quality', 'AV1 level 4.1'],
    ['ffv1-software', 'FFV1, lossless', 'FFV1, '],
    ['utvideo-software', 'Ut Video, lossless', 'Ut Video, '],
    ['mjpeg-software', 'Motion JPEG, quantiser', 'Motion JPEG, '],
  ])('of %s say in its own words what was asked and found', (encoder, asked, found) => {
    const video = verdictOf(takeOf(encoder, { effort: 'light' }), []).facts.find((fact) => fact.name === 'Video');
    expect(plain(video?.asked ?? '')).toContain(asked);
    expect(plain(video?.found ?? '')).toContain(found);
    expect(video?.found).not.toContain('-');
  });
  it('ask no size of lossless, and hold a set bitrate to its rate', () => {
    const sizeOf = (take: Take) => verdictOf(take, []).facts.find((fact) => fact.name === 'Size');
    expect(sizeOf(takeOf('ffv1-software'))).toMatchObject({ asked: 'follows the picture', holds: null });
    const rateOf = (rateControl: 'constant-bitrate' | 'variable-bitrate', bitrateKbps: number) =>
      sizeOf(takeOf('avc-software', { rateControl, bitrateKbps, ceilingKbps: bitrateKbps }))?.holds;
    // 2.5 MB of picture in 10 s are 2 000 kb/s.
    expect([
      rateOf('constant-bitrate', 2000),
      rateOf('constant-bitrate', 1000),
      rateOf('constant-bitrate', 4000),
    ]).toEqual([true, false, false]);
    expect([rateOf('variable-bitrate', 4000), rateOf('variable-bitrate', 1000)]).toEqual([true, false]);
  });
  it('take red, green and blue without tags of a matrix', () => {
    const take = takeOf('ffv1-software', { pixels: 'rgb' });
    const picture = { ...take.facts!.picture, pixelFormat: 'bgr0', range: 'pc', matrix: 'gbr' };
    expect(failing({ ...take, facts: { ...take.facts!, picture } })).toEqual([]);
    expect(failing({ ...take, facts: { ...take.facts!, picture: { ...picture, pixelFormat: 'yuv444p' } } })).toEqual([
      'Colour',
    ]);
  });
  it.each([
    ['h264', 9, '1b'],
    ['h264', 51, '5.1'],
    ['h264', 40, '4'],
    ['hevc', 186, '6.2'],
    ['hevc', 150, '5'],
    ['av1', 0, '2.0'],
    ['av1', 13, '5.1'],
    ['av1', 31, null],
    ['mjpeg', -99, null],
  ])('level of %s %d is %s', (codec, level, words) => expect(levelWords({ codec, level })).toBe(words));
});
