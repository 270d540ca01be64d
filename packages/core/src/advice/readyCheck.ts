import { isGrabbed, type LimitName, type Recipe, type SoundLevel, type Take } from '@mellow/model';
import { encoderFacts, encoderWords } from '../codec';
import type { Forecast, ForecastContext } from '../forecast';
import { judgeRecipe, type Judgement } from '../judge';
import { fitInto, shapeName } from '../picture';
import { sourceWords } from '../recipe/words';
import { isHeard } from '../sound/soundWords';
import { capitalised, formatFps, framesPerSecond, listWords } from '../units';

/** One line of what is looked at before rolling. */
export interface ReadyLine {
  id: string;
  name: string;
  found: string;
  /** Null: nobody knows yet. */
  fine: boolean | null;
}

/** Whether a picture of the source was seen just now: what a look found, or why there is none. */
export interface SeenSource {
  trouble: 'black' | 'frozen' | null;
  problem: string | null;
}

/**
 * What is looked at before a take rolls, beside the clashes and the advice: each line says what was found, and whether that is fine;
 * what has a limit is judged by it.
 * @param tried the last trial of this very recipe; null where there was none
 * @param seen null where the source is not looked at
 * @param heard how each sound is doing now; null where nothing is listened to
 */
export function readyLines(
  recipe: Recipe,
  context: ForecastContext,
  forecast: Forecast,
  tried: Take | null,
  seen: SeenSource | null,
  heard: readonly SoundLevel[] | null,
): ReadyLine[] {
  const { game, machine } = context;
  const judged = judgeRecipe(recipe, context, forecast, null);
  const drive = context.drives.find(({ id }) => id === recipe.driveId) ?? null;
  return [
    pictureLine(recipe, seen),
    soundLine(recipe, heard),
    judgedLine('game', 'Game shows enough', judged, 'repeats'),
    shapeLine(recipe, game),
    {
      id: 'drive',
      name: 'Drive',
      found: drive
        ? `${drive.name}${game.facts.driveId === drive.id ? ', the game’s own' : game.facts.driveId ? ', not the game’s' : ''}`
        : 'none chosen',
      fine: drive !== null && game.facts.driveId !== drive.id,
    },
    judgedLine('room', 'Room', judged, 'room'),
    judgedLine('speed', 'Write speed', judged, 'drive-rate'),
    judgedLine('safe', 'Crash-safe file', judged, 'if-it-dies'),
    judgedLine('editor', 'Opens in the editor', judged, 'opens'),
    triedLine(tried),
    encoderLine(recipe, machine),
    {
      id: 'background',
      name: 'Background',
      found: game.facts.extras.length ? game.facts.extras.join(', ') : 'nothing is said to run',
      fine: !game.facts.extras.some((extra) => extra === 'another recorder' || extra === 'picture filters'),
    },
  ];
}

/** A limit as a line: held, beyond, or not certain; what is not asked is fine. */
function judgedLine(id: string, name: string, judged: readonly Judgement[], limit: LimitName): ReadyLine {
  const one = judged.find((judgement) => judgement.limit === limit);
  if (!one)
    return {
      id,
      name,
      found: limit === 'opens' ? 'the editor opens anything' : 'not known',
      fine: limit === 'opens' ? true : null,
    };
  const fine = one.state === 'held' ? true : one.beyond ? false : null;
  return { id, name, found: fine ? one.found : `${one.found}; ${one.asked} asked`, fine };
}

/** What the last trial of this very recipe said. */
function triedLine(tried: Take | null): ReadyLine {
  const line = { id: 'tried', name: 'Tried' };
  if (!tried?.verdict) return { ...line, found: 'no trial of this recipe yet', fine: null };
  const trial = `trial ${tried.number}`;
  if (tried.summary?.disturbed) return { ...line, found: `${trial} was disturbed and does not count`, fine: null };
  const { mark, limits } = tried.verdict;
  const open = limits.filter(({ state, known }) => state !== 'held' && known);
  const names = listWords(open.map(({ name }) => name.toLowerCase()));
  if (mark === 'keep') return { ...line, found: `${trial} held every limit that it measured`, fine: true };
  return mark === 'unclear'
    ? { ...line, found: `${trial}, not certain: ${names}`, fine: null }
    : { ...line, found: `${trial}, beyond its limits: ${names || 'see its verdict'}`, fine: false };
}

