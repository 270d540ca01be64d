import Dialog from '@mui/material/Dialog';
import { useState } from 'react';
import type { DemoState, Setup, Take } from '@mellow/model';
import { Link } from 'react-router';
import { Button } from '../../parts/Button';
import { Icon } from '../../parts/Icon';
import { useRemoveDemoMutation } from '../../store/api';
import { setupState } from '../setups/setupState';

/** The demo stands apart and can be removed with one button. */
export function DemoCard({ demo, setups, takes }: { demo: DemoState; setups: Setup[]; takes: Take[] }) {
  const [asking, setAsking] = useState(false);
  const [remove, removing] = useRemoveDemoMutation();
  if (!demo.present) return null;
  const own = setups.filter((s) => s.demo);
  const made = takes.filter((t) => !t.demo && own.some((s) => s.id === t.setupId)).length;
  const act = async () => {
    if (made && !asking) return setAsking(true);
    setAsking(false);
    await remove();
  };
  return (
    <section className="demo-card" aria-label="Demo">
      <p className="row">
        <b className="start-title">Demo</b>
        <span className="soft push small">measured on the PC it was made on, or simulated where it says so</span>
      </p>
      <p>
        {demo.setups} setups and {demo.takes} trials to look round in, recorded with this program
        {demo.madeOn ? ` on a PC with ${demo.madeOn}` : ''}.
      </p>
      <ul className="demo-setups">
        {own.map((setup) => (
          <li key={setup.id}>
            <Link className="quiet-link" to={`/setups/${setup.id}/path`}>
              <b>{setup.name}</b>
            </Link>
            {setup.machineId !== 'this' && <span className="demo-tag">simulated</span>}
            <span className="soft small">
              {
                setupState(
                  setup,
                  takes.filter((t) => t.setupId === setup.id),
                ).text
              }
            </span>
          </li>
        ))}
      </ul>
      <p className="demo-actions">
        {own[0] && (
          <Button to={`/setups/${own[0].id}/trials`}>
            <Icon name="eye" />
            Look round
          </Button>
        )}
        <Button busy={removing.isLoading} onClick={() => void act()}>
          <Icon name="cross" />
          Remove the demo
        </Button>
      </p>
      <p className="soft small">
        Its takes lie in a folder of their own. “npm start -- --fresh” on an empty data folder begins without it.
      </p>
      <Dialog open={asking} onClose={() => setAsking(false)} aria-labelledby="demo-title">
        <div className="dialog">
          <h2 id="demo-title">
            Remove the demo with {made} {made === 1 ? 'trial' : 'trials'} of yours?
          </h2>
          <p className="soft">
            You made {made === 1 ? 'it' : 'them'} in the demo’s setups; file and ledger go with the demo and cannot be
            brought back.
          </p>
          <div className="dialog-actions">
            <Button autoFocus onClick={() => setAsking(false)}>
              Leave it
            </Button>
            <Button danger onClick={() => void act()}>
              Remove all of it
            </Button>
          </div>
        </div>
      </Dialog>
    </section>
  );
}
