import { formatFps, formatSize } from '@mellow/core';
import {
  mostGamePx,
  motions,
  windowModes,
  type DriveFacts,
  type GameFacts,
  type Motion,
  type PracticeGame,
} from '@mellow/model';
import { NumberField, TypedField } from '../../parts/NumberField';
import { WordEditor, WordMenu } from '../../parts/WordMenu';
import { Button } from '../../parts/Button';
import { FrameTimesFile } from './FrameTimesFile';

export interface GameSentenceProps {
  game: PracticeGame;
  drives: readonly DriveFacts[];
  onChange: (part: Partial<PracticeGame>) => void;
}

const unknown = 'unknown';
const windowWords = { 'full-screen': 'full screen', borderless: 'without a border', window: 'in a window' } as const;

/** What is known of the game, as a sentence whose dashed words open an editor; "I do not know" is an answer. */
export function GameSentence({ game, drives, onChange }: GameSentenceProps) {
  const { facts } = game;
  const set = (part: Partial<GameFacts>) => onChange({ facts: { ...facts, ...part } });
  const driveWord =
    facts.driveId === null
      ? 'a drive not known'
      : facts.driveId === 'elsewhere'
        ? 'a drive not listed here'
        : (drives.find((d) => d.id === facts.driveId)?.name ?? 'a drive that is gone');
  return (
    <>
      <WordEditor label="Title" word={game.title}>
        {(close) => (
          <TypedField
            wide
            label="Title"
            text={game.title}
            parse={(text) =>
              text.trim() && text.length <= 60 ? { value: text.trim() } : { problem: 'A title has 1 to 60 signs.' }
            }
            onChange={(title) => {
              onChange({ title });
              close();
            }}
          />
        )}
      </WordEditor>
      {' played at '}
      <WordEditor label="Size it is played at" word={formatSize(game.widthPx, game.heightPx)}>
        {() => (
          <span className="row">
            <NumberField
              label="Width it is played at"
              value={game.widthPx}
              min={320}
              max={mostGamePx[game.kind].widthPx}
              step={2}
              unit="wide"
              onChange={(widthPx) => onChange({ widthPx })}
            />
            <NumberField
              label="Height it is played at"
              value={game.heightPx}
              min={180}
              max={mostGamePx[game.kind].heightPx}
              step={2}
              unit="high"
              onChange={(heightPx) => onChange({ heightPx })}
            />
          </span>
        )}
      </WordEditor>
      {', '}
      <WordMenu
        label="Shown"
        word={windowWords[facts.windowMode]}
        value={facts.windowMode}
        choices={windowModes.map((m) => ({ value: m, label: windowWords[m] }))}
        onChange={(windowMode) => set({ windowMode })}
      />
      {', '}
      <WordEditor
        label="Frame rate without a cap"
        word={facts.freeFps === null ? 'at a rate not known' : `about ${formatFps(facts.freeFps)} uncapped`}
        open={facts.freeFps === null}
      >
        {(close) => (
          <>
            <NumberField
              label="Frames a second without a cap"
              value={facts.freeFps ?? 120}
              min={1}
              max={1000}
              unit="fps"
              onChange={(freeFps) => set({ freeFps })}
            />
            <FrameTimesFile
              onRead={(freeFps) => {
                set({ freeFps });
                close();
              }}
            />
            <Button
              quiet
              onClick={() => {
                set({ freeFps: null });
                close();
              }}
            >
              I do not know: a trial tells
            </Button>
          </>
        )}
      </WordEditor>
      {game.capFps === null ? ', no cap' : `, cap ${formatFps(game.capFps)}`}
      {', motion '}
      <WordMenu
        label="Motion"
        word={facts.motion ?? 'not known'}
        open={facts.motion === null}
        value={facts.motion ?? unknown}
        choices={[
          ...motions.map((m) => ({ value: m as Motion | typeof unknown, label: m })),
          { value: unknown, label: 'I do not know' },
        ]}
        onChange={(m) => set({ motion: m === unknown ? null : m })}
      />
      {', read from '}
      <WordMenu
        label="Drive it is read from"
        word={driveWord}
        open={facts.driveId === null}
        value={facts.driveId ?? unknown}
        choices={[
          ...drives.map((d) => ({ value: d.id, label: d.name })),
          { value: 'elsewhere', label: 'a drive not listed here' },
          { value: unknown, label: 'I do not know' },
        ]}
        onChange={(id) => set({ driveId: id === unknown ? null : id })}
      />
      {'.'}
    </>
  );
}
