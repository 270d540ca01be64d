import { useEffect, useRef, useState } from 'react';
import type { ForecastContext } from '@mellow/core';
import type { Judged, Recipe } from '@mellow/model';
import { outlookReplySchema, type OutlookOrder, type OutlookReply } from './messages';
import { newestWins, type Asked } from './newestWins';

/** Draws while something is dragged, and when all is at rest. */
const quickSeeds = 3;
const restSeeds = 20;

type Judgement = NonNullable<OutlookReply['judgement']>;

export interface ShownOutlook {
  /** The last answer, whichever recipe it was for, so that nothing flickers; null before the first. */
  reply: OutlookReply | null;
  /** Whether the answer is for what is asked now, arrows included. */
  current: boolean;
  /** The last judgement, whichever recipe it was of; null before the first. */
  judgement: Judgement | null;
  judgementIsCurrent: boolean;
  /** The simulation failed: what happened. */
  problem: string | null;
}

/** The simulated outlook of a recipe, and of one beside it that is only considered, from a worker of its own. */
export function useOutlook(
  recipe: Recipe,
  considered: Recipe | null,
  context: ForecastContext | null,
  seed: number,
  /** Limits as a trial of this very recipe found them, the same array as long as it is the same trial; null: it is not judged. */
  measured: readonly Judged[] | null = null,
): ShownOutlook {
  const [shown, setShown] = useState<{ reply: OutlookReply; serial: number } | null>(null);
  const [judgement, setJudgement] = useState<{ of: Judgement; serial: number } | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const serial = useRef(0);
  const queue = useRef<Asked<OutlookOrder> | null>(null);
  /** What is looked at more closely once nothing newer comes. */
  const closer = useRef<OutlookOrder | null>(null);
  const judged = useRef(measured !== null);
  useEffect(() => {
    const worker = new Worker(new URL('./forecastWorker.ts', import.meta.url), { type: 'module' });
    const asked = newestWins<OutlookOrder>((order) => worker.postMessage(order));
    queue.current = asked;
    worker.onmessage = (event: MessageEvent<unknown>) => {
      const reply = outlookReplySchema.parse(event.data);
      setShown({ reply, serial: reply.serial });
      if (reply.judgement) setJudgement({ of: reply.judgement, serial: reply.serial });
      setProblem(null);
      const again = closer.current;
      if (again && again.serial === reply.serial && reply.predicted.seeds < restSeeds) {
        closer.current = null;
        asked.ask({ ...again, seeds: restSeeds, judge: judged.current });
      }
      asked.answered();
    };
    worker.onerror = (event) => {
      event.preventDefault();
      setProblem(event.message || 'the worker could not be started');
      asked.answered();
    };
    return () => {
      worker.terminate();
      queue.current = null;
    };
  }, []);
  useEffect(() => {
    if (!context) return;
    const order: OutlookOrder = {
      serial: ++serial.current,
      recipe,
      considered,
      context: { ...context, drives: [...context.drives], locks: [...context.locks] },
      seed,
      seeds: quickSeeds,
      measured: [...(measured ?? [])],
      judge: false,
    };
    closer.current = considered ? null : order;
    queue.current?.ask(order);
  }, [recipe, considered, context, seed, measured]);
  return {
    reply: shown?.reply ?? null,
    current: shown !== null && shown.serial === serial.current,
    judgement: judgement?.of ?? null,
    judgementIsCurrent: judgement !== null && judgement.serial === serial.current,
    problem,
  };
}
