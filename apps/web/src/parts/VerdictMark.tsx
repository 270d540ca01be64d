import { endedStates, type Take, type VerdictMark as Mark } from '@mellow/model';
import { ShapeMark } from './ShapeMark';
import './VerdictMark.css';

export const markWords: Record<Mark, string> = {
  keep: 'Keep',
  unclear: 'Unclear',
  look: 'Look again',
  rescued: 'Rescued',
  failed: 'Failed',
};

/** The mark of a verdict by shape and word; a take that is being made says so. */
export function VerdictMark({ take }: { take: Take }) {
  const mark = take.verdict?.mark;
  if (!endedStates.includes(take.state) || !mark)
    return (
      <span className="verdict-mark">
        <ShapeMark shape="waits" />
        being made
      </span>
    );
  return (
    <span className={`verdict-mark ${mark}`}>
      <ShapeMark shape={mark} />
      {markWords[mark]}
    </span>
  );
}
