import type { Judgement } from './judge';
import { notKnown, troubles, unclear } from './judge';
import { listWords } from '../units';

/** So many troubles are said as sentences; the rest is named. */
const saidInFull = 2;
const name = ({ name: words }: Judgement): string => words.charAt(0).toLowerCase() + words.slice(1);

/** What is wrong, the worst first: "Of 600 frames 9 were lost ... Also: clipping." Empty where nothing is beyond a limit. */
export function troubleSentence(judged: readonly Judgement[]): string {
  const wrong = troubles(judged);
  const sentences = [...new Set(wrong.map(({ sentence }) => sentence))];
  const said = sentences.slice(0, saidInFull);
  const rest = [...new Set(wrong.filter(({ sentence }) => !said.includes(sentence)).map(name))];
  return [...said, ...(rest.length ? [`Also beyond what was asked: ${listWords(rest)}.`] : [])].join(' ');
}

/** What may lie beyond: "Play cost 3.1 % (0.9 % to 6.0 %) may be beyond at most 5.0 %." Empty where nothing is unclear. */
export function unclearSentence(judged: readonly Judgement[]): string {
  const [first, ...others] = unclear(judged);
  if (!first) return '';
  const rest = others.length ? ` Unclear too: ${listWords(others.map(name))}.` : '';
  return `${first.name} ${first.found}: ${first.asked} was asked.${rest}`;
}

/** "; not measured: play cost" for the end of a sentence; empty where everything is known. */
export function notKnownClause(judged: readonly Judgement[]): string {
  const open = notKnown(judged);
  return open.length ? `; not measured: ${listWords(open.map(name))}` : '';
}
