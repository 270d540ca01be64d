import { formatBytes, formatDuration, mp4Trouble } from '@mellow/core';
import { partsOf, type Take, type TakeFile } from '@mellow/model';
import { Button } from '../../parts/Button';
import { QuietHeading } from '../../parts/QuietHeading';
import { useRewrapTakeMutation } from '../../store/api';
import { CopyPath } from './CopyPath';
import { Stripes } from './Stripes';
import { folderOf } from './folderOf';

/** The files of a take in parts, and one file of them all. */
export function Parts({ take, onJump }: { take: Take; onJump: (seconds: number) => void }) {
  const [join, joining] = useRewrapTakeMutation();
  const parts = partsOf(take);
  if (take.stripes) return <Stripes take={take} stripes={parts} />;
  if (parts.length < 2) return null;
  const whole = take.files.filter(({ role }) => role === 'copy');
  const noMp4 = mp4Trouble(take.recipe);
  const endUs = take.facts?.picture.endUs ?? null;
  return (
    <section className="take-parts" aria-label="Parts">
      <div className="row">
        <h2>{parts.length} parts</h2>
        <span className="soft small">each begins with a key picture; none has a frame or a sample less</span>
        <span className="push row">
          {whole.map(({ path }) => (
            <CopyPath key={path} path={path} what={path.endsWith('.mp4') ? 'one MP4' : 'one Matroska'} />
          ))}
          {noMp4 && <span className="soft small">No MP4: {noMp4.what}</span>}
          {take.facts && (
            <>
              {!whole.some(({ path }) => path.endsWith('.mkv')) && take.recipe.container === 'matroska' && (
                <Button quiet busy={joining.isLoading} onClick={() => void join({ id: take.id, into: 'mkv' })}>
                  Join to one Matroska
                </Button>
              )}
              {!noMp4 && !whole.some(({ path }) => path.endsWith('.mp4')) && (
                <Button quiet busy={joining.isLoading} onClick={() => void join({ id: take.id, into: 'mp4' })}>
                  Join to one MP4
                </Button>
              )}
            </>
          )}
        </span>
      </div>
      <table>
        <thead>
          <tr>
            <th>part</th>
            <th>begins at</th>
            <th className="right">length</th>
            <th className="right">size</th>
            <th>folder</th>
            <QuietHeading name="actions" />
          </tr>
        </thead>
        <tbody>
          {parts.map((part, i) => (
            <PartRow
              key={part.path}
              take={take}
              part={part}
              number={i + 1}
              endUs={parts[i + 1]?.startUs ?? endUs}
              onJump={onJump}
            />
          ))}
        </tbody>
      </table>
    </section>
  );
}

interface PartRowProps {
  take: Take;
  part: TakeFile;
  number: number;
  endUs: number | null;
  onJump: (seconds: number) => void;
}

function PartRow({ take, part, number, endUs, onJump }: PartRowProps) {
  const startUs = part.startUs ?? 0;
  return (
    <tr>
      <td className="n">{number}</td>
      <td>
        <button type="button" className="link n" onClick={() => onJump(startUs / 1e6)}>
          {formatDuration(startUs / 1e6)}
        </button>
      </td>
      <td className="right n">{endUs === null ? '?' : formatDuration((endUs - startUs) / 1e6)}</td>
      <td className="right n">{part.bytes === null ? '?' : formatBytes(part.bytes)}</td>
      <td className="soft clip" title={part.path}>
        {folderOf(part.path)}
      </td>
      <td className="right">
        <Button quiet label={`Save part ${number}`} href={`/api/takes/${take.id}/file?part=${number}`} download>
          Save
        </Button>
      </td>
    </tr>
  );
}
