import { render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { briefSchema, purposes, type Brief } from '@mellow/model';
import { testPath, testSetup } from '../path/pathTest.test-support';
import { EditorQuestion, FinerQuestions, MattersQuestion, SessionQuestion, ShownQuestion } from './BriefQuestions';
import { askedFor, finerQuestions } from './questions';

const brief = briefSchema.parse({ purpose: 'long-play', sessionMinutes: 90 });

describe('the questions of a brief', () => {
  it('ask for each purpose only what matters for it, and at least one thing', () => {
    for (const purpose of purposes) {
      expect(askedFor[purpose].length).toBeGreaterThan(0);
      expect(askedFor[purpose].length).toBeLessThan(finerQuestions.length);
    }
    expect(askedFor['slow-motion']).toContain('slowPercent');
    expect(askedFor['long-play']).not.toContain('slowPercent');
  });
  it('order what matters by Alt and arrows and by buttons, and keep every concern once', async () => {
    const changes: Partial<Brief>[] = [];
    render(<MattersQuestion brief={brief} onChange={(part) => changes.push(part)} />);
    expect(within(screen.getByRole('list', { name: /What matters/ })).getAllByRole('listitem')).toHaveLength(4);
    screen.getByRole('button', { name: /^picture, third/ }).focus();
    await userEvent.keyboard('{Alt>}{ArrowLeft}{/Alt}');
    expect(changes.at(-1)?.matters).toEqual(['game', 'picture', 'safety', 'small-files']);
    await userEvent.click(screen.getByRole('button', { name: 'small files earlier' }));
    expect(changes.at(-1)?.matters).toEqual(['game', 'safety', 'small-files', 'picture']);
    expect(screen.getByRole('button', { name: 'game smooth earlier' })).toBeDisabled();
    changes.forEach((c) => expect(briefSchema.safeParse({ ...brief, ...c }).success).toBe(true));
  });
  it('ask for the mains only where a broadcaster is', async () => {
    const size = { widthPx: 1920, heightPx: 1080 };
    const { rerender } = render(<ShownQuestion brief={brief} onChange={() => {}} game={size} file={size} lines fps />);
    expect(screen.queryByRole('radiogroup', { name: 'Mains' })).toBeNull();
    const changes: Partial<Brief>[] = [];
    rerender(
      <ShownQuestion
        brief={{ ...brief, destination: 'broadcaster' }}
        onChange={(part) => changes.push(part)}
        game={size}
        file={size}
        lines
        fps
      />,
    );
    await userEvent.click(screen.getByRole('radio', { name: '50 Hz' }));
    expect(changes).toEqual([{ mainsHz: 50 }]);
    expect(screen.getByRole('img', { name: 'Played at 1920 by 1080, filed at 1920 by 1080' })).toBeInTheDocument();
  });
  it('show the trade of two qualities for the session as computed figures', () => {
    const { context } = testPath();
    render(<SessionQuestion brief={brief} onChange={() => {}} setup={testSetup} context={context} />);
    const [first, second] = [
      ...(screen.getByText(/At 18 a take of 1:30 h is/).textContent ?? '').matchAll(/is ([\d.]+) GB/g),
    ].map((m) => Number(m[1]));
    expect(first).toBeGreaterThan(second!);
    // About 6 steps double the size (common practice): 2 steps are a factor near 2^(1/3), sound included less.
    expect(first! / second!).toBeGreaterThan(1.1);
    expect(first! / second!).toBeLessThan(1.4);
  });
  it('take answers of the editor and the finer questions', async () => {
    const changes: Partial<Brief>[] = [];
    const onChange = (part: Partial<Brief>) => void changes.push(part);
    render(
      <>
        <EditorQuestion brief={brief} onChange={onChange} />
        <FinerQuestions brief={brief} onChange={onChange} shown={['camera', 'uploadMbps']} />
      </>,
    );
    await userEvent.click(screen.getByRole('radio', { name: 'plain MP4 only' }));
    await userEvent.click(screen.getByRole('radio', { name: 'beside the game' }));
    const line = screen.getByRole('textbox', { name: 'Speed of the line' });
    await userEvent.clear(line);
    await userEvent.type(line, '40{Enter}');
    expect(changes).toEqual([{ editor: 'mp4' }, { camera: 'beside' }, { uploadMbps: 40 }]);
  });
});
