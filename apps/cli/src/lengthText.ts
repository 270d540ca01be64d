import { CommandError } from './ask';

const unitS = { s: 1, m: 60, min: 60, h: 3600 } as const;

/** Seconds of "90", "90s", "3m", "3min", "1:30" (minutes), "1:30:00" or "2h". @throws where it is no length */
export function secondsOf(text: string): number {
  const plain = /^(\d+(?:\.\d+)?)(s|m|min|h)?$/.exec(text);
  if (plain) return Number(plain[1]) * unitS[(plain[2] ?? 's') as keyof typeof unitS];
  const clock = /^(?:(\d+):)?(\d{1,3}):(\d{2})$/.exec(text);
  if (!clock) throw new CommandError(2, `"${text}" is no length. Write 90s, 3m, 2h, 1:30 or 1:30:00.`);
  return Number(clock[1] ?? 0) * 3600 + Number(clock[2]) * 60 + Number(clock[3]);
}
