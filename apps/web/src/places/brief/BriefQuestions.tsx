import { useState, type KeyboardEvent } from 'react';
import { hasQualityNumber, bytesPerHour, formatBytes, forecastOf, type ForecastContext } from '@mellow/core';
import {
  cameras,
  concerns,
  destinations,
  editors,
  soundLayouts,
  type Brief,
  type Concern,
  type Setup,
} from '@mellow/model';
import { NumberField } from '../../parts/NumberField';
import { NumberRail } from '../../parts/NumberRail';
import { Rail } from '../../parts/Rail';
import { sessionWords } from '../path/pathWords';
import {
  cameraWords,
  concernHues,
  concernWords,
  destinationWords,
  editorWords,
  soundWordsOf,
  type FinerQuestion,
} from './questions';

export interface QuestionProps {
  brief: Brief;
  onChange: (part: Partial<Brief>) => void;
}
interface SizePx {
  widthPx: number;
  heightPx: number;
}

const lineSteps = ['720', '1080', '1440', '2160'] as const;
const fpsSteps = ['24', '30', '60', '120'] as const;

/** Where it is shown, how large and how fast at most. */
export function ShownQuestion({
  brief,
  onChange,
  game,
  file,
  lines,
  fps,
}: QuestionProps & { game: SizePx; file: SizePx; lines: boolean; fps: boolean }) {
  return (
    <>
      <Rail
        label="Shown"
        hue="size"
        value={brief.destination}
        choices={destinations.map((d) => ({ value: d, label: destinationWords[d].rail }))}
        onChange={(destination) => onChange({ destination })}
      />
      <div className="brief-shown">
        <div>
          {lines && (
            <div className="brief-line">
              <span className="soft">at most</span>
              <Rail
                label="Lines shown"
                hue="size"
                value={lineSteps.find((l) => l === String(brief.shownLines)) ?? null}
                choices={lineSteps.map((l) => ({ value: l, label: l }))}
                onChange={(l) => onChange({ shownLines: Number(l) })}
              />
              <NumberField
                label="Lines shown, typed"
                value={brief.shownLines}
                min={240}
                max={4320}
                unit="lines"
                onChange={(shownLines) => onChange({ shownLines })}
              />
            </div>
          )}
          {fps && (
            <div className="brief-line">
              <span className="soft">and</span>
              <Rail
                label="Rate shown"
                hue="capture"
                value={fpsSteps.find((l) => l === String(brief.shownFps)) ?? null}
                choices={fpsSteps.map((l) => ({ value: l, label: l }))}
                onChange={(l) => onChange({ shownFps: Number(l) })}
              />
              <NumberField
                label="Rate shown, typed"
                value={brief.shownFps}
                min={15}
                max={480}
                unit="fps"
                onChange={(shownFps) => onChange({ shownFps })}
              />
            </div>
          )}
          {brief.destination === 'broadcaster' && (
            <div className="brief-line">
              <span className="soft">mains</span>
              <Rail
                label="Mains"
                hue="capture"
                value={String(brief.mainsHz)}
                choices={[
                  { value: '60', label: '60 Hz' },
                  { value: '50', label: '50 Hz' },
                ]}
                onChange={(hz) => onChange({ mainsHz: hz === '50' ? 50 : 60 })}
              />
            </div>
          )}
        </div>
        <SizesPicture game={game} file={file} />
      </div>
    </>
  );
}

/** Played and filed sizes inside each other, against 720 and 2160 lines. */
function SizesPicture({ game, file }: { game: SizePx; file: SizePx }) {
  const [width, height] = [92, 52];
  const most = { widthPx: 3840, heightPx: 2160 };
  const scale = Math.min(width / Math.max(most.widthPx, game.widthPx), height / Math.max(most.heightPx, game.heightPx));
  const box = (s: SizePx) => ({
    x: 0.5,
    y: height - s.heightPx * scale + 0.5,
    width: s.widthPx * scale - 1,
    height: s.heightPx * scale - 1,
  });
  const same = game.widthPx === file.widthPx && game.heightPx === file.heightPx;
  return (
    <svg
      width={width + 74}
      height={height + 2}
      className="brief-sizes"
      role="img"
      aria-label={`Played at ${game.widthPx} by ${game.heightPx}, filed at ${file.widthPx} by ${file.heightPx}`}
    >
      <rect {...box(most)} fill="none" stroke="var(--tick)" strokeDasharray="2 2" />
      <text x={width - 4} y={13} textAnchor="end">
        2160
      </text>
      <rect {...box(game)} fill="none" stroke="var(--game)" strokeWidth="1.500" />
      <rect {...box(file)} fill="var(--size)" fillOpacity="0.2" stroke="var(--size)" strokeWidth="1.500" />
      <rect {...box({ widthPx: 1280, heightPx: 720 })} fill="none" stroke="var(--tick)" />
      <text x={width + 6} y={height - 18} className="size">
        {file.heightPx} filed
      </text>
      {!same && (
        <text x={width + 6} y={height - 4} className="game">
          {game.heightPx} played
        </text>
      )}
      {same && (
        <text x={width + 6} y={height - 4} className="game">
          as played
        </text>
      )}
    </svg>
  );
}

