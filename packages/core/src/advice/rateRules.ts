import { cadenceOf } from '../ledger';
import { gameReachFps, rateWithinReach, repeatsBorne } from '../recipe/gameReach';
import { formatFps, formatRate } from '../units';
import { setRate } from '../recipe/change';
import type { Look, Rule } from './rule';
import { rateTexts } from './rateTexts';

const reach = ({ game }: Look): number | null => gameReachFps(game);
const inFamily = (look: Look, fps: number): [number, number] => {
  if (look.brief.destination !== 'broadcaster') return [fps, 1];
  return look.brief.mainsHz === 50 ? [fps >= 50 ? 50 : 25, 1] : [fps >= 50 ? 60_000 : 30_000, 1001];
};
const remedyRate = (look: Look, fps: number) => {
  const [num, den] = inFamily(look, fps);
  const change = setRate(look.recipe, num, den);
  return { label: `File ${formatRate(change.rate)}`, change };
};
/** Whether Encode keeps well within its budget at a rate. */
const easyAt = (look: Look, fps: number): boolean => {
  const load = look.forecastOf(remedyRate(look, fps).change).loads.encode;
  return load !== null && load.busiest < load.budget * 0.7;
};

export const rateRules: Rule[] = [
  {
    id: 'game-slower',
    station: 'game',
    // Few repeats are heard of, and left alone.
    weight: (look) => ((reach(look) ?? 0) < look.fps * (1 - repeatsBorne) ? 'risk' : 'note'),
    check(look) {
      const most = reach(look);
      if (most === null || most >= look.fps * 0.995) return null;
      const lower = rateWithinReach(look.fps, most, look.brief);
      return {
        ...rateTexts.gameSlower(most, look.fps),
        remedies: [
          ...(lower && look.brief.purpose !== 'slow-motion' ? [remedyRate(look, lower)] : []),
          {
            label: 'Raise the game',
            instruction: `Let the game show at least ${formatFps(look.fps)}: a higher cap, or lower settings in the game.`,
          },
        ],
      };
    },
  },
  {
    id: 'cap-equals-rate',
    station: 'game',
    weight: 'cost',
    check(look) {
      const cap = look.game.capFps;
      const free = look.game.facts.freeFps;
      if (cap === null || Math.abs(cap - look.fps) > 0.5) return null;
      // A game that does not reach its cap is not paced by it.
      if (free !== null && free < cap * 1.02) return null;
      return {
        ...rateTexts.capEqualsRate(cap),
        remedies: [
          {
            label: 'Raise the cap',
            instruction:
              free === null || free >= cap * 2
                ? `Set the game's cap to ${formatFps(cap * 2)}, or make a trial of it as it is.`
                : `Take the cap off: the game reaches ${formatFps(free)}, not twice the rate. Or make a trial of it as it is.`,
          },
        ],
      };
    },
  },
  {
    id: 'uneven-steps',
    station: 'game',
    weight: 'cost',
    check(look) {
      const cap = look.game.capFps;
      const free = look.game.facts.freeFps;
      // Only a game that its cap paces steps evenly by itself.
      if (cap === null || cap <= look.fps || (free !== null && free < cap * 1.02)) return null;
      const { shows } = cadenceOf({ num: cap, den: 1 }, look.recipe.rate);
      const steps = new Set(shows.slice(1).map((frame, i) => frame - (shows[i] ?? 0)));
      if (steps.size < 2) return null;
      const even = Math.max(1, Math.round(cap / look.fps)) * look.fps;
      return {
        ...rateTexts.unevenSteps(
          cap,
          look.fps,
          [...steps].sort((a, b) => a - b),
        ),
        remedies: [
          {
            label: 'Cap it evenly',
            instruction: `Set the game's cap to ${formatFps(even)}: every frame of the file is then as far from the last.`,
          },
        ],
      };
    },
  },
  {
    id: 'variable-refresh',
    station: 'game',
    weight: 'note',
    check(look) {
      if (!look.game.facts.limiters.includes('variable refresh')) return null;
      const free = look.game.facts.freeFps;
      const times = free !== null && free < look.fps * 2 ? 1 : 2;
      return {
        ...rateTexts.variableRefresh(look.fps),
        remedies: [
          {
            label: 'Cap the game',
            instruction: `A cap of ${formatFps(look.fps * times)} in the game gives the file even steps.`,
          },
        ],
      };
    },
  },
  {
    id: 'frames-not-kept',
    station: 'game',
    weight: 'cost',
    check(look) {
      const free = look.game.facts.freeFps;
      if (look.game.capFps !== null || free === null || free < look.fps * 2.2) return null;
      return {
        ...rateTexts.framesNotKept(free, look.fps),
        remedies: [
          {
            label: 'Cap the game',
            instruction: `Set a cap of ${formatFps(look.fps * 2)} in the game itself rather than in the driver.`,
          },
        ],
      };
    },
  },
  {
    id: 'more-fps-than-shown',
    station: 'capture',
    weight: 'cost',
    check(look) {
      if (
        look.brief.purpose === 'slow-motion' ||
        look.brief.purpose === 'master' ||
        look.brief.destination === 'undecided' ||
        look.brief.destination === 'archive' ||
        look.fps <= look.brief.shownFps * 1.01
      )
        return null;
      return {
        ...rateTexts.moreFpsThanShown(look.fps, look.brief.shownFps),
        remedies: [remedyRate(look, look.brief.shownFps)],
      };
    },
  },
  {
    id: 'mains-family',
    station: 'capture',
    weight: 'risk',
    check(look) {
      if (look.brief.destination !== 'broadcaster' || look.brief.purpose === 'slow-motion') return null;
      const [num, den] = inFamily(look, look.fps);
      if (Math.abs(look.fps - num / den) < 0.001) return null;
      return {
        ...rateTexts.mainsFamily({ fps: look.fps, mainsHz: look.brief.mainsHz, num, den }),
        remedies: [remedyRate(look, look.fps)],
      };
    },
  },
  {
    id: 'fractional-rate',
    station: 'capture',
    weight: 'note',
    check(look) {
      if (look.recipe.rate.den !== 1001 || look.brief.destination === 'broadcaster') return null;
      return {
        ...rateTexts.fractionalRate(look.recipe.rate),
        remedies: [],
      };
    },
  },
  {
    id: 'motion-at-30',
    station: 'capture',
    weight: 'cost',
    check(look) {
      const { brief, game } = look;
      if (
        look.fps > 31 ||
        game.facts.motion !== 'fast' ||
        brief.purpose === 'lesson' ||
        brief.purpose === 'light' ||
        brief.purpose === 'slow-motion' ||
        brief.shownFps < 50
      )
        return null;
      const most = reach(look);
      if ((most !== null && most < 60) || !easyAt(look, 60)) return null;
      return {
        ...rateTexts.motionAt30(look.fps),
        remedies: [remedyRate(look, 60)],
      };
    },
  },
  {
    id: 'calm-at-60',
    station: 'capture',
    weight: 'note',
    check(look) {
      if (
        look.fps < 50 ||
        look.game.facts.motion !== 'calm' ||
        look.brief.purpose === 'slow-motion' ||
        look.brief.purpose === 'master' ||
        look.brief.purpose === 'short-film'
      )
        return null;
      return {
        ...rateTexts.calmAt60,
        remedies: [],
      };
    },
  },
  {
    id: 'slow-motion-short',
    station: 'capture',
    weight: 'cost',
    check(look) {
      const { brief } = look;
      if (brief.purpose !== 'slow-motion') return null;
      const needed = Math.round((brief.shownFps * 100) / brief.slowPercent);
      if (look.fps >= needed * 0.99) return null;
      const most = reach(look);
      const possible = Math.min(needed, most === null ? needed : Math.floor(most), 480);
      return {
        ...rateTexts.slowMotionShort({
          fps: look.fps,
          shownFps: brief.shownFps,
          slowPercent: brief.slowPercent,
          needed,
        }),
        remedies:
          possible > look.fps * 1.01 && easyAt(look, possible)
            ? [{ label: `File ${formatFps(possible)}`, change: setRate(look.recipe, possible) }]
            : [
                {
                  label: 'Raise the game',
                  instruction: `The game must show ${formatFps(needed)}, and Encode must keep up: lower size or effort first.`,
                },
              ],
      };
    },
  },
  {
    id: 'below-25',
    station: 'capture',
    weight: 'cost',
    check(look) {
      if (look.fps >= 23.9) return null;
      return {
        ...rateTexts.below25(look.fps),
        remedies: [remedyRate(look, 30)],
      };
    },
  },
  {
    id: 'high-rate-page',
    station: 'capture',
    weight: 'note',
    check(look) {
      if (look.fps < 120) return null;
      return {
        ...rateTexts.highRatePage,
        remedies: [
          {
            label: 'Leave the page',
            instruction: 'Start the take and bring the game to the front; the page moves only when it is seen.',
          },
        ],
      };
    },
  },
  {
    id: 'limiters',
    station: 'game',
    weight: 'cost',
    check(look) {
      const held = look.game.facts.limiters.filter(
        (limiter) => limiter !== 'sync to the display' && limiter !== 'variable refresh',
      );
      if (!held.length) return null;
      return {
        ...rateTexts.limiters(held),
        remedies: [
          {
            label: 'Switch it off',
            instruction: `Switch off for recording: ${held.join(', ')}. Nothing is changed by this program.`,
          },
        ],
      };
    },
  },
  {
    id: 'display-sync',
    station: 'game',
    weight: 'note',
    check(look) {
      if (!look.game.facts.limiters.includes('sync to the display')) return null;
      return {
        ...rateTexts.displaySync,
        remedies: [
          {
            label: 'Try without',
            instruction: 'Make one trial with and one without; the timeline shows which is steadier.',
          },
        ],
      };
    },
  },
  {
    id: 'rate-unknown',
    station: 'game',
    weight: 'note',
    check(look) {
      if (look.game.facts.freeFps !== null || look.context.calibration.loads.length) return null;
      return {
        ...rateTexts.rateUnknown,
        remedies: [
          { label: 'Make a trial', instruction: 'Ten seconds with the cap off tell the rate and narrow the forecast.' },
        ],
      };
    },
  },
  {
    id: 'motion-unknown',
    station: 'game',
    weight: 'note',
    check(look) {
      if (look.game.facts.motion !== null || look.context.calibration.rates.length) return null;
      return {
        ...rateTexts.motionUnknown,
        remedies: [{ label: 'Make a trial', instruction: 'Ten seconds of a busy scene settle it.' }],
      };
    },
  },
];
