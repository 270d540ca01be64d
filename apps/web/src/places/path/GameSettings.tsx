import { capitalised, formatSize, plural, practiceSceneWords, withScene } from '@mellow/core';
import {
  antiCheats,
  extras,
  limiters,
  practiceScenes,
  windowModes,
  type GameFacts,
  type PracticeGame,
} from '@mellow/model';
import { NumberField, TypedField } from '../../parts/NumberField';
import { Rail } from '../../parts/Rail';
import { useAppSelector } from '../../store/store';
import { useChangeSetupMutation } from '../../store/api';
import { GameSentence } from './GameSentence';
import { usePath } from './pathContext';
import { PlainRow } from './SettingRow';

const sizes = [
  [640, 360],
  [1280, 720],
  [1920, 1080],
  [2560, 1440],
] as const;
const caps = ['30', '60', '120', '240', 'none'] as const;
const levels = [
  ['still', 0],
  ['slow', 0.3],
  ['middle', 0.6],
  ['fast', 1],
] as const;
const details = [
  ['plain', 0],
  ['some', 0.4],
  ['dense', 1],
] as const;

const nearest = (pairs: readonly (readonly [string, number])[], value: number): string =>
  [...pairs].sort((a, b) => Math.abs(a[1] - value) - Math.abs(b[1] - value))[0]?.[0] ?? '';

/** The game's facts are settings of its own, not of the recipe; the practice game stands in for a game. */
export function GameSettings() {
  const { setup, machine, context } = usePath();
  const all = useAppSelector((state) => state.ui.allSettings);
  const [changeSetup] = useChangeSetupMutation();
  const { game } = setup;
  const change = (part: Partial<PracticeGame>) =>
    void changeSetup({ id: setup.id, patch: { game: { ...game, ...part } } });
  const size = `${game.widthPx}x${game.heightPx}`;
  const known = sizes.some(([w, h]) => `${w}x${h}` === size);
  return (
    <>
      <p className="game-sentence">
        <GameSentence game={game} drives={context.drives} onChange={change} />
      </p>
      <PlainRow label="Drawn at">
        <Rail
          label="Drawn at"
          hue="game"
          value={size}
          choices={[
            ...sizes.map(([w, h]) => ({ value: `${w}x${h}`, label: formatSize(w, h) })),
            ...(known ? [] : [{ value: size, label: formatSize(game.widthPx, game.heightPx) }]),
          ]}
          onChange={(value) => {
            const [w, h] = value.split('x').map(Number);
            change({ widthPx: w ?? 1280, heightPx: h ?? 720 });
          }}
        />
      </PlainRow>
      <PlainRow
        label="Cap"
        under={
          <p className="small soft">
            At twice the file’s rate every due frame finds a new picture. Against a cap: some limiters hold a game back;
            a trial without it tells.
          </p>
        }
      >
        <Rail
          label="Cap"
          hue="game"
          value={caps.find((c) => c === String(game.capFps ?? 'none')) ?? null}
          choices={caps.map((c) => ({ value: c, label: c === 'none' ? 'no cap' : `${c} fps` }))}
          onChange={(c) => change({ capFps: c === 'none' ? null : Number(c) })}
        />
      </PlainRow>
      {game.kind === 'practice' && (
        <PracticeSettings game={game} onChange={change} on={machine?.origin === 'simulated' ? machine.name : null} />
      )}
      {all && <FurtherFacts game={game} onChange={change} />}
    </>
  );
}

/** What the practice game draws and computes; a game of one's own does that by itself. */
function PracticeSettings({
  game,
  onChange: change,
  on,
}: {
  game: PracticeGame;
  onChange: (part: Partial<PracticeGame>) => void;
  on: string | null;
}) {
  return (
    <>
      <PlainRow
        label="Scene"
        under={
          <p className="small soft">
            The practice game draws {practiceSceneWords[game.scene].about}. Passages:{' '}
            {game.passages.map((p) => `${p.kind} ${plural(p.seconds, 'second')}`).join(', ')}, then again.
          </p>
        }
      >
        <Rail
          label="Scene"
          hue="game"
          value={game.scene}
          choices={practiceScenes.map((scene) => ({ value: scene, label: practiceSceneWords[scene].title }))}
          onChange={(scene) => change(withScene(game, scene))}
        />
        <Rail
          label="Motion of the scene"
          hue="game"
          value={nearest(levels, game.motion)}
          choices={levels.map(([value]) => ({ value, label: value }))}
          onChange={(v) => change({ motion: levels.find(([name]) => name === v)?.[1] ?? 0.6 })}
        />
        <Rail
          label="Detail"
          hue="game"
          value={nearest(details, game.detail)}
          choices={details.map(([value]) => ({ value, label: `${value} detail` }))}
          onChange={(v) => change({ detail: details.find(([name]) => name === v)?.[1] ?? 0.4 })}
        />
      </PlainRow>
      <GameWork game={game} onChange={change} on={on} />
      <PlainRow label="Number strip">
        <Rail
          label="Number strip"
          hue="game"
          value={game.strip ? 'on' : 'off'}
          choices={[
            { value: 'off', label: 'off' },
            { value: 'on', label: 'on' },
          ]}
          onChange={(v) => change({ strip: v === 'on' })}
        />
        <span className="soft small">each picture carries its number, flash and click come each second</span>
      </PlainRow>
    </>
  );
}

