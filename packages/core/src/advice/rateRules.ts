import { formatFps, formatPercent, formatRate } from '../units';
import { setRate, type Look, type Rule } from './rule';

const usualRates = [240, 120, 60, 50, 30, 25] as const;
/** Highest rate the game is known to show; null: not known. */
const reach = ({ game }: Look): number | null =>
  game.capFps === null
    ? game.facts.freeFps
    : game.facts.freeFps === null
      ? game.capFps
      : Math.min(game.capFps, game.facts.freeFps);
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
    weight: 'risk',
    check(look) {
      const most = reach(look);
      if (most === null || most >= look.fps * 0.995) return null;
      const lower = usualRates.find((rate) => rate <= most * 1.005 && rate < look.fps);
      return {
        title: `The game shows ${formatFps(most)}, the file asks for ${formatFps(look.fps)}`,
        text: `${formatPercent(1 - most / look.fps)} of the frames will be repeats of the one before: they take bits and room and show nothing new.`,
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
      if (cap === null || Math.abs(cap - look.fps) > 0.5) return null;
      return {
        title: `Cap and file both run at ${formatFps(cap)}`,
        text: 'They beat against each other: with 1 ms of jitter about 5 % of the frames repeat, with a cap at twice the rate none.',
        remedies: [
          {
            label: 'Raise the cap',
            instruction: `Set the game's cap to ${formatFps(cap * 2)}, or make a trial of it as it is.`,
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
        title: `${Math.round(free - look.fps)} of ${Math.round(free)} fps are drawn and not kept`,
        text: `A cap at ${formatFps(look.fps * 2)} frees processor and card for recording. Against it: some limiters stutter; a trial tells.`,
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
        title: `${formatFps(look.fps)} are filed, ${formatFps(look.brief.shownFps)} are shown`,
        text: 'The destination converts it, and chooses which frames go. Every frame more is work for Encode and Drive.',
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
        title: `${formatFps(look.fps)} is not a rate of a ${look.brief.mainsHz} Hz country`,
        text: `A broadcaster converts it to ${formatFps(num / den)}, with frames repeated or left out. Most sites do not care.`,
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
        title: `${formatRate(look.recipe.rate)} beside a game at a whole rate`,
        text: 'One frame in 1001 is left out or repeated. Some destinations take only this rate, others do not care: leave it if yours asks for it.',
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
        title: `Fast motion at ${formatFps(look.fps)}`,
        text: 'Half of the movement is not in the file. Encode has time for twice the frames.',
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
        title: 'Little moves, and 60 frames a second are filed',
        text: '30 is solid for such footage, at about half the work. 60 keeps the pointer and scrolling smooth.',
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
        title: `${formatFps(look.fps)} play at ${formatPercent(brief.shownFps / look.fps)} of the speed, ${brief.slowPercent} % are wanted`,
        text: `${formatFps(needed)} are needed on a timeline of ${brief.shownFps} fps; below that frames are shown twice.`,
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
        title: `At ${formatFps(look.fps)} each picture stands for ${Math.round(1000 / look.fps)} ms`,
        text: 'Film has 24 a second; below that motion is seen as single pictures.',
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
        title: 'From 120 fps up this page should not be watched',
        text: 'Drawing the live path competes with a game and an encoder that have 8 ms a frame or less.',
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
      const held = look.game.facts.limiters.filter((limiter) => limiter !== 'sync to the display');
      if (!held.length) return null;
      return {
        title: `${held.join(' and ')} can hold the game back`,
        text: 'A limiter outside the game keeps it below its cap, and its frame times uneven.',
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
        title: 'Sync to the display ties the game to the screen’s rate',
        text: 'No torn pictures, but a frame that is late waits a whole refresh, and the rate drops in steps. Without it the picker takes whole frames all the same.',
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
        title: 'The game’s rate is not known',
        text: 'Its work is assumed, so play cost and misses have a wide range.',
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
        title: 'The game’s motion is not known',
        text: 'The size may be three times smaller or larger than the middle.',
        remedies: [{ label: 'Make a trial', instruction: 'Ten seconds of a busy scene settle it.' }],
      };
    },
  },
];
