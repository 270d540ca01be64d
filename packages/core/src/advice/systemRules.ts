import { formatBytes, formatMs, listWords, plural } from '../units';
import type { Rule } from './rule';

/** Keys of the page that act without a modifier; what the page lists under "?" and what it binds is this very list. */
export const pageKeys = ['t', 's', 'u', 'n', 'p', '[', ']', ' '] as const;

export const systemRules: Rule[] = [
  {
    id: 'memory-short',
    station: 'game',
    weight: 'cost',
    check(look) {
      const need = look.game.facts.memoryGb;
      if (need === null || !look.machine) return null;
      const recorder = 0.7;
      const all = look.machine.memoryBytes / 1e9;
      if (need + recorder + 2 <= all) return null;
      return {
        title: `The game needs ${need} GB of ${formatBytes(look.machine.memoryBytes)}`,
        text: 'With system and recorder beside it memory runs short, and the game stalls while it is swapped.',
        remedies: [
          {
            label: 'Give it less',
            instruction: 'Lower its textures or its memory allowance, and close other programs.',
          },
        ],
      };
    },
  },
  {
    id: 'extras',
    station: 'game',
    weight: 'cost',
    check(look) {
      const costly = look.game.facts.extras.filter(
        (extra) =>
          extra === 'overlay' || extra === 'another recorder' || extra === 'live output' || extra === 'browser',
      );
      if (!costly.length) return null;
      return {
        title: `${listWords(costly)} ${costly.length === 1 ? 'runs' : 'run'} beside the game`,
        text: 'Each takes frames from it, or an encoder from us; two recorders share one block.',
        remedies: [
          {
            label: 'Switch off',
            instruction: `Close for recording: ${costly.join(', ')}. Nothing is closed by this program.`,
          },
        ],
      };
    },
  },
  {
    id: 'picture-filters',
    station: 'game',
    weight: 'note',
    check(look) {
      if (!look.game.facts.extras.includes('picture filters')) return null;
      return {
        title: 'Picture filters of the driver run on every frame',
        text: 'They cost the card time in every frame, also in those that nobody records.',
        remedies: [{ label: 'Switch off', instruction: 'Switch them off, and use the editor for looks.' }],
      };
    },
  },
  {
    id: 'others-busy',
    station: 'game',
    weight: 'risk',
    check(look) {
      const last = look.context.calibration.loads[0];
      if (!last || last.othersCores <= last.cores * 0.06) return null;
      return {
        title: `Other programs used ${last.othersCores.toFixed(1)} of ${plural(last.cores, 'core')} in trial ${last.trial}`,
        text: 'What they take is missing to game and encoder.',
        remedies: [
          {
            label: 'Close them',
            instruction:
              'Look at what runs, close what is not needed, and make the trial again. A higher priority for the recorder helps only where the system allows it.',
          },
        ],
      };
    },
  },
  {
    id: 'priority',
    station: 'encode',
    weight: 'note',
    check({ facts, forecast }) {
      const { encode, game } = forecast.loads;
      if (facts.place !== 'software' || !encode || !game || encode.busiest < encode.budget * 0.8) return null;
      return {
        title: 'Game and encoder ask for the processor at once',
        text: `Encode takes ${formatMs(encode.busiest)} of ${formatMs(encode.budget)} in the busiest 1 %, and the system shares evenly. Which of both comes first is the system’s setting; with a higher priority for the recorder the game pays, with a lower one the file.`,
        remedies: [
          {
            label: 'Try one step',
            instruction:
              'Set the recorder one step higher in the system’s list of programs (some systems want administrator’s rights for it), and compare a trial with one before. Put it back where the play cost rises.',
          },
        ],
      };
    },
  },
  {
    id: 'key-clash',
    station: 'game',
    weight: 'note',
    check(look) {
      const clash = look.game.facts.keys.filter((key) => pageKeys.some((own) => own === key.toLowerCase()));
      if (!clash.length) return null;
      return {
        title: `The game and this page both use ${listWords(clash.map((key) => key.toUpperCase()))}`,
        text: 'Ours act only while this page is in front; the game does not get them then, and we do not get the game’s.',
        remedies: [],
      };
    },
  },
];
