import { useSyncExternalStore } from 'react';
import { Button } from '../../parts/Button';
import { closePageSound, onPageSound, openPageSound, pageSoundStates, type PageSoundKind } from '../../sound/pageSound';
import { useSound } from './soundContext';

const words: Record<PageSoundKind, string> = {
  microphone: 'The browser’s microphone',
  playback: 'What this PC plays, by the browser',
};

/** Sounds that this page brings: it has to listen, and stay open, for as long as they are wanted. */
export function PagePanel() {
  const { recipe } = useSound();
  const states = useSyncExternalStore(onPageSound, pageSoundStates);
  const wanted = (['microphone', 'playback'] as const).filter((kind) =>
    recipe.sounds.some(({ from }) => from.kind === 'page' && from.what === kind),
  );
  return (
    <>
      {wanted.map((kind) => {
        const { words: device, opening, problem } = states[kind];
        return (
          <div key={kind} className="page-sound">
            <p>
              <b>{words[kind]}</b>{' '}
              <span className={problem ? 'over' : 'soft'}>
                {problem ?? (device ? `listens: ${device}. Leave this page open.` : 'is not listening.')}
              </span>
            </p>
            {device ? (
              <Button quiet onClick={() => closePageSound(kind)}>
                Stop listening
              </Button>
            ) : (
              <Button busy={opening} onClick={() => void openPageSound(kind)}>
                Let this page listen
              </Button>
            )}
          </div>
        );
      })}
    </>
  );
}
