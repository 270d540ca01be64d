/** Why a stretch of time is not in a take: somebody paused it, or nothing of the PC ran. */
export const cutReasons = ['paused', 'asleep'] as const;
export type CutReason = (typeof cutReasons)[number];

/** More than this no take has; whatever asks so often is not a person. */
export const mostCuts = 500;
