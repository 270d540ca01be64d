/** A system may cut names of programs off after so many signs (Linux, TASK_COMM_LEN less the end: proc(5)). */
const cutOff = 15;

const bare = (name: string): string =>
  name
    .trim()
    .toLowerCase()
    .replace(/\.(exe|app|bin|x86_64|sh)$/, '');

/** Whether a listed program is among those that are left alone. */
export const isLeftAlone = (leftAlone: readonly string[], listed: string): boolean =>
  leftAlone.some((meant) => sameProgram(meant, listed));

/** Whether a listed program is the one that is meant: without regard to case and ending, whole or cut off by the system. */
export function sameProgram(meant: string, listed: string): boolean {
  const [a, b] = [bare(meant), bare(listed)];
  return (
    a !== '' &&
    (a === b ||
      (b.length === cutOff && a.startsWith(b)) ||
      (listed.length === cutOff && meant.trim().startsWith(listed)))
  );
}
