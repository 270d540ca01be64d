import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { FrameTimesFile } from './FrameTimesFile';

/** The page environment of the tests has files without their text. */
const file = (text: string, name = 'times.csv') =>
  Object.assign(new File([text], name, { type: 'text/csv' }), { text: async () => text });
const show = () => {
  const onRead = jest.fn();
  render(<FrameTimesFile onRead={onRead} />);
  return onRead;
};
const bring = (what: File) => userEvent.upload(screen.getByLabelText('Log of frame times'), what);

describe('a log of frame times', () => {
  it('is read, told, and taken only when asked', async () => {
    const onRead = show();
    await bring(file(['frame time (ms)', ...Array<number>(1200).fill(8), 'x'].join('\n')));
    expect(
      await screen.findByText(/1200 frames, 125 fps on average, 1 % low 125 fps. 1 line was left out/),
    ).toBeInTheDocument();
    expect(onRead).not.toHaveBeenCalled();
    await userEvent.click(screen.getByRole('button', { name: 'Take 125 fps' }));
    expect(onRead.mock.calls).toEqual([[125]]);
  });
  it('that tells nothing says why, and offers nothing', async () => {
    show();
    await bring(file('red,sweet'));
    expect(await screen.findByText(/No column is named/)).toBeInTheDocument();
    expect(screen.queryByRole('button', { name: /^Take/ })).toBeNull();
  });
});
