import Dialog from '@mui/material/Dialog';
import { Button } from '../../parts/Button';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { keysToggled } from '../../store/uiSlice';

const keys: [string, string][] = [
  ['t', 'make a trial, on Path and Trials'],
  ['r', 'roll a full take, on Roll'],
  ['[ and ]', 'previous and next station, on Path'],
  ['← → on a rail', 'look at the next value and what it would change; space or Enter chooses it'],
  ['Enter on a sound', 'lift it; up and down choose its lane, Enter puts it there, Escape lets it be'],
  ['m', 'mark this moment of the rolling take, on Roll'],
  ['p', 'pause the rolling take and go on, on Roll'],
  ['l', 'keep the last minutes that are held, on Roll'],
  ['hold v', 'talk, on Roll, where the microphone is open while held'],
  ['u', 'undo the last change of the recipe'],
  ['hold s', 'stop the rolling take, half a second'],
  ['← →', 'along the timeline of a take'],
  ['+ −', 'zoom the timeline'],
  ['n p', 'next and previous loss on the timeline'],
  ['space', 'play or pause a take'],
  ['Ctrl K', 'find a place, setup, take or action'],
  ['?', 'these keys'],
];

export function KeysDialog() {
  const open = useAppSelector((state) => state.ui.keysShown);
  const dispatch = useAppDispatch();
  const close = () => dispatch(keysToggled());
  return (
    <Dialog open={open} onClose={close} aria-labelledby="keys-title">
      <div className="dialog">
        <h2 id="keys-title">Keys</h2>
        <dl className="keys-list">
          {keys.map(([key, what]) => (
            <div key={key} style={{ display: 'contents' }}>
              <dt>
                <kbd>{key}</kbd>
              </dt>
              <dd>{what}</dd>
            </div>
          ))}
        </dl>
        <p className="small soft">None of them acts while you type.</p>
        <div className="dialog-actions">
          <Button onClick={close} autoFocus>
            Close
          </Button>
        </div>
      </div>
    </Dialog>
  );
}
