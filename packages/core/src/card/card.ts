import {
  type Camera,
  machineOf,
  mostSounds,
  practiceSource,
  recipeCardFormat,
  recipeCardVersion,
  type Brief,
  type CardReport,
  type PracticeGame,
  type Recipe,
  type RecipeCard,
  type DriveFacts,
  type SoundInput,
  type Source,
} from '@mellow/model';
import { encoderFacts, encoderWords, withEncoder } from '../codec';
import { originText, type Forecast, type ForecastContext } from '../forecast';
import { recipeClashes, settingFacts, settingKeys, type Reason, type SettingKey } from '../recipe';
import { portableSounds } from '../sound';
import { bytesPerHour, minutesPerGigabyte } from '../storage';
import { capitalised, formatBytes, formatMs, formatSize, markdownText } from '../units';

export interface CardInput {
  name: string;
  madeAt: string;
  recipe: Recipe;
  context: ForecastContext;
  forecast: Forecast;
  reasons: readonly Reason[];
}

/** The shareable page of a recipe: settings that count, each with its reason where there is one, and the forecast with its origins. */
export function recipeCardOf({ name, madeAt, recipe, context, forecast, reasons }: CardInput): RecipeCard {
  const { game, brief, machine } = context;
  const reasonOf = (key: SettingKey): string => reasons.find((r) => r.setting === key)?.text ?? '';
  const shown = settingKeys.filter(
    (key) =>
      key !== 'source' &&
      key !== 'drive' &&
      key !== 'sources' &&
      key !== 'sounds' &&
      key !== 'card' &&
      (settingFacts[key].counts?.(recipe) ?? true),
  );
  // What stands on somebody's screen and desk is theirs, and is not there on another PC.
  const portable: Recipe = {
    ...recipe,
    source: practiceSource,
    sounds: portableSounds(recipe.sounds),
    camera: portableCamera(recipe.camera),
    // Which of several cards encodes is a matter of the PC they are in.
    encode: { ...recipe.encode, card: null },
  };
  const { bits, loads, picture, secondsLost } = forecast;
  const encode = loads.encode;
  return {
    format: recipeCardFormat,
    version: recipeCardVersion,
    name,
    madeAt,
    recipe: portable,
    brief,
    game: {
      title: game.title,
      widthPx: game.widthPx,
      heightPx: game.heightPx,
      capFps: game.capFps,
      motion: game.motion,
      detail: game.detail,
    },
    machine: machine ? machineOf(machine) : null,
    reasons: shown.map((key) => ({
      setting: capitalised(settingFacts[key].name),
      value: settingFacts[key].words(portable),
      why: reasonOf(key),
    })),
    forecast: [
      {
        name: 'Size',
        value: `${formatBytes(bytesPerHour(bits.value))} per hour (${formatBytes(bytesPerHour(bits.low))} to ${formatBytes(bytesPerHour(bits.high))})`,
        origin: originText(bits),
      },
      { name: 'Per gigabyte', value: `${minutesPerGigabyte(bits.value).toFixed(1)} min`, origin: '1 GB = 10⁹ bytes' },
      ...(encode
        ? [
            {
              name: 'Encode',
              value: `${formatMs(encode.busiest)} of ${formatMs(encode.budget)} in the busiest 1 %`,
              origin: originText(encode),
            },
          ]
        : []),
      {
        name: 'Picture',
        value: picture.ssim ? `${picture.word}, SSIM about ${picture.ssim.value.toFixed(3)}` : picture.word,
        origin: picture.ssim ? originText(picture.ssim) : 'lossless by definition',
      },
      {
        name: 'If the recorder dies',
        value: `at most ${secondsLost.toFixed(1)} s are lost`,
        origin: 'file type, and what the encoder holds',
      },
      {
        name: 'Level and codec string',
        value: forecast.codec ? `${forecast.level ?? ''}, ${forecast.codec}` : (forecast.level ?? 'none'),
        origin: 'the standard’s tables; RFC 6381',
      },
    ],
  };
}

/** "Kestrel (simulated), 8 cores, eight middling cores". */
export const cardMachineWords = (machine: RecipeCard['machine']): string =>
  machine
    ? `${machine.name}${machine.origin === 'simulated' ? ' (simulated)' : ''}, ${machine.cores} cores, ${machine.processor}`
    : 'a machine that is not known any more';

