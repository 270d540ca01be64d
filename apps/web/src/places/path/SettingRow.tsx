import { useState, type ReactNode } from 'react';
import { settingFacts, type SettingKey } from '@mellow/core';
import { Icon } from '../../parts/Icon';
import { useChangeSetupMutation } from '../../store/api';
import { Arrows } from './Arrows';
import { usePath } from './pathContext';
import { whyTexts } from './whyTexts';

/** A label and its control, without a place in the recipe. */
export function PlainRow({ label, children, under }: { label: ReactNode; children: ReactNode; under?: ReactNode }) {
  return (
    <div className="setting">
      <span className="setting-label">{label}</span>
      <div className="setting-line">{children}</div>
      {under && <div className="setting-under">{under}</div>}
    </div>
  );
}

/** A setting of the recipe: its control, its lock, why it is so, and what a considered value would change. */
export function SettingRow({
  setting,
  label,
  note,
  children,
}: {
  setting: SettingKey;
  label: string;
  note?: ReactNode;
  children: ReactNode;
}) {
  const { considered, outlook, outlookIsCurrent } = usePath();
  const [told, setTold] = useState(false);
  const why = whyTexts[setting];
  const looked = considered?.key === setting ? considered : null;
  return (
    <PlainRow
      label={
        <>
          <span className="setting-name">
            {label}
            <Lock setting={setting} />
          </span>
          {why && <WhyButton told={told} onToggle={() => setTold(!told)} label={label} />}
        </>
      }
      under={
        <>
          {looked ? (
            <Arrows words={looked.words} arrows={outlook?.arrows ?? null} waiting={!outlookIsCurrent} />
          ) : (
            note && <p className="small soft">{note}</p>
          )}
          {told && why && (
            <div className="setting-why small">
              <p>{why.text}</p>
              {why.sides && (
                <p>
                  <span className="soft">On one side:</span> {why.sides[0]} <span className="soft">On the other:</span>{' '}
                  {why.sides[1]}
                </p>
              )}
              {why.settles && (
                <p>
                  <b>What settles it:</b> {why.settles}
                </p>
              )}
            </div>
          )}
        </>
      }
    >
      {children}
    </PlainRow>
  );
}

function WhyButton({ told, onToggle, label }: { told: boolean; onToggle: () => void; label: string }) {
  return (
    <button type="button" className="link small" aria-expanded={told} aria-label={`Why, ${label}`} onClick={onToggle}>
      {told ? 'less' : 'why'}
    </button>
  );
}

/** A locked setting is never touched by advice. */
function Lock({ setting }: { setting: SettingKey }) {
  const { setup } = usePath();
  const [changeSetup] = useChangeSetupMutation();
  const locked = setup.locks.includes(setting);
  const { name } = settingFacts[setting];
  return (
    <button
      type="button"
      className={`lock${locked ? ' on' : ''}`}
      aria-pressed={locked}
      aria-label={locked ? `Unlock ${name}: advice may change it` : `Lock ${name}: advice leaves it alone`}
      title={locked ? 'Locked: advice leaves it alone' : 'Lock it: advice leaves it alone'}
      onClick={() =>
        void changeSetup({
          id: setup.id,
          patch: { locks: locked ? setup.locks.filter((key) => key !== setting) : [...setup.locks, setting] },
        })
      }
    >
      <Icon name={locked ? 'lock' : 'unlock'} size={12} />
    </button>
  );
}
