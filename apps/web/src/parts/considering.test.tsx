import { fireEvent, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { NumberRail, railInset, railPlace } from './NumberRail';
import { Origin } from './Origin';
import { WordEditor, WordMenu } from './WordMenu';

const railWidth = 426;

/** Gives the rail a place on a page that has no layout: 426 px wide, 400 of them between its ends. */
function placeRail(): HTMLElement {
  const line = document.querySelector<HTMLElement>('.number-rail-line');
  if (!line) throw new Error('no rail');
  line.getBoundingClientRect = () => ({
    left: 0,
    top: 0,
    width: railWidth,
    height: 40,
    right: railWidth,
    bottom: 40,
    x: 0,
    y: 0,
    toJSON: () => ({}),
  });
  return line;
}
// The page environment knows no pointer events with a place; a mouse event of that name has one.
const pointAt = (line: HTMLElement, x: number, y = 10) =>
  fireEvent(line, new MouseEvent('pointermove', { bubbles: true, clientX: x, clientY: y }));

describe('a number on a rail', () => {
  const show = (part: Partial<Parameters<typeof NumberRail>[0]> = {}) => {
    const looked: (number | null)[] = [];
    const chosen: number[] = [];
    render(
      <NumberRail
        label="Quality"
        hue="encode"
        value={20}
        min={0}
        max={40}
        marks={[0, 20, 40]}
        onChange={(v) => chosen.push(v)}
        onConsider={(v) => looked.push(v)}
        {...part}
      />,
    );
    return { looked, chosen, line: placeRail() };
  };
  it('tells the value under the pointer before it is chosen, and that it is none any more', () => {
    const { looked, chosen, line } = show();
    pointAt(line, railInset + 100);
    pointAt(line, railInset + 101);
    expect(looked).toEqual([10]);
    expect(document.querySelector('.number-rail-ghost')).not.toBeNull();
    fireEvent.pointerLeave(line);
    expect(looked).toEqual([10, null]);
    expect(document.querySelector('.number-rail-ghost')).toBeNull();
    expect(chosen).toEqual([]);
  });
  it('says nothing of the value it has, and nothing beside the rail or under its labels', () => {
    const { looked, line } = show();
    pointAt(line, railInset + 200);
    pointAt(line, railInset - 9);
    pointAt(line, railInset + 100, 39);
    expect(looked).toEqual([]);
  });
  it('on a logarithmic rail equal steps are equal factors', () => {
    const { looked, line } = show({ value: 1000, min: 100, max: 10_000, step: 100, logarithmic: true });
    pointAt(line, railInset + 300);
    expect(looked).toEqual([3200]);
  });
  it('is chosen by keys, and typed where it has a field', async () => {
    const { chosen } = show();
    screen.getByRole('slider', { name: 'Quality' }).focus();
    await userEvent.keyboard('{ArrowRight}');
    const field = screen.getByRole('textbox', { name: 'Quality' });
    await userEvent.clear(field);
    await userEvent.type(field, '33{Enter}');
    expect(chosen).toEqual([21, 33]);
  });
  it('has its start and its ends where the beads can be', () => {
    show({ start: 30, bare: true });
    expect(document.querySelector('.number-rail-start')).not.toBeNull();
    expect(screen.queryByRole('textbox')).toBeNull();
    expect(railPlace(0.5)).toBe('calc(13px + (100% - 26px) * 0.5)');
  });
});

describe('words changed in place', () => {
  it('open a list of what they may be', async () => {
    const chosen: string[] = [];
    render(
      <WordMenu
        label="Motion"
        word="not known"
        open
        value="unknown"
        choices={[
          { value: 'calm', label: 'calm' },
          { value: 'unknown', label: 'I do not know' },
        ]}
        onChange={(v) => chosen.push(v)}
      />,
    );
    await userEvent.click(screen.getByRole('button', { name: 'Motion: not known. Change it' }));
    expect(screen.getByRole('menuitem', { name: 'I do not know' })).toHaveClass('Mui-selected');
    await userEvent.click(screen.getByRole('menuitem', { name: 'calm' }));
    expect(chosen).toEqual(['calm']);
  });
  it('or an editor of their own, which closes itself', async () => {
    render(
      <WordEditor label="Title" word="Paper Comets">
        {(close) => (
          <button type="button" onClick={close}>
            Done
          </button>
        )}
      </WordEditor>,
    );
    await userEvent.click(screen.getByRole('button', { name: 'Title: Paper Comets. Change it' }));
    await userEvent.click(screen.getByRole('button', { name: 'Done' }));
    expect(await screen.findByRole('button', { name: 'Title: Paper Comets. Change it' })).toBeVisible();
  });
});

describe('a figure', () => {
  it('tells where it comes from and its range, once, to pointer and keyboard', async () => {
    render(
      <Origin origin="measured" from="measured in trial 4" range="3.9 to 4.4 ms">
        4.1
      </Origin>,
    );
    const figure = screen.getByText('4.1');
    expect(figure).toHaveAttribute('tabindex', '0');
    await userEvent.hover(figure);
    expect(await screen.findByRole('tooltip')).toHaveTextContent('measured in trial 4. Range 3.9 to 4.4 ms');
  });
  it('names the kind of its origin where the source does not', async () => {
    render(
      <Origin origin="typical" from="for such a scene">
        7.2
      </Origin>,
    );
    await userEvent.hover(screen.getByText('7.2'));
    expect(await screen.findByRole('tooltip')).toHaveTextContent('typical: for such a scene');
  });
});
