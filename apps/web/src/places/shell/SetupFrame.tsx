import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import { NavLink, Outlet, useNavigate, useOutletContext, useParams } from 'react-router';
import type { Setup, Take } from '@mellow/model';
import { Button } from '../../parts/Button';
import { Icon } from '../../parts/Icon';
import { useMachinesQuery, useSetupsQuery, useTakesQuery } from '../../store/api';
import { QueryGate } from './QueryGate';

interface SetupContext {
  setup: Setup;
  /** Trials of this setup, newest first. */
  trials: Take[];
  /** All its takes, samples too. */
  takes: Take[];
  /** Where a place puts its tools into the line of steps. */
  tools: HTMLElement | null;
}

export const useSetup = (): SetupContext => useOutletContext<SetupContext>();

const steps = [
  { to: 'brief', name: 'Brief' },
  { to: 'path', name: 'Path' },
  { to: 'sound', name: 'Sound' },
  { to: 'trials', name: 'Trials' },
  { to: 'roll', name: 'Roll' },
];

/** The second line inside a setup: its steps in the order of work. */
export function SetupFrame() {
  const { setupId = '' } = useParams();
  const setups = useSetupsQuery();
  const takes = useTakesQuery();
  return (
    <QueryGate queries={[setups, takes]} what="Reading the setup">
      {() => {
        const setup = setups.data?.find((s) => s.id === setupId);
        if (!setup) return <NoSetup />;
        const own = (takes.data ?? []).filter((t) => t.setupId === setup.id);
        return <Frame setup={setup} setups={setups.data ?? []} takes={own} />;
      }}
    </QueryGate>
  );
}

function NoSetup() {
  return (
    <div className="page" style={{ paddingTop: 48, display: 'grid', gap: 16, justifyItems: 'start' }}>
      <h1>This setup is not here.</h1>
      <p className="soft">
        It was removed, or the address is mistyped. Its takes went with it only if you deleted them.
      </p>
      <Button main to="/setups">
        To the setups
      </Button>
    </div>
  );
}

function Frame({ setup, setups, takes }: { setup: Setup; setups: Setup[]; takes: Take[] }) {
  const trials = takes.filter(({ kind }) => kind === 'trial');
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [tools, setTools] = useState<HTMLElement | null>(null);
  const navigate = useNavigate();
  const { data: machines = [] } = useMachinesQuery();
  const machine = machines.find((m) => m.id === setup.machineId);
  return (
    <div className="page">
      <div className="steps-line">
        <button
          type="button"
          className="steps-line-setup"
          aria-haspopup="menu"
          onClick={(event) => setAnchor(event.currentTarget)}
        >
          <span className="clip">{setup.name}</span>
          <Icon name="down" />
        </button>
        <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
          {setups.map((other) => (
            <MenuItem
              key={other.id}
              selected={other.id === setup.id}
              onClick={() => {
                setAnchor(null);
                void navigate(`/setups/${other.id}/path`);
              }}
            >
              {other.name}
            </MenuItem>
          ))}
        </Menu>
        <nav className="steps" aria-label="Steps of the setup">
          {steps.map((step, i) => (
            <span key={step.to} style={{ display: 'contents' }}>
              {i > 0 && <i />}
              <NavLink to={step.to} className={({ isActive }) => (isActive ? 'here' : '')}>
                {step.name}
              </NavLink>
            </span>
          ))}
        </nav>
        {machine?.origin === 'simulated' ? (
          <span className="demo-tag" title="Times and losses come from the model, not from a measurement">
            {machine.name}, simulated
          </span>
        ) : (
          setup.demo && <span className="demo-tag">demo</span>
        )}
        <div className="steps-line-tools" ref={setTools} />
      </div>
      <Outlet context={{ setup, trials, takes, tools } satisfies SetupContext} />
    </div>
  );
}
