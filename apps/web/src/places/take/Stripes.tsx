import { formatBytes, mp4Trouble, stripeCounts } from '@mellow/core';
import type { Take, TakeFile } from '@mellow/model';
import { Button } from '../../parts/Button';
import { useRewrapTakeMutation } from '../../store/api';
import { CopyPath } from './CopyPath';
import { folderOf } from './folderOf';

/** The files a striped take is spread over, and the one file that is built of them. */
export function Stripes({ take, stripes }: { take: Take; stripes: readonly TakeFile[] }) {
  const [build, building] = useRewrapTakeMutation();
  const built = take.files.filter(({ role }) => role === 'copy');
  const counts = take.stripes ? stripeCounts(take.stripes) : [];
  const blocks = take.stripes?.pattern.length ?? 1;
  const noMp4 = mp4Trouble(take.recipe);
  const suffix = /\.\w+$/.exec(take.filePath)?.[0] ?? '';
  return (
    <section className="take-parts" aria-label="Stripes">
      <div className="row">
        <h2>{stripes.length} stripes</h2>
        <span className="soft small">
          each holds every so many blocks of one file; other programs read it when it is built
        </span>
        <span className="push row">
          {built.map(({ path }) => (
            <CopyPath key={path} path={path} what={path.endsWith('.mp4') ? 'one MP4' : 'one Matroska'} />
          ))}
          {take.facts && !built.some(({ path }) => path.endsWith(suffix)) && (
            <Button quiet busy={building.isLoading} onClick={() => void build({ id: take.id, into: 'as-is' })}>
              Build one file
            </Button>
          )}
          {noMp4 && <span className="soft small">No MP4: {noMp4.what}</span>}
          {take.facts && !noMp4 && suffix !== '.mp4' && !built.some(({ path }) => path.endsWith('.mp4')) && (
            <Button quiet busy={building.isLoading} onClick={() => void build({ id: take.id, into: 'mp4' })}>
              Make one MP4
            </Button>
          )}
        </span>
      </div>
      <table>
        <thead>
          <tr>
            <th>stripe</th>
            <th className="right">share</th>
            <th className="right">size</th>
            <th>folder</th>
          </tr>
        </thead>
        <tbody>
          {stripes.map((stripe, i) => (
            <tr key={stripe.path}>
              <td className="n">{i + 1}</td>
              <td className="right n">{Math.round(((counts[i] ?? 0) / blocks) * 100)} %</td>
              <td className="right n">{stripe.bytes === null ? '?' : formatBytes(stripe.bytes)}</td>
              <td className="soft clip" title={stripe.path}>
                {folderOf(stripe.path)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
