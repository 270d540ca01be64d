import { nearestDue } from '@mellow/core';
import type { FrameRate } from '@mellow/model';

/** No encoder here presents a picture so many places away from where it is coded. */
const windowPictures = 64;

/** In which order a file's pictures are presented, as runs of neighbouring due indices. */
export interface PictureOrder {
  /** Due index of the i-th picture in order of presentation, where its time stamp belongs. */
  dueOf(i: number): number;
  /** Least amount, in frames, that decode times have to lie before presentation so that none comes too late. */
  back: number;
  pictures: number;
}

export interface OrderScan {
  picture(timeUs: number): void;
  end(): PictureOrder;
}

/** Learns the order of presentation from packets in coding order; holds a window of pictures and one entry a gap. */
export function scanOrder(rate: FrameRate, shiftUs: number): OrderScan {
  const coded: number[] = [];
  const sorted: number[] = [];
  const runStart: number[] = [];
  const runDue: number[] = [];
  let settled = 0;
  let back = 0;
  const settleOne = (): void => {
    const due = sorted.shift() ?? 0;
    back = Math.max(back, due - (coded.shift() ?? 0));
    const last = runStart.length - 1;
    if (last < 0 || due !== (runDue[last] ?? 0) + settled - (runStart[last] ?? 0)) {
      runStart.push(settled);
      runDue.push(due);
    }
    settled++;
  };
  return {
    picture(timeUs) {
      const due = nearestDue(rate, timeUs - shiftUs);
      coded.push(due);
      let at = sorted.length;
      while (at > 0 && (sorted[at - 1] ?? 0) > due) at--;
      sorted.splice(at, 0, due);
      if (sorted.length > windowPictures) settleOne();
    },
    end() {
      while (sorted.length) settleOne();
      return {
        back,
        pictures: settled,
        dueOf(i) {
          let low = 0;
          let high = runStart.length - 1;
          while (low < high) {
            const middle = (low + high + 1) >> 1;
            if ((runStart[middle] ?? 0) <= i) low = middle;
            else high = middle - 1;
          }
          return (runDue[low] ?? 0) + i - (runStart[low] ?? 0);
        },
      };
    },
  };
}
