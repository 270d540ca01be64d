import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { bytesPerHour, encoderFacts, minutesPerGigabyte, recipeDifferences } from '@mellow/core';
import { encoders, type Recipe, type Setup } from '@mellow/model';
import { AdviceList } from './AdviceList';
import { Arrows } from './Arrows';
import { CadenceStrip, withRate } from './CaptureSettings';
import { DriveSettings } from './DriveSettings';
import { EncodeSettings } from './EncodeSettings';
import { ForecastPanel } from './ForecastPanel';
import { GameSettings } from './GameSettings';
import { PackSettings } from './PackSettings';
import { showPath, testMachine, testPath, testRecipe, testSetup } from './pathTest.test-support';
import { sessionWords } from './pathWords';
import { SizeSettings } from './SizeSettings';
import { StationSheet } from './StationSheet';
import { TenSeconds } from './TenSeconds';
import { VersionsDialog } from './VersionsDialog';

const encode = (part: Partial<Recipe['encode']>): Partial<Setup> => ({
  draft: { ...testRecipe, encode: { ...testRecipe.encode, ...part } },
});

describe('forecast and advice', () => {
  it('put a clash first, and its remedy is one press', async () => {
    const path = testPath(encode({ bFrames: 2, lowDelay: true }));
    showPath(path, <ForecastPanel station="encode" />);
    await userEvent.click(screen.getAllByRole('button', { name: 'Set B-frames to 0' })[0]!);
    expect(path.applied.map((r) => r.encode.bFrames)).toEqual([0]);
  });
  it('show play cost, misses with their range, picture and what dies with the recorder', () => {
    const path = testPath();
    showPath(path, <ForecastPanel station="encode" />);
    const { without, with: during } = path.outlook!.play;
    expect(
      screen.getByLabelText(
        new RegExp(`Play cost, mean: ${during.meanFps.toFixed(1)} fps with, ${without.meanFps.toFixed(1)} fps without`),
      ),
    ).toBeInTheDocument();
    expect(screen.getByText(path.forecast.picture.ssim!.value.toFixed(3))).toBeInTheDocument();
    expect(screen.getByText(path.forecast.picture.word)).toBeInTheDocument();
    expect(screen.getByText(path.forecast.secondsLost!.toFixed(1))).toBeInTheDocument();
  });
  it('say that the simulation failed instead of showing old figures as new', () => {
    showPath(testPath({}, { outlook: null, outlookProblem: 'no memory' }), <ForecastPanel station="encode" />);
    expect(screen.getByText(/simulation failed: no memory/)).toBeInTheDocument();
    expect(screen.getAllByText('?').length).toBeGreaterThan(0);
  });
  it('show the drive’s side at Drive: minutes a gigabyte by the formula, sessions and speed against need', () => {
    const path = testPath();
    showPath(path, <ForecastPanel station="drive" />);
    expect(screen.getByText(minutesPerGigabyte(path.forecast.bits.value).toFixed(1))).toBeInTheDocument();
    expect(screen.getByText(/times the need/)).toHaveTextContent('200 MB/s');
    const each = (bytesPerHour(path.forecast.bits.value) * 90) / 60;
    expect(screen.getByText(String(Math.floor((1e11 - 48e6) / each)))).toBeInTheDocument();
  });
  it('list advice worst first, and never offer to change a locked setting', async () => {
    const change = encode({ rateControl: 'constant-bitrate', bitrateKbps: 900 });
    const free = testPath(change);
    expect(free.advice.some((a) => a.remedies.some((r) => r.recipe && r.recipe.encode.bitrateKbps !== 900))).toBe(true);
    const locked = testPath({ ...change, locks: ['bitrate'] });
    showPath(locked, <AdviceList station="encode" />);
    await userEvent.click(screen.getByRole('button', { name: /more to look at/ }));
    const titles = screen.getAllByRole('article').map((a) => within(a).getByRole('heading').textContent);
    expect(titles).toHaveLength(locked.advice.length);
    for (const button of screen.queryAllByRole('button').filter((b) => b.closest('article')))
      await userEvent.click(button);
    expect(locked.applied.every((r) => r.encode.bitrateKbps === 900)).toBe(true);
  });
});

