import { useRef, useState } from 'react';
import { formatFps, plural, readFrameTimeLog } from '@mellow/core';
import { Button } from '../../parts/Button';

const largestBytes = 50e6;

/** Brings in a log of frame times, made without recording, and takes the game's rate from it once a person has seen it. */
export function FrameTimesFile({ onRead }: { onRead: (fps: number) => void }) {
  const input = useRef<HTMLInputElement>(null);
  const [found, setFound] = useState<{ text: string; fps: number | null } | null>(null);
  const read = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    if (file.size > largestBytes)
      return setFound({ text: `${file.name} is larger than 50 MB; a minute of play is enough.`, fps: null });
    const log = readFrameTimeLog(await file.text());
    if ('problem' in log) return setFound({ text: log.problem, fps: null });
    const { run, column, left } = log;
    const low = run.onePercentLowFps === null ? '' : `, 1 % low ${formatFps(run.onePercentLowFps)}`;
    const without = left ? ` ${plural(left, 'line')} ${left === 1 ? 'was' : 'were'} left out.` : '';
    setFound({
      text: `"${column}": ${run.frames} frames, ${formatFps(run.meanFps)} on average${low}.${without}`,
      fps: Math.min(1000, Math.max(1, Math.round(run.meanFps * 10) / 10)),
    });
  };
  return (
    <div className="frame-times-file">
      <input
        ref={input}
        type="file"
        accept=".csv,.tsv,.txt,text/csv,text/plain"
        aria-label="Log of frame times"
        hidden
        onChange={(event) => void read(event.target.files?.[0])}
      />
      <Button quiet onClick={() => input.current?.click()}>
        Bring in a log of frame times
      </Button>
      {found && (
        <p className="small soft" role="status">
          {found.text}
        </p>
      )}
      {found?.fps && <Button onClick={() => found.fps && onRead(found.fps)}>{`Take ${formatFps(found.fps)}`}</Button>}
    </div>
  );
}
