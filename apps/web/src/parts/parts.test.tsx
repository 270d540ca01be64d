import { render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { EaseWord, easeOf } from './Gauge';
import { HoldButton } from './HoldButton';
import { NumberField } from './NumberField';
import { Rail } from './Rail';

describe('the rail', () => {
  function Tried({ onChange }: { onChange: (value: string) => void }) {
    const [value, setValue] = useState('light');
    return (
      <Rail
        label="Effort"
        hue="encode"
        value={value}
        start="light"
        choices={[
          { value: 'light', label: 'light' },
          { value: 'middle', label: 'middle' },
          { value: 'av1', label: 'AV1', unreachable: 'not in this PC' },
        ]}
        onChange={(v) => {
          setValue(v);
          onChange(v);
        }}
      />
    );
  }
  it('is a group of radio buttons: arrows move along it, space chooses, an unreachable choice gives its reason', async () => {
    const seen: string[] = [];
    render(<Tried onChange={(v) => seen.push(v)} />);
    expect(screen.getByRole('radiogroup', { name: 'Effort' })).toBeInTheDocument();
    screen.getByRole('radio', { name: 'light' }).focus();
    await userEvent.keyboard('{ArrowRight}');
    expect(screen.getByRole('radio', { name: 'middle' })).toHaveFocus();
    expect(seen).toEqual([]);
    await userEvent.keyboard(' ');
    expect(seen).toEqual(['middle']);
    expect(screen.getByRole('radio', { name: 'middle' })).toBeChecked();
    expect(screen.getByRole('radio', { name: 'AV1' })).toBeDisabled();
    expect(screen.getByTitle('not in this PC')).toBeInTheDocument();
  });
  it('says why it has no effect, and stays reachable', () => {
    render(
      <Rail
        label="Filter"
        hue="size"
        value="lanczos"
        quiet="nothing is scaled"
        choices={[{ value: 'lanczos', label: 'crisp', hint: 'Lanczos' }]}
        onChange={() => {}}
      />,
    );
    expect(screen.getByText('nothing is scaled')).toBeInTheDocument();
    expect(screen.getByRole('radio', { name: 'crisp, Lanczos' })).toBeEnabled();
  });
});

describe('a typed number', () => {
  it('is taken on Enter, refused with a reason, and put back', async () => {
    const seen: number[] = [];
    render(
      <NumberField label="Bitrate" value={9000} min={500} max={20_000} unit="kb/s" onChange={(v) => seen.push(v)} />,
    );
    const field = screen.getByRole('textbox', { name: 'Bitrate' });
    await userEvent.clear(field);
    await userEvent.type(field, '90{Enter}');
    expect(screen.getByRole('alert')).toHaveTextContent('90 is not between 500 and 20000.');
    expect(field).toBeInvalid();
    await userEvent.click(screen.getByRole('button', { name: 'Put back 9000' }));
    expect(field).toHaveValue('9000');
    await userEvent.clear(field);
    await userEvent.type(field, 'much{Enter}');
    expect(screen.getByRole('alert')).toHaveTextContent('"much" is no number.');
    await userEvent.keyboard('{Escape}');
    await userEvent.clear(field);
    await userEvent.type(field, '12 000{Enter}');
    expect(seen).toEqual([12_000]);
  });
});

describe('the gauge', () => {
  it('is decided by the busiest 1 %: easy under 80 %, near to 100 %, over above', () => {
    expect([easeOf(13.2, 16.7), easeOf(13.4, 16.7), easeOf(16.7, 16.7), easeOf(16.8, 16.7)]).toEqual([
      'easy',
      'near',
      'near',
      'over',
    ]);
    render(<EaseWord ease="over" />);
    expect(screen.getByText('over')).toBeInTheDocument();
  });
});

describe('the held button', () => {
  it('does nothing when it is only clicked', async () => {
    let held = 0;
    render(
      <HoldButton hotkey="s" onHeld={() => held++}>
        Stop
      </HoldButton>,
    );
    await userEvent.click(screen.getByRole('button', { name: /Stop/ }));
    expect(held).toBe(0);
    await userEvent.pointer({ keys: '[MouseLeft>]', target: screen.getByRole('button', { name: /Stop/ }) });
    await waitFor(() => expect(held).toBe(1), { timeout: 5000 });
  });
});