function pictureLine({ source, rate }: Recipe, seen: SeenSource | null): ReadyLine {
  const line = { id: 'picture', name: 'Picture arrives' };
  if (!isGrabbed(source)) return { ...line, found: `${sourceWords(source)} begins with the take`, fine: true };
  if (!seen) return { ...line, found: 'not looked at yet', fine: null };
  if (seen.problem) return { ...line, found: seen.problem, fine: false };
  if (seen.trouble)
    return {
      ...line,
      found: seen.trouble === 'black' ? 'black for 3 s' : 'still for 3 s',
      fine: seen.trouble === 'frozen' ? null : false,
    };
  return { ...line, found: `${capitalised(sourceWords(source))}, for ${formatFps(framesPerSecond(rate))}`, fine: true };
}

/** Sounds of the practice game come with the take; one that is closed by hand or by its key is meant to be silent. */
function soundLine({ sounds, lanes }: Recipe, heard: readonly SoundLevel[] | null): ReadyLine {
  const line = { id: 'sound', name: 'Sound arrives' };
  const wanted = sounds.filter(({ id }) => lanes.some(({ sources }) => sources.includes(id)));
  if (!wanted.length) return { ...line, found: 'the recipe keeps none', fine: null };
  const outside = wanted.filter((sound) => sound.from.kind !== 'practice' && isHeard(sound));
  const closed = wanted.filter((sound) => !isHeard(sound));
  const closedWords = closed.length ? `; closed: ${namesOf(closed)}` : '';
  if (!outside.length)
    return {
      ...line,
      found:
        closed.length === wanted.length ? `all are closed: ${namesOf(closed)}` : `begins with the take${closedWords}`,
      fine: closed.length === 0 ? true : null,
    };
  const stateOf = (id: string) => heard?.find((level) => level.id === id)?.state ?? 'opening';
  const of = (state: SoundLevel['state']) => outside.filter(({ id }) => stateOf(id) === state);
  const away = of('away');
  if (away.length)
    return { ...line, found: `${namesOf(away)} ${away.length > 1 ? 'do' : 'does'} not come`, fine: false };
  const silent = of('silent');
  if (silent.length) return { ...line, found: `${namesOf(silent)}: silent${closedWords}`, fine: null };
  if (of('opening').length) return { ...line, found: 'not listened to yet', fine: null };
  return { ...line, found: `${namesOf(outside)}${closedWords}`, fine: closed.length === 0 ? true : null };
}

function namesOf(sounds: readonly { name: string }[]): string {
  return listWords(sounds.map(({ name }) => name));
}

function shapeLine({ size }: Recipe, game: { widthPx: number; heightPx: number }): ReadyLine {
  const { barsPx, cutShare, stretch } = fitInto(game, size, size.fit);
  const bars = barsPx.side > 0 || barsPx.top > 0;
  const words = bars
    ? 'bars'
    : cutShare > 0
      ? 'edges cut off'
      : Math.abs(stretch - 1) > 0.005
        ? 'stretched'
        : 'no bars';
  return {
    id: 'shape',
    name: 'Shape',
    found: `${shapeName(game)} into ${shapeName(size)}, ${words}`,
    fine: words === 'no bars',
  };
}

function encoderLine({ encode }: Recipe, machine: ForecastContext['machine']): ReadyLine {
  const state = machine?.encoders.find(({ encoder }) => encoder === encode.encoder) ?? null;
  const line = { id: 'encoder', name: 'Encoder' };
  if (!state)
    return {
      ...line,
      found: `${encoderWords(encode.encoder)}, not proven yet`,
      fine: encoderFacts[encode.encoder].place === 'software' ? true : null,
    };
  return {
    ...line,
    found: state.works ? `${encoderWords(encode.encoder)}, proven here` : (state.reason ?? 'does not work here'),
    fine: state.works,
  };
}