describe('a considered value', () => {
  it('shows the four arrows by direction and figure', () => {
    showPath(
      testPath(),
      <Arrows
        words="18"
        waiting={false}
        arrows={[
          { name: 'picture', direction: 1, good: true, text: '0.993' },
          { name: 'size', direction: 1, good: false, text: '+1.82 GB/h' },
          { name: 'play cost', direction: 0, good: null, text: 'same' },
          { name: 'misses', direction: -1, good: true, text: '−0.4 /min' },
        ]}
      />,
    );
    expect(screen.getByRole('status')).toHaveTextContent('at 18');
    expect(screen.getAllByLabelText('up')).toHaveLength(2);
    expect(screen.getByLabelText('equal')).toBeInTheDocument();
    expect(screen.getByLabelText('down').parentElement).toHaveTextContent('misses −0.4 /min');
  });
  it('is looked at by pointer and by arrow keys before it is chosen', async () => {
    const path = testPath();
    showPath(path, <EncodeSettings />);
    await userEvent.hover(screen.getByText('thorough'));
    expect(path.looked.at(-1)?.encode.effort).toBe('thorough');
    screen.getByRole('radio', { name: 'lightest' }).focus();
    await userEvent.keyboard('{ArrowRight}');
    expect(path.looked.at(-1)?.encode.effort).toBe('light');
    expect(path.applied).toEqual([]);
    await userEvent.keyboard('{Enter}');
    expect(path.applied.map((r) => r.encode.effort)).toEqual(['light']);
  });
});

describe('Encode', () => {
  it('offers what the table of encoders says, and gives the reason of what does not work', () => {
    showPath(testPath(), <EncodeSettings />);
    const software = encoders.filter((e) => encoderFacts[e].place === 'software').map((e) => encoderFacts[e].standard);
    const standards = within(screen.getByRole('radiogroup', { name: 'Standard' }))
      .getAllByRole('radio')
      .map((r) => r.getAttribute('aria-label'));
    expect(standards).toEqual(software);
    expect(screen.getByRole('radio', { name: /processor graphics/ })).toBeDisabled();
    expect(screen.getByRole('radio', { name: /^graphics card/ })).toBeEnabled();
  });
  it('takes every value the new encoder does not know to the nearest that it does', async () => {
    const path = testPath(encode({ rateControl: 'lossless' }));
    showPath(path, <EncodeSettings />);
    await userEvent.click(screen.getByRole('radio', { name: /^graphics card/ }));
    expect(path.applied[0]?.encode).toMatchObject({ encoder: 'avc-card', rateControl: 'constant-quality' });
  });
  it('draws the ruler on the encoder’s own scale', () => {
    showPath(testPath(encode({ encoder: 'av1-software', quality: 30 })), <EncodeSettings />);
    expect(screen.getByRole('slider', { name: 'Quality' })).toHaveAttribute('aria-valuenow', '30');
    expect(Number(screen.getByRole('slider', { name: 'Quality' }).getAttribute('aria-valuemax'))).toBeGreaterThan(40);
  });
});

