// Draws the table of docs/recorder-states.md anew from the state machine itself.
import { readFileSync, writeFileSync } from 'node:fs';
import { lifeTable } from '../apps/server/src/recorder/lifeTable';

const page = 'docs/recorder-states.md';
const text = readFileSync(page, 'utf8');
const from = text.includes('TABLE\n') ? text.indexOf('TABLE\n') : text.indexOf('| | idle');
// What comes after the table stays.
const after = text.slice(from).search(/\n[^|\n]/);
writeFileSync(page, `${text.slice(0, from)}${lifeTable()}\n${after < 0 ? '' : text.slice(from + after)}`);
