import { isGrabbed, practiceSource } from '@mellow/model';
import { captureTexts } from './captureTexts';
import type { Rule } from './rule';

export const captureRules: Rule[] = [
  {
    id: 'screen-of-another',
    station: 'capture',
    weight: 'stops',
    check({ recipe, machine }) {
      if (!isGrabbed(recipe.source) || machine?.origin !== 'simulated') return null;
      return {
        ...captureTexts.screenOfAnother(machine.name),
        remedies: [{ label: 'Record the practice game', change: { ...recipe, source: practiceSource } }],
      };
    },
  },
  {
    id: 'whole-display',
    station: 'capture',
    weight: 'note',
    check({ recipe: { source } }) {
      if (source.kind !== 'display') return null;
      return {
        ...captureTexts.wholeDisplay(source.name),
        remedies: [{ label: 'Choose the window', instruction: 'Under Source, choose Window and then the game’s.' }],
      };
    },
  },
  {
    id: 'full-screen-window',
    station: 'capture',
    weight: 'note',
    check({ recipe: { source }, game }) {
      if (source.kind !== 'window' || game.facts.windowMode !== 'full-screen') return null;
      return {
        ...captureTexts.fullScreenWindow(source.title),
        remedies: [
          { label: 'Without a border', instruction: 'Set the game to borderless, or choose its display under Source.' },
        ],
      };
    },
  },
  {
    id: 'strict-anti-cheat',
    station: 'capture',
    weight: 'note',
    check({ recipe, game }) {
      if (!isGrabbed(recipe.source) || game.facts.antiCheat !== 'strict') return null;
      return { ...captureTexts.strictAntiCheat(game.title), remedies: [] };
    },
  },
];
