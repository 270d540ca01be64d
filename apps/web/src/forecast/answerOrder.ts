import {
  arrowsBetween,
  coresOf,
  heldFrames,
  judgeAndMend,
  outlookOf,
  stripPictureOf,
  type Outlook,
  type RecipeJudgement,
} from '@mellow/core';
import type { OutlookOrder, OutlookReply } from './messages';

/**
 * Answers orders for an outlook; the last recipe's own outlook is kept, since while a value is considered only the other one changes,
 * and so is its judgement.
 */
export function createAnswerer(): (order: OutlookOrder) => OutlookReply {
  let kept: { key: string; outlook: Outlook } | null = null;
  let known: { key: string; judgement: RecipeJudgement } | null = null;
  return ({ serial, recipe, considered, context, seed, seeds, measured, judge }) => {
    const key = JSON.stringify([recipe, context, seed, seeds]);
    const about = JSON.stringify([recipe, context, seed, measured]);
    if (kept?.key !== key) kept = { key, outlook: outlookOf(recipe, context, seed, seeds) };
    const { outlook } = kept;
    if (judge && known?.key !== about)
      known = {
        key: about,
        judgement: judgeAndMend(recipe, { context, seed, seeds }, outlook.forecast, outlook.predicted, measured),
      };
    return {
      serial,
      strip: stripPictureOf(outlook.strip, heldFrames(recipe, coresOf(context))),
      predicted: outlook.predicted,
      play: outlook.strip.play,
      arrows: considered ? arrowsBetween(outlook, outlookOf(considered, context, seed, seeds)) : null,
      judgement: known?.key === about ? known.judgement : null,
    };
  };
}
