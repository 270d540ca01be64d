import { useNavigate } from 'react-router';
import { purposeWords } from '@mellow/core';
import { briefSchema, purposes, type Purpose } from '@mellow/model';
import { Icon } from '../../parts/Icon';
import { useAddSetupMutation, useSetupsQuery } from '../../store/api';

const sessionMinutes: Record<Purpose, number> = {
  'long-play': 90,
  'short-film': 15,
  'slow-motion': 10,
  lesson: 45,
  master: 10,
  light: 60,
};

/** A purpose chosen is a setup begun; the brief asks what else matters for it. */
export function useBeginSetup(): (purpose: Purpose) => Promise<void> {
  const navigate = useNavigate();
  const [add] = useAddSetupMutation();
  const { data: setups = [] } = useSetupsQuery();
  return async (purpose) => {
    const base = purposeWords[purpose].name;
    const names = new Set(setups.map((s) => s.name));
    let name = base;
    for (let i = 2; names.has(name); i++) name = `${base} ${i}`;
    const result = await add({ name, brief: briefSchema.parse({ purpose, sessionMinutes: sessionMinutes[purpose] }) });
    if (result.data) void navigate(`/setups/${result.data.id}/brief`);
  };
}

export function BeginSetup() {
  const begin = useBeginSetup();
  return (
    <section className="sheet" aria-label="Begin a setup" id="begin">
      <div className="row" style={{ marginBottom: 12 }}>
        <span>
          <h2 style={{ display: 'inline' }}>Begin a setup</h2>
        </span>
        <span className="soft">What is the footage for? A starting recipe follows from it.</span>
      </div>
      <div className="purposes">
        {purposes.map((purpose) => (
          <button key={purpose} type="button" className="purpose" onClick={() => void begin(purpose)}>
            <b>
              {purposeWords[purpose].name}
              <Icon name="right" />
            </b>
            <span className="small soft">{purposeWords[purpose].meaning}</span>
          </button>
        ))}
      </div>
    </section>
  );
}