describe('stations', () => {
  it('Size names bars, stretch and enlargement', () => {
    const wide: Partial<Setup> = {
      game: { ...testSetup.game, widthPx: 2560, heightPx: 1080 },
      draft: { ...testRecipe, size: { ...testRecipe.size, widthPx: 1920, heightPx: 1080, fit: 'bars' } },
    };
    showPath(testPath(wide), <SizeSettings />).unmount();
    showPath(testPath(wide), <SizeSettings />);
    // 2560x1080 fitted into 1920x1080 has bars of 135 px above and below.
    expect(screen.getByText(/bars of 135 px above and below/)).toBeInTheDocument();
  });
  it('Size says when nothing is scaled', () => {
    showPath(testPath(), <SizeSettings />);
    expect(screen.getByText(/nothing to scale/)).toBeInTheDocument();
    expect(screen.getByText(/it works at another size than 1280×720/)).toBeInTheDocument();
  });
  it('Capture shows which frames a conversion repeats, and keeps the seconds between key pictures', () => {
    showPath(testPath(), <CadenceStrip from={{ num: 24, den: 1 }} to={{ num: 60, den: 1 }} />);
    expect(screen.getByText(/3 frames of 5 shown again/)).toBeInTheDocument();
    expect(
      withRate({ ...testRecipe, encode: { ...testRecipe.encode, keyDistanceFrames: 120 } }, { num: 30, den: 1 }).encode
        .keyDistanceFrames,
    ).toBe(60);
  });
  it('Pack says what is lost and shows the codec string', () => {
    showPath(testPath({ draft: { ...testRecipe, container: 'mp4' } }), <PackSettings />);
    expect(screen.getByText(/in a power cut perhaps all of it/)).toBeInTheDocument();
    expect(screen.getByText(/^avc1\./)).toBeInTheDocument();
  });
  it('Drive puts the name together from pills, and reads it out', async () => {
    const path = testPath();
    showPath(path, <DriveSettings />);
    expect(screen.getByText(/ trial 1\.mkv$/)).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: /^Add game/ }));
    expect(path.applied.at(-1)?.file.name.at(-1)).toEqual({ word: 'game' });
    await userEvent.type(screen.getByRole('textbox', { name: 'Add words of your own' }), 'night{Enter}');
    expect(path.applied.at(-1)?.file.name.at(-1)).toEqual({ text: 'night' });
    await userEvent.click(screen.getByRole('button', { name: 'Take out kind' }));
    expect(path.applied.at(-1)?.file.name).not.toContainEqual({ word: 'kind' });
    screen.getByRole('button', { name: /^number: arrow keys/ }).focus();
    await userEvent.keyboard('{ArrowLeft}');
    expect(path.applied.at(-1)?.file.name.at(-2)).toEqual({ word: 'number' });
    expect(screen.getByRole('radio', { name: 'Footage' })).toHaveAttribute('aria-checked', 'true');
  });
  it('Game stands in a sentence, and what is not known stands out', () => {
    showPath(
      testPath({ game: { ...testSetup.game, facts: { ...testSetup.game.facts, motion: null, driveId: null } } }),
      <GameSettings />,
    );
    expect(screen.getByRole('button', { name: 'Motion: not known. Change it' })).toHaveClass('open');
    expect(screen.getByRole('button', { name: /about 140 fps uncapped/ })).not.toHaveClass('open');
  });
  it('are put back to their start one by one', async () => {
    const path = testPath(encode({ quality: 30, effort: 'thorough' }));
    showPath({ ...path, recipe: { ...path.recipe, rate: { num: 25, den: 1 } } }, <StationSheet station="encode" />);
    await userEvent.click(screen.getByRole('button', { name: 'Back to start' }));
    expect(path.applied[0]?.encode).toEqual(testRecipe.encode);
    expect(path.applied[0]?.rate).toEqual({ num: 25, den: 1 });
  });
  it('tell both sides where practice disagrees', async () => {
    showPath(testPath(), <EncodeSettings />);
    await userEvent.click(screen.getByRole('button', { name: 'Why, Quality' }));
    expect(screen.getByText(/Finer, where takes are short/)).toHaveTextContent('Coarser, where sessions are long');
    expect(screen.getByText('What settles it:')).toBeInTheDocument();
  });
});

describe('the next ten seconds', () => {
  it('count repeats and misses by shape, and say whose machine is simulated', () => {
    const path = testPath({}, { machine: { ...testMachine, name: 'Kestrel', origin: 'simulated' } });
    showPath(path, <TenSeconds />);
    expect(screen.getByText(/on Kestrel, a simulated machine/)).toBeInTheDocument();
    const { counts } = path.outlook!.strip;
    expect(screen.getByText('capture misses', { exact: false }).parentElement).toHaveTextContent(
      `${counts['capture-miss']} capture`,
    );
    expect(path.outlook!.strip.dueFrames).toBe(600);
  });
});

describe('recipes of a setup', () => {
  it('are compared in words, and any is returned to', async () => {
    const better = { ...testRecipe, encode: { ...testRecipe.encode, quality: 18 } };
    const path = testPath({
      versions: [
        { number: 1, recipe: testRecipe, createdAt: '' },
        { number: 2, recipe: better, createdAt: '' },
      ],
    });
    showPath(path, <VersionsDialog onClose={() => {}} />);
    await userEvent.click(screen.getByRole('checkbox', { name: 'Compare Recipe 1' }));
    await userEvent.click(screen.getByRole('checkbox', { name: 'Compare Recipe 2' }));
    const comparison = within(screen.getByRole('region', { name: 'Comparison' }));
    expect(comparison.getByText(recipeDifferences(testRecipe, better).join(', '))).toBeInTheDocument();
    expect(comparison.getByText(/In forecast: .* GB\/h/)).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: 'Return to Recipe 2' }));
    expect(path.applied[0]?.encode.quality).toBe(18);
  });
});

it('sessions are named as people name them', () =>
  expect([20, 60, 90, 240].map(sessionWords)).toEqual(['20 min', '1 h', '1:30 h', '4 h']));