/** How long a take is, with the trade it makes: two qualities, two sizes. */
export function SessionQuestion({
  brief,
  onChange,
  setup,
  context,
}: QuestionProps & { setup: Setup; context: ForecastContext }) {
  const { start } = setup;
  const bytes = (quality: number): number =>
    (bytesPerHour(forecastOf({ ...start, encode: { ...start.encode, quality } }, context).bits.value) *
      brief.sessionMinutes) /
    60;
  const { quality, rateControl } = start.encode;
  return (
    <>
      <NumberRail
        logarithmic
        label="Session"
        hue="encode"
        value={brief.sessionMinutes}
        min={5}
        max={480}
        step={1}
        unit="min"
        marks={[5, 10, 20, 45, 90, 180, 360]}
        format={(m) => sessionWords(Math.round(m)).replace(' h', 'h').replace(' min', '')}
        onChange={(sessionMinutes) => onChange({ sessionMinutes })}
      />
      {hasQualityNumber({ rateControl }) && (
        <p>
          At {quality - 2} a take of {sessionWords(brief.sessionMinutes)} is {formatBytes(bytes(quality - 2))}, at{' '}
          {quality} it is {formatBytes(bytes(quality))}. <span className="soft">The choice is yours.</span>
        </p>
      )}
    </>
  );
}

export function EditorQuestion({ brief, onChange }: QuestionProps) {
  return (
    <>
      <Rail
        label="Editor"
        hue="pack"
        value={brief.editor}
        choices={editors.map((e) => ({ value: e, label: editorWords[e] }))}
        onChange={(editor) => onChange({ editor })}
      />
      {/* As light as it gets keeps one lane, whatever is answered. */}
      {brief.purpose !== 'light' && (
        <div className="brief-line">
          <span className="soft">sound</span>
          <Rail
            label="Sound"
            hue="sound"
            value={brief.soundLayout}
            choices={soundLayouts.map((s) => ({ value: s, label: soundWordsOf[s] }))}
            onChange={(soundLayout) => onChange({ soundLayout })}
          />
        </div>
      )}
    </>
  );
}

const places = ['first', 'second', 'third', 'fourth'] as const;

/** An order of four, moved by dragging, by its buttons, or with Alt and the arrow keys. */
export function MattersQuestion({ brief, onChange }: QuestionProps) {
  const [dragged, setDragged] = useState<Concern | null>(null);
  const order = brief.matters;
  const move = (concern: Concern, to: number) => {
    if (to < 0 || to >= concerns.length) return;
    const rest = order.filter((c) => c !== concern);
    onChange({ matters: [...rest.slice(0, to), concern, ...rest.slice(to)] });
  };
  const onKeyDown = (concern: Concern, at: number) => (event: KeyboardEvent) => {
    if (!event.altKey || (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight')) return;
    event.preventDefault();
    move(concern, at + (event.key === 'ArrowRight' ? 1 : -1));
  };
  return (
    <ol className="matters" aria-label="What matters, most first">
      {order.map((concern, at) => (
        <li
          key={concern}
          className={`hue-${concernHues[concern]}${dragged === concern ? ' dragged' : ''}`}
          draggable
          onDragStart={() => setDragged(concern)}
          onDragEnd={() => setDragged(null)}
          onDragOver={(event) => event.preventDefault()}
          onDrop={() => dragged && move(dragged, at)}
        >
          <button
            type="button"
            className="matters-word"
            onKeyDown={onKeyDown(concern, at)}
            aria-label={`${concernWords[concern]}, ${places[at]}. Alt and arrow keys move it.`}
          >
            {concernWords[concern]}
          </button>
          <span className="matters-bead" aria-hidden="true" />
          <span className="small soft">
            <button
              type="button"
              disabled={at === 0}
              aria-label={`${concernWords[concern]} earlier`}
              onClick={() => move(concern, at - 1)}
            >
              ‹
            </button>{' '}
            {places[at]}{' '}
            <button
              type="button"
              disabled={at === order.length - 1}
              aria-label={`${concernWords[concern]} later`}
              onClick={() => move(concern, at + 1)}
            >
              ›
            </button>
          </span>
        </li>
      ))}
    </ol>
  );
}

/** Questions that matter for some purposes only. */
export function FinerQuestions({ brief, onChange, shown }: QuestionProps & { shown: readonly FinerQuestion[] }) {
  return (
    <>
      {shown.includes('slowPercent') && (
        <Row
          name="Shown at"
          of={
            <NumberRail
              label="Share of the speed"
              hue="capture"
              value={brief.slowPercent}
              min={5}
              max={100}
              unit="%"
              marks={[10, 25, 50, 75, 100]}
              onChange={(slowPercent) => onChange({ slowPercent })}
            />
          }
        />
      )}
      {shown.includes('camera') && (
        <Row
          name="Camera"
          of={
            <Rail
              label="Camera"
              hue="capture"
              value={brief.camera}
              choices={cameras.map((c) => ({ value: c, label: cameraWords[c] }))}
              onChange={(camera) => onChange({ camera })}
            />
          }
        />
      )}
      {shown.includes('uploadMbps') && (
        <Row
          name="Sent over"
          of={
            <>
              <NumberField
                label="Speed of the line"
                value={brief.uploadMbps ?? 0}
                min={0}
                max={100_000}
                step={0.1}
                unit="Mb/s"
                onChange={(mbps) => onChange({ uploadMbps: mbps < 0.1 ? null : mbps })}
              />
              <span className="soft small">0: not sent</span>
            </>
          }
        />
      )}
    </>
  );
}

function Row({ name, of }: { name: string; of: React.ReactNode }) {
  return (
    <section className="brief-question" aria-label={name}>
      <p className="brief-name">
        <span className="answer" />
        <b>{name}</b>
      </p>
      <div className="brief-answer brief-line">{of}</div>
    </section>
  );
}
