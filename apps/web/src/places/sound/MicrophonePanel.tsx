import { roleOf, soundOpenings, type SoundOpening } from '@mellow/model';
import { formatLevel, fromWords, voiceAboveDb, voiceAboveGame, voiceZone } from '@mellow/core';
import { Rail } from '../../parts/Rail';
import { PagePanel } from './PagePanel';
import { useSound } from './soundContext';

const openingWords: Record<SoundOpening, string> = { open: 'open', held: 'open while held', closed: 'closed' };

/** The microphone: when it is open, its last ten seconds, its noise, and how it stands against the game. */
export function MicrophonePanel() {
  const { recipe, changeSound, levels, setup } = useSound();
  const voice = recipe.sounds.find(({ id }) => roleOf(id) === 'voice');
  const above = voiceAboveGame(recipe, levels.heldPeak);
  if (!voice)
    return (
      <section aria-label="Microphone">
        <h2>Microphone</h2>
        <p className="soft">None is heard. Add one above under “Hear something else”.</p>
        {setup.machineId === 'this' && <PagePanel />}
      </section>
    );
  const history = levels.history(voice.id);
  const floor = quietestOf(history);
  return (
    <section aria-label="Microphone">
      <div className="row">
        <h2>{voice.name}</h2>
        <span className="soft clip">{fromWords(voice.from)}</span>
      </div>
      <div className="row">
        <Rail
          label="When the microphone is open"
          hue="sound"
          value={voice.opening}
          start="open"
          choices={soundOpenings.map((value) => ({ value, label: openingWords[value] }))}
          onChange={(opening) => changeSound(voice.id, { opening })}
        />
        {voice.opening === 'held' && (
          <span className="push soft">
            while <kbd>V</kbd> is held on Roll
          </span>
        )}
      </div>
      <History values={history} floor={floor} />
      <p>
        {floor === null ? (
          <span className="soft">Its noise is told after two seconds of listening.</span>
        ) : (
          <>
            <b>Quietest {formatLevel(floor)} dBFS in the last ten seconds.</b>{' '}
            <span className="soft">
              {floor > -50
                ? 'A fan or the room is loud beside a voice at −12: cleaning will be heard. Move closer, or turn it down.'
                : 'That leaves a voice at −12 clear of it.'}
            </span>
          </>
        )}
      </p>
      <p className="small">
        <span className="soft">
          A voice should stand {voiceAboveDb.least} to {voiceAboveDb.most} dB above the game (common practice).
        </span>{' '}
        {above === null ? (
          <span className="soft">Speak while the game sounds, and it is told here.</span>
        ) : (
          <b>
            Now {Math.abs(above).toFixed(1)} dB {above >= 0 ? 'above' : 'below'}.
          </b>
        )}
      </p>
      {setup.machineId === 'this' && <PagePanel />}
    </section>
  );
}

const leastPieces = 20;

/** The quietest twentieth of what was heard. */
function quietestOf(values: readonly (number | null)[]): number | null {
  // A device that is just being opened brings nothing, which is no silence of the room.
  const heard = values.filter((value) => value !== null);
  if (heard.length < leastPieces) return null;
  const sorted = heard.toSorted((a, b) => a - b);
  return sorted[Math.floor(sorted.length / 20)] ?? null;
}

const [width, height, lowest] = [376, 96, -80];
const yOf = (db: number | null): number => Math.min(height, (Math.max(lowest, db ?? -100) / lowest) * height);

function History({ values, floor }: { values: readonly (number | null)[]; floor: number | null }) {
  const shown = values.slice(-100);
  const step = (width - 40) / 100;
  const x = (i: number) => width - (shown.length - i) * step;
  const line = shown.map((db, i) => `L${x(i).toFixed(1)} ${yOf(db).toFixed(1)}`).join('');
  return (
    <svg
      className="history"
      viewBox={`0 0 ${width} ${height + 16}`}
      width="100%"
      role="img"
      aria-label="Level of the microphone over the last ten seconds"
    >
      {[0, -20, -40, -60, -80].map((db) => (
        <g key={db}>
          <path d={`M40 ${yOf(db) + 0.5}H${width}`} stroke="var(--line)" />
          <text x="32" y={yOf(db) + 4} textAnchor="end" className="n">
            {db === 0 ? '0' : `−${-db}`}
          </text>
        </g>
      ))}
      <rect
        x="40"
        y={yOf(voiceZone.highDbfs)}
        width={width - 40}
        height={yOf(voiceZone.lowDbfs) - yOf(voiceZone.highDbfs)}
        fill="var(--sound)"
        opacity=".16"
      />
      {shown.length > 1 && <path d={`M${x(0)} ${height}${line}V${height}Z`} fill="var(--sound)" opacity=".55" />}
      {floor !== null && (
        <path d={`M40 ${yOf(floor) + 0.5}H${width}`} stroke="var(--sound-ink)" strokeDasharray="1 3" />
      )}
      <text x={width} y={yOf(voiceZone.highDbfs) - 3} textAnchor="end">
        peaks −15 to −9
      </text>
      <text x="40" y={height + 14} className="n">
        10 s ago
      </text>
      <text x={width} y={height + 14} textAnchor="end" className="n">
        now, dBFS
      </text>
    </svg>
  );
}
