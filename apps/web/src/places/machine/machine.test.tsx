import { render, screen, within } from '@testing-library/react';
import { encoderSpeeds, kestrel, wren } from '@mellow/core';
import { EncoderPlot } from './EncoderPlot';

describe('the encoders of a machine', () => {
  it('stand in rows, working ones first, each that does not work with its reason', () => {
    render(<EncoderPlot machine={kestrel} recommended="avc-card" />);
    const rows = within(screen.getByRole('table', { name: 'Encoders' })).getAllByRole('row');
    expect(rows).toHaveLength(kestrel.encoders.length);
    const works = rows.map((row) => within(row).queryByLabelText('works') !== null);
    expect(works.indexOf(false)).toBe(works.filter(Boolean).length);
    expect(
      within(rows.at(-1)!).getByText(kestrel.encoders.filter((e) => !e.works).at(-1)!.reason!),
    ).toBeInTheDocument();
    expect(screen.getByText(/graphics card, to begin with/)).toBeInTheDocument();
  });
  it('show the frames a second of the core, the lightest effort the fastest', () => {
    render(<EncoderPlot machine={wren} recommended="avc-software" />);
    const speeds = encoderSpeeds(wren, 'avc-software');
    const fps = speeds.map((s) => s.fps);
    expect(fps).toEqual([...fps].sort((a, b) => b - a));
    expect(screen.getByTitle(new RegExp(`^lightest: ${fps[0]!.toFixed(0)} fps`))).toBeInTheDocument();
  });
});
