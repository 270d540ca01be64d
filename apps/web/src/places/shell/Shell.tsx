import { NavLink, Outlet, useLocation } from 'react-router';
import { useColorScheme } from '@mui/material/styles';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { formatDuration, hindsightWords } from '@mellow/core';
import type { LiveState, Watching } from '@mellow/model';
import { Icon } from '../../parts/Icon';
import { RecorderShape, recorderShape, recorderWords } from '../../parts/RecorderShape';
import { useEndJobMutation } from '../../store/api';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { keysToggled, searchToggled } from '../../store/uiSlice';
import { StateWindowFrame } from '../state/StateWindow';
import { KeysDialog } from './KeysDialog';
import { Notices } from './Notices';
import { SearchDialog } from './SearchDialog';
import { useKeys } from './useKeys';
import './Shell.css';

const places = [
  { to: '/', name: 'Start' },
  { to: '/setups', name: 'Setups' },
  { to: '/takes', name: 'Takes' },
  { to: '/machine', name: 'Machine' },
];

/** The slim bar on top, and what belongs to every place. */
export function Shell() {
  const dispatch = useAppDispatch();
  const { pathname } = useLocation();
  useKeys({ '?': () => dispatch(keysToggled()), 'mod+k': () => dispatch(searchToggled()) });
  return (
    <StateWindowFrame>
      <a className="skip" href="#place">
        Skip to the place
      </a>
      <header className="bar">
        <NavLink to="/" className="bar-mark" aria-label="Mellow Frame, Start">
          <svg width="24" height="20" viewBox="0 0 24 20" fill="none" aria-hidden="true">
            <path
              d="M2 13.500V6a4 4 0 0 1 4-4h12a4 4 0 0 1 4 4v7.500"
              stroke="var(--ink)"
              strokeWidth="1.800"
              strokeLinecap="round"
            />
            <path
              d="M2 17.800c2.500 0 2.500-3 5-3s2.500 3 5 3 2.500-3 5-3 2.500 3 5 3"
              stroke="var(--accent)"
              strokeWidth="1.800"
              strokeLinecap="round"
            />
          </svg>
          Mellow Frame
        </NavLink>
        <nav className="bar-places" aria-label="Places">
          {places.map((place) => (
            <NavLink
              key={place.to}
              to={place.to}
              end={place.to === '/'}
              className={({ isActive }) => (isActive ? 'here' : '')}
            >
              {place.name}
            </NavLink>
          ))}
        </nav>
        <button type="button" className="bar-find" onClick={() => dispatch(searchToggled())}>
          <Icon name="search" />
          <span>Find a place, setup, take or action</span>
          <kbd>Ctrl K</kbd>
        </button>
        <RunningWork />
        <SchemeSwitch />
        <RecorderState />
      </header>
      <main id="place" key={pathname.startsWith('/setups/') ? 'setup' : pathname} tabIndex={-1}>
        <Notices />
        <Outlet />
      </main>
      <KeysDialog />
      <SearchDialog />
    </StateWindowFrame>
  );
}

/** Work that runs beside: what, how far, and the way to end it. */
function RunningWork() {
  const job = useAppSelector((state) => state.live.state?.jobs[0]);
  const [endJob] = useEndJobMutation();
  if (!job) return null;
  return (
    <span className="bar-work" role="status">
      <span className="clip">{job.title}</span>
      {job.of !== null && job.of > 0 && <span className="n">{Math.floor((100 * job.done) / job.of)} %</span>}
      <IconButton size="small" aria-label={`End: ${job.title}`} onClick={() => void endJob(job.id)} color="inherit">
        <Icon name="cross" />
      </IconButton>
    </span>
  );
}

function SchemeSwitch() {
  const { mode, systemMode, setMode } = useColorScheme();
  const dark = (mode === 'system' ? systemMode : mode) === 'dark';
  return (
    <Tooltip title={dark ? 'To the light scheme, oat' : 'To the dark scheme, dusk'}>
      <IconButton
        size="small"
        onClick={() => setMode(dark ? 'light' : 'dark')}
        aria-label={dark ? 'Use the light scheme' : 'Use the dark scheme'}
        color="inherit"
      >
        <Icon name="moon" />
      </IconButton>
    </Tooltip>
  );
}

/** No take rolls, and the last minutes are held. */
function HoldingState({ watching }: { watching: Watching }) {
  const { state, held } = watching;
  const words = { beginning: 'Begins to hold', on: 'Holding', resting: 'Resting', failed: 'Holds nothing' } as const;
  return (
    <NavLink className="bar-state" to={`/setups/${watching.setupId}/roll`}>
      <svg width="12" height="12" viewBox="0 0 12 12" aria-hidden="true">
        <circle cx="6" cy="6" r="5" fill="none" stroke="var(--capture-ink)" strokeWidth="1.5" />
        {state === 'on' && <path d="M6 1a5 5 0 0 0 0 10z" fill="var(--capture-ink)" />}
      </svg>
      <b>{words[state]}</b>
      {held && (
        <span className="soft">
          the last <span className="n">{hindsightWords(Math.min(held.heldS, held.lengthS))}</span>
        </span>
      )}
    </NavLink>
  );
}

/** A full take begins in some seconds. */
function RollsSoon({ soon }: { soon: NonNullable<LiveState['rollsSoon']> }) {
  return (
    <NavLink className="bar-state" to={`/setups/${soon.setupId}/roll`}>
      <RecorderShape shape="armed" />
      <b>Rolls</b>
      <span className="soft">
        in <span className="n">{soon.leftS}</span> s
      </span>
    </NavLink>
  );
}

/** Idle, armed, rolling, closing: by shape and text, never by colour alone. */
function RecorderState() {
  const live = useAppSelector((state) => state.live);
  const recorder = live.state?.recorder ?? 'idle';
  const take = live.state?.take ?? null;
  const watching = live.state?.watching ?? null;
  const soon = live.state?.rollsSoon ?? null;
  if (live.connected && recorder === 'idle' && soon) return <RollsSoon soon={soon} />;
  if (live.connected && recorder === 'idle' && watching) return <HoldingState watching={watching} />;
  const word = recorderWords({ recorder, take });
  const content = (
    <>
      <RecorderShape shape={recorderShape({ recorder, take })} />
      <b>{live.connected ? word : 'No answer'}</b>
      {recorder === 'rolling' && take ? (
        <span className="n">{formatDuration(take.elapsedUs / 1e6)}</span>
      ) : (
        <span className="soft">{live.connected ? 'on this PC' : 'from the program'}</span>
      )}
    </>
  );
  return take ? (
    <NavLink className="bar-state" to={`/setups/${take.setupId}/roll`} aria-label={`${word}, to the take`}>
      {content}
    </NavLink>
  ) : (
    <span className="bar-state" role="status">
      {content}
    </span>
  );
}
