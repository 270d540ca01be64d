import { encoderFacts } from '../codec';
import { blocksThatWork } from './look';
import type { Rule } from './rule';
import { systemTexts } from './systemTexts';

/** Keys of the page that act without a modifier; what the page lists under "?" and what it binds is this very list. */
export const pageKeys = ['t', 'r', 's', 'm', 'l', 'v', 'u', 'n', 'p', '[', ']', ' '] as const;

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
        ...systemTexts.memoryShort(need, look.machine.memoryBytes),
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
        ...systemTexts.extras(costly),
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
        ...systemTexts.pictureFilters,
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
        ...systemTexts.othersBusy(last.othersCores, last.cores, last.trial),
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
        ...systemTexts.priority(encode.busiest, encode.budget),
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
    id: 'hdr-display',
    station: 'game',
    weight: 'cost',
    check(look) {
      const display = look.machine?.displays.find(({ hdr }) => hdr);
      if (!display) return null;
      return {
        ...systemTexts.hdrDisplay(display.name),
        remedies: [{ label: 'Switch HDR off', instruction: systemTexts.switchHdrOff }],
      };
    },
  },
  {
    id: 'two-chips',
    station: 'game',
    weight: 'note',
    check(look) {
      const blocks = blocksThatWork(look).map((encoder) => encoderFacts[encoder].place);
      if (!blocks.includes('card') || !blocks.includes('processor-graphics')) return null;
      return {
        ...systemTexts.twoChips(look.facts.place),
        remedies: [{ label: 'Put both on one chip', instruction: systemTexts.sameChip }],
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
        ...systemTexts.keyClash(clash),
        remedies: [],
      };
    },
  },
];
