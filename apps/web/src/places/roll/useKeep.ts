import { useKeepMutation } from '../../store/api';
import { shortSound } from './shortSound';

export interface KeepAction {
  keep: () => void;
  busy: boolean;
}

/** The way to keep the last minutes; a short sound says when they are, as nobody looks at the page then. */
export function useKeep(possible: boolean): KeepAction {
  const [keep, { isLoading }] = useKeepMutation();
  return {
    busy: isLoading,
    keep() {
      if (!possible || isLoading) return;
      void keep().then((result) => 'data' in result && shortSound());
    },
  };
}
