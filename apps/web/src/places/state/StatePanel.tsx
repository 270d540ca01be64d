import { isGrabbed, type Recipe } from '@mellow/model';
import { Button } from '../../parts/Button';
import { WordMenu } from '../../parts/WordMenu';
import { stateCorners, stateSchemes, stateShows, stateSizes, type StateOptions } from './stateOptions';
import { useStateWindow } from './StateWindow';

/** Whether the window stands in the file, by what is recorded. */
export function inTheFile(source: Recipe['source']): string {
  if (!isGrabbed(source) || source.kind === 'window')
    return source.kind === 'window'
      ? 'A window is recorded: this one is never in the file.'
      : 'It is never in the file.';
  return source.kind === 'display'
    ? 'A whole display is recorded: on that display it stands in the file. Put it on another one, or record the game’s window.'
    : 'A part of the screen is recorded: inside that part it stands in the file. Put it beside.';
}

/** Opens the state window, and says how it looks in words that are changed in place. */
export function StatePanel({ source }: { source: Recipe['source'] }) {
  const { options, change, opened, refused, open, close } = useStateWindow();
  const word = <K extends keyof StateOptions>(label: string, key: K, choices: readonly StateOptions[K][]) => (
    <WordMenu
      label={label}
      word={options[key]}
      value={options[key]}
      choices={choices.map((value) => ({ value, label: value }))}
      onChange={(value) => change({ ...options, [key]: value })}
    />
  );
  return (
    <div className="state-panel small">
      <Button quiet onClick={opened ? close : open}>
        {opened ? 'Close the state window' : 'State window'}
      </Button>
      <span>
        {word('State window shows', 'shows', stateShows)}, {word('Size of the state window', 'size', stateSizes)},{' '}
        {word('Scheme of the state window', 'scheme', stateSchemes)}
        {!opened?.above && <>, {word('Corner of the state window', 'corner', stateCorners)}</>}
      </span>
      <span className="soft" role="status">
        {refused
          ? 'The browser let no window open. Allow windows for this page, and press again.'
          : opened && !opened.above
            ? `This browser cannot keep it above a game in full screen. ${inTheFile(source)}`
            : inTheFile(source)}
      </span>
    </div>
  );
}