const row = (cells: readonly string[]): string => `| ${cells.map(markdownText).join(' | ')} |`;

/** The card as Markdown, with a step-by-step list to set it by hand. */
export function cardMarkdown(card: RecipeCard): string {
  const { game, machine } = card;
  return [
    `# ${markdownText(card.name)}`,
    '',
    `${markdownText(game.title)}, played at ${formatSize(game.widthPx, game.heightPx)}${game.capFps === null ? '' : `, cap ${game.capFps} fps`}. Made for ${markdownText(cardMachineWords(machine))}.`,
    '',
    '## Settings',
    '',
    row(['Setting', 'Value', 'Why']),
    row(['---', '---', '---']),
    ...card.reasons.map((r) => row([r.setting, r.value, r.why])),
    '',
    '## Forecast',
    '',
    row(['Figure', 'Value', 'Origin']),
    row(['---', '---', '---']),
    ...card.forecast.map((f) => row([f.name, f.value, f.origin])),
    '',
    '## Step by step',
    '',
    ...card.reasons.map((r, i) => `${i + 1}. ${markdownText(r.setting)}: ${markdownText(r.value)}.`),
    '',
  ].join('\n');
}

/** What of a card fits here: the recipe as it can be used, and a line for each setting that had to be changed. */
export function fitCard(
  card: RecipeCard,
  here: {
    game: PracticeGame;
    brief: Brief;
    machine: ForecastContext['machine'];
    drives: readonly DriveFacts[];
    driveId: string;
    source: Source;
    sounds: readonly SoundInput[];
    camera: Camera | null;
  },
): { recipe: Recipe; report: CardReport } {
  const report: CardReport = [];
  let recipe: Recipe = {
    ...card.recipe,
    source: here.source,
    sounds: soundsHere(card.recipe, here.sounds),
    camera: cameraHere(card.recipe.camera, here.camera),
  };
  const state = here.machine?.encoders.find((e) => e.encoder === recipe.encode.encoder);
  if (encoderFacts[recipe.encode.encoder].place !== 'software' && !state?.works) {
    const { standard } = encoderFacts[recipe.encode.encoder];
    const software = standard === 'HEVC' ? 'hevc-software' : standard === 'AV1' ? 'av1-software' : 'avc-software';
    report.push({
      setting: 'Encoder',
      text: `${encoderWords(recipe.encode.encoder)} does not work here${state?.reason ? `: ${state.reason}` : ', it was not proven'}. ${encoderWords(software)} was taken, which shares the processor with the game.`,
    });
    recipe = withEncoder(recipe, software);
  }
  if (!here.drives.some((drive) => drive.id === recipe.driveId)) {
    report.push({ setting: 'Drive', text: 'A drive belongs to a machine; yours was kept.' });
    recipe = { ...recipe, driveId: here.driveId };
  }
  if (card.game.widthPx !== here.game.widthPx || card.game.heightPx !== here.game.heightPx) {
    report.push({
      setting: 'Size',
      text: `The card was made for a game played at ${formatSize(card.game.widthPx, card.game.heightPx)}, yours is at ${formatSize(here.game.widthPx, here.game.heightPx)}. The file size was kept; look at the advice.`,
    });
  }
  for (const clash of recipeClashes(recipe)) report.push({ setting: 'Clash', text: `${clash.title}. ${clash.text}` });
  if (card.game.title !== here.game.title)
    report.push({
      setting: 'Game',
      text: `Made for ${card.game.title}: its forecast does not hold for ${here.game.title}.`,
    });
  return { recipe, report };
}

/** One's own devices stay; what the card hears beside them comes from what the system chooses. */
function soundsHere(shared: Recipe, own: readonly SoundInput[]): SoundInput[] {
  const further = portableSounds(shared.sounds).filter(({ id }) => own.every((sound) => sound.id !== id));
  return [...own, ...further].slice(0, mostSounds);
}

/** Where a camera lies is the recipe's; which one it is belongs to a PC. */
function portableCamera(camera: Camera | null): Camera | null {
  return camera && { ...camera, from: { kind: 'stand-in' } };
}

/** A card's camera is one's own, where one has one, in the card's place. */
function cameraHere(shared: Camera | null, own: Camera | null): Camera | null {
  return shared && { ...shared, from: own?.from ?? { kind: 'stand-in' } };
}
