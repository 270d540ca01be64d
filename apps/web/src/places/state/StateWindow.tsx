import { createContext, useContext, useEffect, useMemo, useState, type ReactNode } from 'react';
import { createPortal } from 'react-dom';
import { useColorScheme } from '@mui/material/styles';
import { useAppSelector } from '../../store/store';
import { openStateWindow, type OpenedWindow } from './openStateWindow';
import { storedStateOptions, storeStateOptions, type StateOptions } from './stateOptions';
import { StateView } from './StateView';
import './State.css';

interface StateWindowControl {
  options: StateOptions;
  change(options: StateOptions): void;
  opened: OpenedWindow | null;
  /** The browser let none open. */
  refused: boolean;
  open(): void;
  close(): void;
}
const Control = createContext<StateWindowControl | null>(null);

/** The state window, wherever in the application a person is. */
export function useStateWindow(): StateWindowControl {
  const control = useContext(Control);
  if (!control) throw new Error('The state window is used outside of its frame.');
  return control;
}

/** Keeps the state window open while places change, and draws into it. */
export function StateWindowFrame({ children }: { children: ReactNode }) {
  const [options, setOptions] = useState(storedStateOptions);
  const [opened, setOpened] = useState<OpenedWindow | null>(null);
  const [refused, setRefused] = useState(false);
  const { state, connected } = useAppSelector(({ live }) => live);
  const { mode, systemMode } = useColorScheme();
  const page = (mode === 'system' ? systemMode : mode) ?? 'light';
  const scheme = options.scheme === 'as this page' ? page : options.scheme;
  useEffect(() => {
    if (!opened) return undefined;
    const gone = () => setOpened(null);
    opened.window.addEventListener('pagehide', gone);
    return () => opened.window.removeEventListener('pagehide', gone);
  }, [opened]);
  useEffect(() => {
    if (opened) opened.window.document.documentElement.dataset['scheme'] = scheme;
  }, [opened, scheme]);
  // A window of the page goes with the page.
  useEffect(() => () => opened?.window.close(), [opened]);
  const control = useMemo<StateWindowControl>(
    () => ({
      options,
      opened,
      refused,
      change(next) {
        storeStateOptions(next);
        setOptions(next);
      },
      open: () =>
        void openStateWindow(options).then((window) => {
          setRefused(window === null);
          setOpened(window);
        }),
      close() {
        opened?.window.close();
        setOpened(null);
      },
    }),
    [options, opened, refused],
  );
  return (
    <Control.Provider value={control}>
      {children}
      {opened &&
        createPortal(
          <div className={`state-window ${options.size}`}>
            <StateView live={state} connected={connected} shows={options.shows} />
          </div>,
          opened.window.document.body,
        )}
    </Control.Provider>
  );
}
