import type { TakeEnd } from '@mellow/model';
import type { StopReason } from '../shared/control';

/** How a take ended, by why it was stopped. */
export const endOf: Record<StopReason, TakeEnd> = {
  none: 'length',
  length: 'length',
  stopped: 'stopped',
  'server-gone': 'server-gone',
  'drive-full': 'drive-full',
  'file-limit': 'file-limit',
  'drive-gone': 'drive-gone',
  'drive-error': 'drive-error',
  'source-gone': 'source-gone',
  error: 'error',
};

export const endTexts: Partial<Record<TakeEnd, string>> = {
  'server-gone': 'The application ended while the take was rolling; the recorder closed the take by itself.',
  'drive-full': 'The drive is full, so the take was ended.',
  'file-limit':
    'The file came to the most that its drive’s file system keeps in one file, so the take was ended and closed.',
  'drive-gone':
    'The folder of the drive disappeared while the take was rolling. All that was recorded lies in the data folder now.',
  'drive-error': 'The drive refused to take more bytes.',
  'source-gone': 'The window that was recorded was closed, so the take was ended and closed.',
};

export const nothingRecorded = 'It was stopped before the first frame was due, so nothing was recorded.';
