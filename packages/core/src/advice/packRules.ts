import { clashStations, recipeClashes, type ClashId } from '../recipe/clashes';
import { tightest } from '../forecast';

import type { Look, Rule } from './rule';
import { packTexts } from './packTexts';

/** The clashes of a recipe by itself are rules too, every one of them. */
export const clashRules: Rule[] = (Object.keys(clashStations) as ClashId[]).map((id) => ({
  id,
  station: clashStations[id],
  weight: (look: Look) => recipeClashes(look.recipe).find((c) => c.id === id)?.weight ?? 'stops',
  check({ recipe }) {
    const clash = recipeClashes(recipe).find((c) => c.id === id);
    return clash
      ? { title: clash.title, text: clash.text, remedies: [{ label: clash.remedy.label, change: clash.remedy.recipe }] }
      : null;
  },
}));

/** The file type, and what an editor makes of it. */
export const packRules: Rule[] = [
  {
    id: 'editor-wants-mp4',
    station: 'pack',
    weight: 'cost',
    check(look) {
      const { brief, recipe } = look;
      if (
        brief.editor === 'anything' ||
        recipe.container !== 'matroska' ||
        recipe.rewrap ||
        look.facts.containers.length === 1 ||
        recipe.lanes.some((l) => l.codec === 'pcm')
      )
        return null;
      return {
        ...packTexts.editorWantsMp4,
        remedies: [{ label: 'Make an MP4 afterwards', change: { ...recipe, rewrap: true } }],
      };
    },
  },
  {
    id: 'gaps-for-editor',
    station: 'pack',
    weight: 'risk',
    check(look) {
      const tight = tightest(look.forecast);
      if (look.brief.editor === 'anything' || !tight || tight.share <= 1) return null;
      return {
        ...packTexts.gapsForEditor(tight.station),
        remedies: [{ label: 'Lose none', instruction: packTexts.loseNone }],
      };
    },
  },
  {
    id: 'rewrap-of-mp4',
    station: 'pack',
    weight: 'note',
    check(look) {
      if (!look.recipe.rewrap || look.recipe.container !== 'mp4') return null;
      return {
        ...packTexts.rewrapOfMp4,
        remedies: [{ label: 'Make none', change: { ...look.recipe, rewrap: false } }],
      };
    },
  },
];
