import { useEffect, useState } from 'react';
import { bytesParts, formatBytes, formatFps, formatRate, formatRoom, roomLeftS } from '@mellow/core';
import type { FrameRate, LiveTake } from '@mellow/model';
import { pageCost } from '../../store/pageCost';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { quietToggled } from '../../store/uiSlice';

interface WrittenProps {
  take: LiveTake;
  rate: FrameRate;
  driveName: string | undefined;
  /** Of this PC; null where it is not known. */
  cores: number | null;
  /** Figures of this PC say nothing of a simulated one. */
  simulated: boolean;
}

/** What reaches the drive and how long it has room, and what the processor does. */
export function Written({ take, rate, driveName, cores, simulated }: WrittenProps) {
  const written = bytesParts(take.bytesPerSecond);
  const queued = bytesParts(take.bytesQueued);
  const leftS = roomLeftS(take);
  const room = take.roomBytes === null ? null : bytesParts(take.roomBytes);
  return (
    <>
      <div className="row">
        <h2>Written</h2>
        <span className="soft clip push">
          {driveName}
          {take.parts > 1 && `, part ${take.parts}`}
        </span>
      </div>
      <div className="advice-figures">
        <Figure value={written.value} unit={`${written.unit}/s`} what="in the last second" />
        <Figure value={queued.value} unit={queued.unit} what="waits for the drive" />
        {room && (
          <Figure
            value={room.value}
            unit={room.unit}
            what={leftS === null ? 'free on the drive' : `free, ${formatRoom(leftS / 3600)} at this rate`}
          />
        )}
      </div>
      {!simulated && <Machine take={take} cores={cores} />}
      {!simulated && (
        <p className="soft small" style={{ marginTop: 12 }}>
          {take.gameFps && take.gameSlowestMs
            ? `The game draws ${formatFps(Math.round(take.gameFps))}; its slowest frame of the last second took ${take.gameSlowestMs.toFixed(1)} ms.`
            : 'The game has drawn nothing in the last second.'}{' '}
          The file asks {formatRate(rate)}.{' '}
          {take.held &&
            `${formatBytes(take.held.bytes)} are held in ${take.held.where === 'memory' ? 'memory' : 'pieces on the drive'}.`}
        </p>
      )}
    </>
  );
}

function Figure({ value, unit, what }: { value: string; unit: string; what: string }) {
  return (
    <div>
      <p className="big">
        {value}
        <span className="unit">{unit}</span>
      </p>
      <p className="small soft">{what}</p>
    </div>
  );
}

const percent = (share: number): string => (100 * share).toFixed(0);

/** The processor as a whole, of the game, of recording, and what this page costs itself. */
function Machine({ take, cores }: { take: LiveTake; cores: number | null }) {
  const { processor } = take;
  const whole = processor && cores ? (processor.game + processor.recorder + processor.others) / cores : null;
  const part = (used: number) => (cores ? `${percent(used / cores)} %` : `${used.toFixed(2)} cores`);
  return (
    <div className="advice-figures roll-machine">
      <div>
        <p className="small soft">Processor</p>
        <p className="n">{whole === null ? '?' : `${percent(Math.min(1, whole))} %`}</p>
        <p className="small soft">{cores ? `of ${cores} cores` : 'of the whole'}</p>
      </div>
      <div>
        <p className="small soft">Recording, game</p>
        <p className="n">{processor ? `${part(processor.recorder)}, ${part(processor.game)}` : '?'}</p>
        <p className="small soft">
          {processor ? `other programs ${part(processor.others)}` : 'not told by this system'}
        </p>
      </div>
      <ThisPage />
    </div>
  );
}

function ThisPage() {
  const quiet = useAppSelector(({ ui }) => ui.quiet);
  const dispatch = useAppDispatch();
  const [ms, setMs] = useState<number | null>(null);
  useEffect(() => {
    const timer = setInterval(() => setMs(pageCost.msPerSecond()), 1000);
    return () => clearInterval(timer);
  }, []);
  return (
    <div>
      <p className="small soft">This page</p>
      <p className="n">{ms === null ? '?' : `${ms.toFixed(ms < 10 ? 1 : 0)} ms`}</p>
      <p className="small">
        <span className="soft">of script a second, </span>
        <button type="button" className="link" aria-pressed={quiet} onClick={() => dispatch(quietToggled())}>
          {quiet ? 'drawn once a second' : 'drawn as it comes'}
        </button>
        {quiet && <span className="soft"> oftener while you look</span>}
      </p>
    </div>
  );
}
