/** Codes of keyboard events by the numbers that the system-wide hook tells, from its own table of names. */
export function codesByNumber(named: Readonly<Record<string, number>>): Map<number, string> {
  const codes = new Map<number, string>();
  for (const [name, number] of Object.entries(named)) {
    const modifier = /^(Ctrl|Alt|Shift|Meta)(Right)?$/.test(name);
    if (modifier || codes.has(number)) continue;
    codes.set(number, /^[A-Z]$/.test(name) ? `Key${name}` : /^[0-9]$/.test(name) ? `Digit${name}` : name);
  }
  return codes;
}
