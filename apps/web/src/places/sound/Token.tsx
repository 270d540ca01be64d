import { useState, type KeyboardEvent } from 'react';
import { roleOf, type SoundRole, type SoundSource } from '@mellow/model';
import { Icon, type IconName } from '../../parts/Icon';
import { ActionMenu, type MenuAction } from './ActionMenu';

export const roleIcons: Record<SoundRole, IconName> = {
  game: 'game',
  voice: 'microphone',
  chat: 'chat',
  music: 'music',
  other: 'sound',
};

/** What is carried from one place to another. */
export interface Carried {
  source: SoundSource;
  /** The lane it was lifted from; null: from what is heard. */
  from: number | null;
}

const carriedType = 'application/x-mellow-sound';

export const carriedBy = (data: DataTransfer): Carried | null => {
  const text = data.getData(carriedType);
  return text ? (JSON.parse(text) as Carried) : null;
};

/**
 * A sound as a token: carried by the pointer, lifted and moved by keys, or by its menu.
 * @param onKeyMove up or down while it is lifted; false where it can go no further
 */
export function Token({
  source,
  name,
  from,
  lifted,
  faint,
  actions,
  onLift,
  onKeyMove,
  onDrop,
}: {
  source: SoundSource;
  name: string;
  from: number | null;
  lifted: boolean;
  faint?: boolean;
  actions: readonly MenuAction[];
  onLift: (carried: Carried | null) => void;
  onKeyMove: (by: 1 | -1) => void;
  onDrop: () => void;
}) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const onKeyDown = (event: KeyboardEvent<HTMLElement>) => {
    if (event.key === 'Enter' || event.key === ' ') {
      event.preventDefault();
      if (lifted) onDrop();
      else onLift({ source, from });
    } else if (event.key === 'Escape' && lifted) onLift(null);
    else if (lifted && (event.key === 'ArrowDown' || event.key === 'ArrowUp')) {
      event.preventDefault();
      onKeyMove(event.key === 'ArrowDown' ? 1 : -1);
    } else if (event.key === 'ContextMenu' || (event.key === 'F10' && event.shiftKey)) {
      event.preventDefault();
      setAnchor(event.currentTarget);
    }
  };
  return (
    <>
      <button
        type="button"
        className={`token sound-token${lifted ? ' lifted' : ''}${faint ? ' faint' : ''}`}
        draggable
        aria-haspopup="menu"
        aria-label={`${name}${from === null ? '' : ` on lane ${from + 1}`}${lifted ? ', lifted' : ''}`}
        onDragStart={(event) => {
          event.dataTransfer.setData(carriedType, JSON.stringify({ source, from } satisfies Carried));
          event.dataTransfer.effectAllowed = 'all';
          onLift({ source, from });
        }}
        onDragEnd={() => onLift(null)}
        onKeyDown={onKeyDown}
        onClick={(event) => setAnchor(event.currentTarget)}
        onContextMenu={(event) => {
          event.preventDefault();
          setAnchor(event.currentTarget);
        }}
      >
        <Icon name={roleIcons[roleOf(source)]} />
        {name}
      </button>
      <ActionMenu anchor={anchor} label={`What to do with ${name}`} actions={actions} onClose={() => setAnchor(null)} />
    </>
  );
}
