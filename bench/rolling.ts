import { causes, fates, lossFates } from '@mellow/model';
import { openWindowGame } from '../packages/engine/test/support/display';
import { openScreenBench, whole } from '../packages/engine/test/support/screenTake';
import { openSoundSystem, stereo } from '../packages/engine/test/support/soundSystem';
import { clickSecond, clicksIn, listenForClicks, watchDueZero } from '../packages/engine/test/support/soundTiming';
import { stereoOf } from '../packages/engine/test/support/tones';
import { atMost, figure, median, type BenchResult } from './measure';

const fps = 30;
const output = 'game';
const size = { widthPx: 1280, heightPx: 720 };

/**
 * A long roll as a person does it: the window game through the display with what the PC plays, on the clock. Minutes:
 * ROLL_MINUTES, 20 without it. Nothing else should run.
 */
export async function benchRolling(): Promise<BenchResult[]> {
  const minutes = Number(process.env['ROLL_MINUTES'] ?? 20);
  const sounds = await openSoundSystem([{ name: output, rateHz: 48_000, channels: stereo }]);
  const screen = await openScreenBench();
  const game = await openWindowGame(screen.display.name, screen.bench.folder, ['--size', '1280x720']);
  const player = sounds.play(output, 48_000, stereo, clickSecond());
  const heard = listenForClicks(`${output}.monitor`);
  const zero = watchDueZero(screen.bench);
  try {
    const take = await screen.roll(
      { kind: 'display', name: 'whole', pointer: false, ...whole },
      {
        fps,
        seconds: minutes * 60,
        change: {
          size,
          recipe: {
            sounds: [
              {
                ...{ id: 'game', name: 'Game', gainDb: 0, muted: false, opening: 'open' },
                from: { kind: 'device', device: `${output}.monitor`, words: '' },
              },
            ],
            lanes: [{ name: 'Game', sources: ['game'], codec: 'flac', bitrateKbps: 160 }],
          },
          encode: { effort: 'lightest', keyDistanceFrames: 60 },
        },
      },
    );
    const { memoryBytes, summary, disagreements, filePath } = take.result;
    const lost = lossFates.reduce((sum, fate) => sum + (summary.fates[fate] ?? 0), 0);
    const explained = causes.filter((cause) => cause !== 'none' && cause !== 'unknown');
    const unexplained = Array.from(take.columns.fate).filter((code, n) => {
      const fate = fates[code];
      const cause = causes[take.columns.cause.at(n) ?? 0];
      return lossFates.some((loss) => loss === fate) && !explained.some((known) => known === cause);
    }).length;
    const clicks = clicksIn(stereoOf(filePath, 0)).map((at) => (at / 48_000) * 1e6 + zero.dueZeroUs());
    const times = heard.clicksUs();
    const offsetsMs = clicks.flatMap((us) => {
      const nearest = times.reduce((best, at) => (Math.abs(at - us) < Math.abs(best - us) ? at : best), Infinity);
      return Math.abs(nearest - us) < 400_000 ? [(us - nearest) / 1000] : [];
    });
    const part = Math.max(10, Math.floor(offsetsMs.length / 10));
    const drift = Math.abs(median(offsetsMs.slice(-part)) - median(offsetsMs.slice(5, 5 + part)));
    return [
      atMost(`memory over ${minutes} min of rolling`, slopePerMinute(memoryBytes, minutes) / 1e6, 'MB/min', 1),
      atMost('sound against picture, last tenth against first', drift, 'ms', 5),
      atMost('misses that nothing explains', unexplained + disagreements.length, 'frames', 0),
      figure(`misses of ${summary.due} frames`, lost, 'frames'),
    ];
  } finally {
    zero.stop();
    heard.stop();
    await player.stop();
    await game.close();
    await screen.close();
    await sounds.close();
  }
}

/** Least squares over the last three quarters: a recorder that has just begun still grows to its own level. */
function slopePerMinute(bytes: readonly number[], minutes: number): number {
  const late = bytes.slice(Math.floor(bytes.length / 4));
  const stepMinutes = minutes / bytes.length;
  const meanX = ((late.length - 1) / 2) * stepMinutes;
  const meanY = late.reduce((sum, y) => sum + y, 0) / late.length;
  const over = late.reduce((sum, y, i) => sum + (i * stepMinutes - meanX) * (y - meanY), 0);
  const under = late.reduce((sum, _, i) => sum + (i * stepMinutes - meanX) ** 2, 0);
  return over / under;
}
