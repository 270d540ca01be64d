import type { AfterTakeServices } from './afterTakeServices';
import type { HindsightService } from '../hindsight/hindsight';
import type { TrialServices } from '../orders/orderTrial';

/** What the recorder's service stands on. */
export type RecorderContext = TrialServices &
  AfterTakeServices & {
    hindsight: HindsightService;
    /** Silence of the recorder after which it counts as hung. */
    hangMs: number;
    /** Takes after which its process is replaced by a fresh one. */
    takesPerRecorder: number;
  };
