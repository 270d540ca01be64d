import type { MachineSheet, Setup, DriveFacts } from '@mellow/model';
import { encoderWords } from '../codec';
import { recipeHeadline, settingFacts, settingKeys } from '../recipe';
import { formatBytes, formatMegabytesPerSecond, formatSize, markdownText } from '../units';

/** The machine with all that matters for recording and the recipes in use, as text to keep or to send; names of folders are left out. */
export function machineSheetText(
  machine: MachineSheet,
  drives: readonly DriveFacts[],
  setups: readonly Setup[],
): string {
  const lines = [
    `# ${markdownText(machine.name)}${machine.origin === 'simulated' ? ' (simulated)' : ''}`,
    '',
    `- Processor: ${machine.cores} cores, ${markdownText(machine.processor)}`,
    `- Memory: ${formatBytes(machine.memoryBytes)}`,
    `- System: ${markdownText(machine.system)}`,
    `- Graphics: ${markdownText(machine.graphics?.name ?? 'not known')}`,
    '',
    '## Displays',
    '',
    ...(machine.displays.length
      ? machine.displays.map(
          (d) =>
            `- ${markdownText(d.name)}: ${formatSize(d.widthPx, d.heightPx)}${d.refreshHz ? ` at ${d.refreshHz} Hz` : ''}`,
        )
      : ['- none is known']),
    '',
    '## Encoders',
    '',
    ...(machine.encoders.length
      ? machine.encoders.map(
          (e) =>
            `- ${encoderWords(e.encoder)}: ${e.works ? `works${e.workUsPerMegapixel ? `, ${(e.workUsPerMegapixel.value / 1000).toFixed(1)} ms a megapixel (${e.workUsPerMegapixel.origin})` : ''}` : `does not: ${markdownText(e.reason ?? '')}`}`,
        )
      : ['- not tested yet']),
    '',
    '## Drives',
    '',
    ...drives.map(
      (d) =>
        `- ${markdownText(d.name)}: ${d.kind}, ${d.freeBytes === null ? '?' : formatBytes(d.freeBytes)} free, ${d.writeBytesPerSecond === null ? 'speed not measured' : `writes ${formatMegabytesPerSecond(d.writeBytesPerSecond)}`}`,
    ),
    '',
    '## Recipes in use',
    '',
  ];
  for (const setup of setups) {
    lines.push(`### ${markdownText(setup.name)}: ${markdownText(recipeHeadline(setup.draft))}`, '');
    for (const key of settingKeys)
      if (key !== 'drive')
        lines.push(`- ${settingFacts[key].name}: ${markdownText(settingFacts[key].words(setup.draft))}`);
    lines.push('');
  }
  return lines.join('\n');
}
