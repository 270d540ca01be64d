import { useState } from 'react';
import { Button } from '../../parts/Button';
import { Icon } from '../../parts/Icon';

/** The path of the file, copied with one press. */
export function CopyPath({ path, what = 'file' }: { path: string; what?: string }) {
  const [said, setSaid] = useState<'idle' | 'copied' | 'refused'>('idle');
  if (!path) return null;
  const copy = async () => {
    try {
      await navigator.clipboard.writeText(path);
      setSaid('copied');
    } catch {
      setSaid('refused');
    }
  };
  return (
    <>
      <Button quiet onClick={() => void copy()} label={`Copy the path of the ${what}`}>
        <Icon name={said === 'copied' ? 'check' : 'copy'} />
        {said === 'copied' ? 'Path copied' : what === 'file' ? 'Copy path' : `${what} path`}
      </Button>
      <span className="visually-hidden" role="status">
        {said === 'copied' ? `Copied: ${path}` : ''}
      </span>
      {said === 'refused' && (
        <input
          className="pick n"
          readOnly
          value={path}
          aria-label="Path of the file"
          autoFocus
          onFocus={(event) => event.currentTarget.select()}
        />
      )}
    </>
  );
}
