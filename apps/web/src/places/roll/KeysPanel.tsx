import Dialog from '@mui/material/Dialog';
import { useState } from 'react';
import { bindingsOf, bindingWords, keyActionWords, keyClashes, startBindings, type KeyClash } from '@mellow/core';
import { keyActions, type Binding, type KeyAction, type KeySettings, type KeyState, type Setup } from '@mellow/model';
import { Button } from '../../parts/Button';
import { Message } from '../../parts/Message';
import { Rail } from '../../parts/Rail';
import { useSetKeysMutation } from '../../store/api';
import { KeyField } from './KeyField';
import './Keys.css';

/** Clashes of the keys that hold for a setup, where they are heard. */
export const clashesFor = ({ settings }: KeyState, setup: Setup): KeyClash[] =>
  settings.on ? keyClashes(bindingsOf(settings, setup.id), setup.game.facts.keys) : [];

/** A key of a setup that has keys of its own, or the common one. */
const withKey = (settings: KeySettings, setupId: string, own: boolean, action: KeyAction, binding: Binding | null) =>
  own
    ? { ...settings, bySetup: { ...settings.bySetup, [setupId]: { ...settings.bySetup[setupId], [action]: binding } } }
    : { ...settings, common: { ...settings.common, [action]: binding } };

/** Keys that something else hears too, each with one that is free. */
export function KeyClashes({
  settings,
  setup,
  clashes,
}: {
  settings: KeySettings;
  setup: Setup;
  clashes: readonly KeyClash[];
}) {
  const [set] = useSetKeysMutation();
  return clashes.map(({ action, title, text, instead }) => (
    <Message
      key={action}
      tone="loss"
      title={title}
      actions={
        instead && (
          <Button
            quiet
            onClick={() => void set(withKey(settings, setup.id, setup.id in settings.bySetup, action, instead))}
          >
            Use {bindingWords(instead)}
          </Button>
        )
      }
    >
      {text}
    </Message>
  ));
}

/** Keys that act while another program has the focus: off until somebody says yes. */
export function KeysPanel({ state, setup, onClose }: { state: KeyState; setup: Setup; onClose: () => void }) {
  const { settings } = state;
  const [own, setOwn] = useState(settings.bySetup[setup.id] !== undefined);
  const [set, { isLoading }] = useSetKeysMutation();
  const change = (part: Partial<KeySettings>) => void set({ ...settings, ...part });
  const bindings = bindingsOf(settings, setup.id);
  const choose = (action: KeyAction, binding: Binding | null) =>
    void set(withKey(settings, setup.id, own, action, binding));
  const shareKeys = () => {
    const others = Object.entries(settings.bySetup).filter(([id]) => id !== setup.id);
    setOwn(false);
    change({ bySetup: Object.fromEntries(others) });
  };
  const clashes = keyClashes(bindings, setup.game.facts.keys);
  return (
    <Dialog open onClose={onClose} aria-labelledby="game-keys-title" maxWidth={false}>
      <div className="dialog game-keys">
        <h2 id="game-keys-title">Keys in the game</h2>
        <p className="soft">
          They act whichever program has the focus. A process of its own hears the keyboard for that; it tells Mellow
          Frame of these keys only and keeps nothing of others.
        </p>
        <div className="row key-rails">
          <Rail
            label="Keys in the game"
            hue="game"
            value={settings.on ? 'on' : 'off'}
            choices={[
              { value: 'off', label: 'not heard' },
              { value: 'on', label: 'heard' },
            ]}
            onChange={(value) => change({ on: value === 'on', setupId: settings.setupId ?? setup.id })}
          />
          <Rail
            label="Whose keys"
            hue="game"
            value={own ? 'own' : 'common'}
            choices={[
              { value: 'common', label: 'for every setup' },
              { value: 'own', label: `${setup.name} only` },
            ]}
            onChange={(value) => (value === 'own' ? setOwn(true) : shareKeys())}
          />
        </div>
        <p className="small" role="status">
          {stateWords(state, isLoading)}
        </p>
        <div className="key-rows">
          {keyActions.map((action) => (
            <div key={action} className="key-row">
              <span>{keyActionWords[action].name}</span>
              <KeyField
                label={keyActionWords[action].name}
                binding={bindings[action]}
                start={own ? settings.common[action] : startBindings[action]}
                onChange={(binding) => choose(action, binding)}
              />
            </div>
          ))}
        </div>
        {settings.on && settings.setupId !== setup.id && (
          <p className="small">
            The key rolls another setup.{' '}
            <button type="button" className="link" onClick={() => change({ setupId: setup.id })}>
              Let it roll {setup.name}
            </button>
          </p>
        )}
        <KeyClashes settings={settings} setup={setup} clashes={clashes} />
        <div className="dialog-actions">
          <Button onClick={onClose}>Close</Button>
        </div>
      </div>
    </Dialog>
  );
}

function stateWords({ settings, listening, why }: KeyState, busy: boolean): string {
  if (busy) return 'A moment.';
  if (why) return `They cannot be heard: ${why}`;
  if (listening) return 'They are heard now.';
  return settings.on ? 'They begin to be heard.' : 'Nothing is heard now.';
}
