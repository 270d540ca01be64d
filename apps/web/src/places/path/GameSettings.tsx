import { formatSize, plural } from '@mellow/core';
import type { PracticeGame } from '@mellow/model';
import { NumberField, TypedField } from '../../parts/NumberField';
import { Rail } from '../../parts/Rail';
import { useChangeSetupMutation } from '../../store/api';
import { Setting } from './Setting';
import type { StationSettingsProps } from './StationSheet';

const sizes = [[640, 360], [1280, 720], [1920, 1080], [2560, 1440]] as const;
const caps = ['30', '60', '120', '240', 'none'] as const;
const levels = [['still', 0], ['slow', 0.3], ['middle', 0.6], ['fast', 1]] as const;
const details = [['plain', 0], ['some', 0.4], ['dense', 1]] as const;

const nearest = (pairs: readonly (readonly [string, number])[], value: number): string =>
  [...pairs].sort((a, b) => Math.abs(a[1] - value) - Math.abs(b[1] - value))[0]?.[0] ?? '';

/** The practice game stands in for a game; its facts are settings of its own, not of the recipe. */
export function GameSettings({ setup }: StationSettingsProps) {
  const [changeSetup] = useChangeSetupMutation();
  const { game } = setup;
  const change = (part: Partial<PracticeGame>) => void changeSetup({ id: setup.id, patch: { game: { ...game, ...part } } });
  const size = `${game.widthPx}x${game.heightPx}`;
  const known = sizes.some(([w, h]) => `${w}x${h}` === size);
  return (
    <>
      <Setting label="Title" why="The practice game, a stand-in that ships with Mellow Frame: it really draws, plays and uses the processor, and measures its own frame times.">
        <TypedField wide label="Title" text={game.title} parse={(text) => (text.trim() && text.length <= 60 ? { value: text.trim() } : { problem: 'A title has 1 to 60 signs.' })} onChange={(title) => change({ title })} />
      </Setting>
      <Setting label="Drawn at">
        <Rail label="Drawn at" hue="game" value={size} choices={[...sizes.map(([w, h]) => ({ value: `${w}x${h}`, label: formatSize(w, h) })), ...(known ? [] : [{ value: size, label: formatSize(game.widthPx, game.heightPx) }])]}
          onChange={(value) => { const [w, h] = value.split('x').map(Number); change({ widthPx: w ?? 1280, heightPx: h ?? 720 }); }} />
      </Setting>
      <Setting label="Cap" why="At twice the file’s rate every due frame finds a new picture; without a cap the game takes all the processor it can get.">
        <Rail label="Cap" hue="game" value={caps.find((c) => c === String(game.capFps ?? 'none')) ?? null} choices={caps.map((c) => ({ value: c, label: c === 'none' ? 'no cap' : `${c} fps` }))} onChange={(c) => change({ capFps: c === 'none' ? null : Number(c) })} />
      </Setting>
      <Setting label="Motion">
        <Rail label="Motion" hue="game" value={nearest(levels, game.motion)} choices={levels.map(([value]) => ({ value, label: value }))} onChange={(v) => change({ motion: levels.find(([name]) => name === v)?.[1] ?? 0.6 })} />
        <Rail label="Detail" hue="game" value={nearest(details, game.detail)} choices={details.map(([value]) => ({ value, label: `${value} detail` }))} onChange={(v) => change({ detail: details.find(([name]) => name === v)?.[1] ?? 0.4 })} />
      </Setting>
      <Setting label="Extra load" why="Processor work per frame beside drawing, half as much again in busy passages.">
        <NumberField label="Extra load" value={game.extraLoadUs / 1000} min={0} max={100} step={0.1} unit="ms" onChange={(ms) => change({ extraLoadUs: Math.round(ms * 1000) })} />
      </Setting>
      <Setting label="Number strip" why="Each picture carries its number, and flash and click come each second: the file can be accounted for frame by frame. On a still scene it costs about 60 kb/s.">
        <Rail label="Number strip" hue="game" value={game.strip ? 'on' : 'off'} choices={[{ value: 'off', label: 'off' }, { value: 'on', label: 'on' }]} onChange={(v) => change({ strip: v === 'on' })} />
      </Setting>
      <p className="small soft">Passages: {game.passages.map((p) => `${p.kind} ${plural(p.seconds, 'second')}`).join(', ')}, then again. Its own frame rate is known, since it counts itself.</p>
    </>
  );
}
