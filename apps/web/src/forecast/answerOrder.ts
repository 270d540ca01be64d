import { arrowsBetween, coresOf, heldFrames, outlookOf, stripPictureOf, type Outlook } from '@mellow/core';
import type { OutlookOrder, OutlookReply } from './messages';

/**
 * Answers orders for an outlook; the last recipe's own outlook is kept, since while a value is considered only the other one changes.
 */
export function createAnswerer(): (order: OutlookOrder) => OutlookReply {
  let kept: { key: string; outlook: Outlook } | null = null;
  return ({ serial, recipe, considered, context, seed, seeds }) => {
    const key = JSON.stringify([recipe, context, seed, seeds]);
    if (kept?.key !== key) kept = { key, outlook: outlookOf(recipe, context, seed, seeds) };
    const { outlook } = kept;
    return {
      serial,
      strip: stripPictureOf(outlook.strip, heldFrames(recipe, coresOf(context))),
      predicted: outlook.predicted,
      play: outlook.strip.play,
      arrows: considered ? arrowsBetween(outlook, outlookOf(considered, context, seed, seeds)) : null,
    };
  };
}
