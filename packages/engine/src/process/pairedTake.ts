import { dueFramesIn, errorText } from '@mellow/core';
import type { EngineEvent, TakeClosing, TakeOrder } from '@mellow/model';
import { discardPair, reservePair } from '../files/pairFile';
import type { StopReason } from '../shared/control';
import { runTake, type GamePiece, type TakeRun } from './takeRun';

/** What each run needs beside the game's warm-up, about. */
const aroundS = 1.5;

/** A turn that is thrown away needs the game at its pace, and nothing more. */
const rehearsalWarmUpS = ({ warmUpS }: TakeOrder): number => Math.min(1, warmUpS);

/**
 * A take with its play cost measured in turns: game alone, recorded, game alone, recorded. The take is the last of them; the
 * recordings before it are short, go the whole way to the same drive, and are thrown away.
 */
export function runPairedTake(order: TakeOrder, engineSocket: string, emit: (event: EngineEvent) => void): TakeRun {
  let current: TakeRun | null = null;
  let stopped: StopReason | null = null;
  const pieces: GamePiece[] = [];
  return {
    stop(reason) {
      stopped ??= reason;
      current?.stop(reason);
    },
    hold: (sound, open) => current?.hold(sound, open),
    pause: (on) => current?.pause(on),
    keep: (keep) => current?.keep(keep),
    piece: () => current?.piece() ?? null,
    closing: run(),
  };

  async function run(): Promise<TakeClosing> {
    const earlier = order.clock === 'real' && order.baselineS > 0 ? order.pairs - 1 : 0;
    const startedMs = performance.now();
    const runS = order.baselineS + aroundS;
    const allS = earlier * 2 * (runS + rehearsalWarmUpS(order)) + runS + order.warmUpS;
    const told = (event: EngineEvent): void => {
      if (event.type !== 'live') return emit(event);
      const { live } = event;
      const leftS = Math.max(0, allS - (performance.now() - startedMs) / 1000);
      emit({
        type: 'live',
        live: {
          ...live,
          state: live.state === 'preparing' ? 'preparing' : 'baseline',
          ...{ baselineLeftS: leftS, elapsedUs: 0, due: 0, bytesWritten: 0, durableBytes: 0, bytesQueued: 0 },
        },
      });
    };
    for (let i = 0; i < earlier && !stopped; i++) {
      const piece = await rehearsed(told);
      if (piece) pieces.push(piece);
    }
    current = runTake(order, engineSocket, emit, pieces);
    if (stopped) current.stop(stopped);
    return current.closing;
  }

  /** One turn that is not kept. Null where it did not come to an end: the take itself will tell why. */
  async function rehearsed(tell: (event: EngineEvent) => void): Promise<GamePiece | null> {
    try {
      const { folder, reserved } = reservePair(order);
      current = runTake(
        {
          ...order,
          warmUpS: rehearsalWarmUpS(order),
          filePath: reserved.path,
          identity: reserved.identity,
          ledgerFolder: folder,
          dueFrames: dueFramesIn(order.recipe.rate, order.baselineS + 0.5),
          script: [],
          keepPictures: false,
          cameraFile: null,
          hindsight: null,
          reservePath: null,
        },
        engineSocket,
        tell,
      );
      const { end } = await current.closing;
      return end === 'length' ? current.piece() : null;
    } catch (error) {
      const why = errorText(error);
      emit({ type: 'log', level: 'warn', text: `The play cost has one turn less: ${why}` });
      return null;
    } finally {
      current = null;
      discardPair(order.ledgerFolder);
    }
  }
}
