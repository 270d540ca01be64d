import type { MachineSheet } from '@mellow/model';
import { useState } from 'react';
import { fitInto, formatFps, formatSize, shapeName } from '@mellow/core';
import { Button } from '../../parts/Button';
import { Icon } from '../../parts/Icon';
import { NumberField, TypedField } from '../../parts/NumberField';
import { WordEditor } from '../../parts/WordMenu';
import { useChangeMachineMutation } from '../../store/api';

export function Displays({ machine }: { machine: MachineSheet }) {
  const [change] = useChangeMachineMutation();
  const set = (displays: MachineSheet['displays']) => void change({ id: machine.id, patch: { displays } });
  const hd = { widthPx: 1920, heightPx: 1080 };
  return (
    <section>
      <div className="machine-title">
        <h2>Displays and what 16:9 makes of them</h2>
      </div>
      {machine.displays.length === 0 && (
        <p className="soft">The system tells of none. Type yours: shapes and bars follow from it.</p>
      )}
      <div className="displays">
        {machine.displays.map((display, i) => {
          const fitted = fitInto(display, hd, 'bars');
          const bars = fitted.barsPx.top
            ? `bars of ${fitted.barsPx.top} px above and below in 1080 lines`
            : fitted.barsPx.side
              ? `bars of ${fitted.barsPx.side} px at each side in 1080 lines`
              : 'fills 1080 lines, nothing lost';
          return (
            <figure key={`${display.name}-${i}`}>
              <div className={`display${fitted.barsPx.top || fitted.barsPx.side ? ' barred' : ''}`}>
                <div
                  style={{
                    width: `${(fitted.picture.widthPx / hd.widthPx) * 100}%`,
                    height: `${(fitted.picture.heightPx / hd.heightPx) * 100}%`,
                  }}
                >
                  <b className="n">{formatSize(display.widthPx, display.heightPx)}</b>
                  <span className="small soft">
                    {display.refreshHz ? `${formatFps(display.refreshHz).replace(' fps', '')} Hz, ` : ''}
                    {shapeName(display)}
                  </span>
                </div>
              </div>
              <figcaption>
                {display.name}: {bars}{' '}
                <Button
                  quiet
                  pressed={display.hdr}
                  label={`${display.name} shows a high dynamic range`}
                  onClick={() => set(machine.displays.map((d, at) => (at === i ? { ...d, hdr: !d.hdr } : d)))}
                >
                  {display.hdr ? 'HDR on' : 'HDR off'}
                </Button>
                <Button
                  quiet
                  label={`Remove ${display.name}`}
                  onClick={() => set(machine.displays.filter((_, at) => at !== i))}
                >
                  <Icon name="cross" />
                </Button>
              </figcaption>
            </figure>
          );
        })}
      </div>
      <WordEditor label="Add a display" word="Add a display">
        {(close) => (
          <AddDisplay
            onAdd={(display) => {
              set([...machine.displays, display]);
              close();
            }}
          />
        )}
      </WordEditor>
    </section>
  );
}

function AddDisplay({ onAdd }: { onAdd: (display: MachineSheet['displays'][number]) => void }) {
  const [display, setDisplay] = useState({ name: 'Display', widthPx: 1920, heightPx: 1080, refreshHz: 60, hdr: false });
  return (
    <>
      <TypedField
        wide
        label="Name of the display"
        text={display.name}
        parse={(text): { value: string } | { problem: string } =>
          text.trim() ? { value: text.trim() } : { problem: 'It needs a name.' }
        }
        onChange={(name) => setDisplay({ ...display, name })}
      />
      <span className="row">
        <NumberField
          label="Width of the display"
          value={display.widthPx}
          min={320}
          max={16_000}
          unit="wide"
          onChange={(widthPx) => setDisplay({ ...display, widthPx })}
        />
        <NumberField
          label="Height of the display"
          value={display.heightPx}
          min={200}
          max={16_000}
          unit="high"
          onChange={(heightPx) => setDisplay({ ...display, heightPx })}
        />
        <NumberField
          label="Refresh rate"
          value={display.refreshHz}
          min={1}
          max={1000}
          unit="Hz"
          onChange={(refreshHz) => setDisplay({ ...display, refreshHz })}
        />
      </span>
      <Button main onClick={() => onAdd(display)}>
        Add it
      </Button>
    </>
  );
}
