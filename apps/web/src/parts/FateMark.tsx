import type { Fate } from '@mellow/model';

type Marked = 'new' | 'repeat' | 'capture-miss' | 'encode-miss' | 'write-miss';

export const fateWords: Record<Marked, { one: string; many: string }> = {
  new: { one: 'new picture', many: 'new pictures' },
  repeat: { one: 'repeat', many: 'repeats' },
  'capture-miss': { one: 'capture miss', many: 'capture misses' },
  'encode-miss': { one: 'encode miss', many: 'encode misses' },
  'write-miss': { one: 'write miss', many: 'write misses' },
};

/** A fate by shape first, colour second: repeat = ring, capture = diamond, encode = triangle, write = square. */
export function FateMark({ fate, size = 12 }: { fate: Fate; size?: number }) {
  return (
    <svg width={size} height={size} viewBox="-6 -6 12 12" aria-hidden="true" style={{ flex: 'none' }}>
      {fate === 'new' && <circle r="4.5" fill="var(--game)" />}
      {fate === 'repeat' && <circle r="4.5" fill="none" stroke="var(--soft)" strokeWidth="1.5" />}
      {fate === 'capture-miss' && <path d="M0 -5.5l5.5 5.5l-5.5 5.5l-5.5 -5.5z" fill="var(--capture)" />}
      {fate === 'encode-miss' && <path d="M0 -5l5.300 9.500h-10.600z" fill="var(--encode)" />}
      {(fate === 'write-miss' || fate === 'missing') && (
        <path d="M-4.300 -4.300h8.600v8.600h-8.600z" fill="var(--drive)" />
      )}
    </svg>
  );
}