/** What the practice game computes beside drawing: as a game does, on a main thread and on helpers a frame waits for. */
function GameWork({
  game,
  onChange,
  on,
}: {
  game: PracticeGame;
  onChange: (part: Partial<PracticeGame>) => void;
  on: string | null;
}) {
  return (
    <PlainRow
      label="Its work"
      under={
        <p className="small soft">
          Processor work a frame beside drawing, more in busy passages. A frame waits for all helpers
          {on ? `; on ${on} at its own speed` : ''}.
        </p>
      }
    >
      <WorkField
        label="Work of the main thread"
        us={game.extraLoadUs}
        onChange={(extraLoadUs) => onChange({ extraLoadUs })}
      />
      <span className="soft small">and</span>
      <NumberField
        label="Helpers"
        value={game.helpers}
        min={0}
        max={4}
        unit={game.helpers === 1 ? 'helper' : 'helpers'}
        onChange={(helpers) => onChange({ helpers })}
      />
      {game.helpers > 0 && (
        <>
          <span className="soft small">of</span>
          <WorkField
            label="Work of each helper"
            us={game.helperLoadUs}
            onChange={(helperLoadUs) => onChange({ helperLoadUs })}
          />
        </>
      )}
    </PlainRow>
  );
}

/** Work of a frame: typed in milliseconds, kept in microseconds. */
function WorkField({ label, us, onChange }: { label: string; us: number; onChange: (us: number) => void }) {
  const range = { min: 0, max: 100, step: 0.1, unit: 'ms' } as const;
  return <NumberField label={label} value={us / 1000} {...range} onChange={(ms) => onChange(Math.round(ms * 1000))} />;
}

/** What may get in a recording's way; checks and advice go by it, and nothing of the game is ever changed. */
function FurtherFacts({ game, onChange }: { game: PracticeGame; onChange: (part: Partial<PracticeGame>) => void }) {
  const { facts } = game;
  const set = (part: Partial<GameFacts>) => onChange({ facts: { ...facts, ...part } });
  const toggle = <T extends string>(list: readonly T[], value: T): T[] =>
    list.includes(value) ? list.filter((v) => v !== value) : [...list, value];
  return (
    <>
      <PlainRow label="Shown in">
        <Rail
          label="Window mode"
          hue="game"
          value={facts.windowMode}
          choices={windowModes.map((m) => ({ value: m, label: m === 'full-screen' ? 'full screen' : m }))}
          onChange={(windowMode) => set({ windowMode })}
        />
      </PlainRow>
      <PlainRow label="Memory">
        <NumberField
          label="Memory it needs"
          value={facts.memoryGb ?? 0}
          min={0}
          max={256}
          step={0.5}
          unit="GB"
          onChange={(gb) => set({ memoryGb: gb === 0 ? null : gb })}
        />
        <span className="soft small">0: I do not know</span>
      </PlainRow>
      <PlainRow label="Anti-cheat">
        <Rail
          label="Anti-cheat"
          hue="game"
          value={facts.antiCheat}
          choices={antiCheats.map((a) => ({ value: a, label: a }))}
          onChange={(antiCheat) => set({ antiCheat })}
        />
      </PlainRow>
      <PlainRow label="Small text">
        <NumberField
          label="Height of its smallest text"
          value={facts.smallTextPx}
          min={4}
          max={200}
          unit="px"
          onChange={(smallTextPx) => set({ smallTextPx })}
        />
      </PlainRow>
      <PlainRow label="Keys it uses">
        <TypedField
          wide
          label="Keys it uses"
          text={facts.keys.join(' ')}
          parse={(text) => {
            const keys = text.split(/[\s,]+/).filter(Boolean);
            return keys.length > 60 || keys.some((k) => k.length > 20)
              ? { problem: 'At most 60 keys, separated by spaces.' }
              : { value: keys };
          }}
          onChange={(keys) => set({ keys })}
        />
      </PlainRow>
      <Tokens
        label="Held back by"
        choices={limiters}
        value={facts.limiters}
        onToggle={(v) => set({ limiters: toggle(facts.limiters, v) })}
      />
      <Tokens
        label="Runs beside"
        choices={extras}
        value={facts.extras}
        onToggle={(v) => set({ extras: toggle(facts.extras, v) })}
      />
      <PlainRow label="Notes">
        <TypedField
          wide
          label="Notes"
          text={facts.notes}
          parse={(text) => (text.length > 1000 ? { problem: 'At most 1 000 signs.' } : { value: text })}
          onChange={(notes) => set({ notes })}
        />
      </PlainRow>
    </>
  );
}

function Tokens<T extends string>({
  label,
  choices,
  value,
  onToggle,
}: {
  label: string;
  choices: readonly T[];
  value: readonly T[];
  onToggle: (value: T) => void;
}) {
  return (
    <PlainRow label={label}>
      <div className="tokens hue-game" role="group" aria-label={label}>
        {choices.map((choice) => (
          <button
            key={choice}
            type="button"
            className="token"
            aria-pressed={value.includes(choice)}
            onClick={() => onToggle(choice)}
          >
            {capitalised(choice)}
          </button>
        ))}
      </div>
    </PlainRow>
  );
}
