type Level = 'info' | 'warn' | 'error';
type Log = (level: Level, text: string) => void;

/**
 * Counts equal lines instead of passing each on: the first at once, then one line with their number when another kind
 * follows, or when ten times as many have come.
 */
export function countingLog(pass: Log): { log: Log; flush: () => void } {
  const counts = new Map<string, { level: Level; text: string; count: number; told: number }>();
  const tell = (entry: { level: Level; text: string; count: number; told: number }): void => {
    pass(entry.level, `${entry.text} (${entry.count} times so far)`);
    entry.told = entry.count;
  };
  return {
    log(level, text) {
      const key = `${level} ${text}`;
      const entry = counts.get(key);
      if (!entry) {
        if (counts.size > 200) counts.clear();
        counts.set(key, { level, text, count: 1, told: 1 });
        return pass(level, text);
      }
      entry.count++;
      if (entry.count >= entry.told * 10) tell(entry);
    },
    flush() {
      for (const entry of counts.values()) if (entry.count > entry.told) tell(entry);
      counts.clear();
    },
  };
}
