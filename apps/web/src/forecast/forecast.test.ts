import { arrowsBetween, outlookOf, seedOf } from '@mellow/core';
import { testPath, testSetup } from '../places/path/pathTest.test-support';
import { createAnswerer } from './answerOrder';
import { outlookOrderSchema, outlookReplySchema, type OutlookOrder } from './messages';
import { newestWins } from './newestWins';

describe('orders to the worker', () => {
  it('go one at a time, and the newest of those that waited wins', () => {
    const sent: number[] = [];
    const asked = newestWins<number>((order) => sent.push(order));
    for (const order of [1, 2, 3, 4]) asked.ask(order);
    expect(sent).toEqual([1]);
    asked.answered();
    expect(sent).toEqual([1, 4]);
    asked.answered();
    asked.answered();
    expect(sent).toEqual([1, 4]);
    asked.ask(5);
    expect(sent).toEqual([1, 4, 5]);
  });
});

describe('the worker', () => {
  const { context, recipe } = testPath();
  const seed = seedOf(testSetup.game, testSetup.id);
  const considered = { ...recipe, encode: { ...recipe.encode, quality: recipe.encode.quality - 6 } };
  const order: OutlookOrder = {
    serial: 7,
    recipe,
    considered,
    context: { ...context, drives: [...context.drives], locks: [...context.locks] },
    seed,
    seeds: 2,
    measured: [],
    judge: true,
  };
  it('answers with messages that fit their schemas, through structured cloning and back', () => {
    const reply = createAnswerer()(outlookOrderSchema.parse(structuredClone(order)));
    expect(outlookReplySchema.parse(structuredClone(reply))).toEqual(reply);
    expect(reply.serial).toBe(7);
  });
  it('gives the arrows of the core for what is considered, on the same draws', () => {
    const reply = createAnswerer()(order);
    expect(reply.arrows).toEqual(
      arrowsBetween(outlookOf(recipe, context, seed, 2), outlookOf(considered, context, seed, 2)),
    );
    expect(reply.arrows?.find((a) => a.name === 'size')).toMatchObject({ direction: 1, good: false });
    expect(reply.arrows?.find((a) => a.name === 'picture')).toMatchObject({ direction: 1, good: true });
  });
  it('keeps the recipe’s own outlook while values are considered', () => {
    const answer = createAnswerer();
    const first = answer(order);
    expect(answer({ ...order, considered: null }).strip).toEqual(first.strip);
    const harder = { ...recipe, encode: { ...recipe.encode, effort: 'thorough' as const } };
    expect(answer({ ...order, recipe: harder, considered: null }).strip).not.toEqual(first.strip);
  });
});
