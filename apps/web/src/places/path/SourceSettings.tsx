import { formatFps, formatSize, lookTrouble, ownGame, practiceAgain, sourceFallbacks } from '@mellow/core';
import {
  isGrabbed,
  practiceSource,
  type DisplayFacts,
  type GrabbedSource,
  type ScreenPlace,
  type Screens,
  type Source,
  type WindowFacts,
} from '@mellow/model';
import { Message } from '../../parts/Message';
import { NumberField } from '../../parts/NumberField';
import { Rail } from '../../parts/Rail';
import { WordMenu } from '../../parts/WordMenu';
import { useChangeSetupMutation, useScreensQuery } from '../../store/api';
import { useAppSelector } from '../../store/store';
import { LeftAlone } from './LeftAlone';
import { usePath } from './pathContext';
import { SampleSettings } from './SampleSettings';
import { PlainRow } from './SettingRow';
import { useLooks } from './useLooks';

const kinds = [
  { value: 'practice', label: 'practice game' },
  { value: 'window', label: 'window' },
  { value: 'display', label: 'display' },
  { value: 'region', label: 'part of the screen' },
] as const;
/** Windows come and go while a game is started. */
const listEveryMs = 3000;

const onlyPlace = ({ leftPx, topPx, widthPx, heightPx }: ScreenPlace): ScreenPlace => ({
  leftPx,
  topPx,
  widthPx,
  heightPx,
});
const windowSource = ({ windowId, title, ...place }: WindowFacts, pointer: boolean): Source => ({
  kind: 'window',
  windowId,
  title,
  whenClosed: 'end',
  ...onlyPlace(place),
  pointer,
});
const displaySource = (display: DisplayFacts, pointer: boolean): Source => ({
  kind: 'display',
  name: display.name,
  ...onlyPlace(display),
  pointer,
});

/** Where the pictures come from: the practice game, or the screen with a game of one's own on it. */
export function SourceSettings() {
  const { recipe } = usePath();
  const choose = useChoosing();
  const { data: screens } = useScreensQuery(undefined, { pollingInterval: useRolling() ? 0 : listEveryMs });
  const { source } = recipe;
  const pointer = isGrabbed(source) ? source.pointer : true;
  const none = screens?.trouble ?? null;
  const begin: Record<(typeof kinds)[number]['value'], Source | null> = {
    practice: practiceSource,
    window: screens?.windows[0] ? windowSource(screens.windows[0], pointer) : null,
    display: screens?.displays[0] ? displaySource(screens.displays[0], pointer) : null,
    region: screens?.displays[0] ? { kind: 'region', ...onlyPlace(screens.displays[0]), pointer } : null,
  };
  const why = (kind: keyof typeof begin): string | undefined =>
    begin[kind]
      ? undefined
      : (none ?? (kind === 'window' ? 'No window with a title is open.' : 'No display is known yet.'));
  return (
    <>
      <PlainRow label="Source" under={none && <p className="small soft">{none} The practice game can be recorded.</p>}>
        <Rail
          label="Source"
          hue="capture"
          value={source.kind === 'sample' ? null : source.kind}
          choices={kinds.map((kind) => {
            const unreachable = kind.value === source.kind ? undefined : why(kind.value);
            return { ...kind, ...(unreachable === undefined ? {} : { unreachable }) };
          })}
          onChange={(kind) => void (begin[kind] && choose(begin[kind]))}
        />
      </PlainRow>
      {isGrabbed(source) && screens && <Grabbed source={source} screens={screens} onChoose={choose} />}
      <SampleSettings />
    </>
  );
}

/** While a take rolls nothing of ours looks at the screen: it would cost the take frames. */
function useRolling(): boolean {
  return useAppSelector(({ live }) => live.state !== null && live.state.recorder !== 'idle');
}

/** A source is the recipe's; that the game is a person's own, and how large it is, is the game's. */
function useChoosing(): (source: Source) => void {
  const { setup, recipe, change } = usePath();
  const [changeSetup] = useChangeSetupMutation();
  return (source) => {
    if (!isGrabbed(source)) {
      void changeSetup({ id: setup.id, patch: { game: practiceAgain(setup.game) } });
      return change({ ...recipe, source });
    }
    // The game first: the draft that is changed then is the one that stays. A failure is told, and nothing is chosen then.
    void changeSetup({ id: setup.id, patch: { game: ownGame(setup.game, source) } }).then((reply) => {
      if (reply.data) change({ ...reply.data.draft, source });
    });
  };
}

function Grabbed({
  source,
  screens,
  onChoose,
}: {
  source: GrabbedSource;
  screens: Screens;
  onChoose: (source: Source) => void;
}) {
  const { recipe, change } = usePath();
  const set = (part: Partial<GrabbedSource>) => change({ ...recipe, source: { ...source, ...part } as GrabbedSource });
  return (
    <>
      {source.kind === 'window' && (
        <PlainRow label="Window">
          <WordMenu
            label="Window"
            word={`${source.title}, ${formatSize(source.widthPx, source.heightPx)}`}
            open={!screens.windows.some(({ title }) => title === source.title)}
            value={String(source.windowId)}
            choices={screens.windows.map((one) => ({
              value: String(one.windowId),
              label: `${one.title}, ${formatSize(one.widthPx, one.heightPx)}`,
            }))}
            onChange={(id) => {
              const chosen = screens.windows.find(({ windowId }) => String(windowId) === id);
              if (chosen) onChoose(windowSource(chosen, source.pointer));
            }}
          />
          <Rail
            label="When the window is closed"
            hue="capture"
            value={source.whenClosed}
            choices={[
              { value: 'end', label: 'closing it ends the take' },
              { value: 'wait', label: 'wait for it to come back' },
            ]}
            onChange={(whenClosed) => set({ whenClosed })}
          />
        </PlainRow>
      )}
      {source.kind === 'display' && (
        <PlainRow label="Display">
          <Rail
            label="Display"
            hue="capture"
            value={source.name}
            choices={screens.displays.map((one) => ({
              value: one.name,
              label: `${one.name}, ${formatSize(one.widthPx, one.heightPx)}${one.rateHz ? ` at ${formatFps(one.rateHz)}` : ''}`,
            }))}
            onChange={(name) => {
              const chosen = screens.displays.find((one) => one.name === name);
              if (chosen) onChoose(displaySource(chosen, source.pointer));
            }}
          />
        </PlainRow>
      )}
      {source.kind === 'region' && <Region source={source} onChoose={onChoose} />}
      <PlainRow label="Pointer">
        <Rail
          label="Mouse pointer"
          hue="capture"
          value={source.pointer ? 'in' : 'out'}
          choices={[
            { value: 'in', label: 'in the picture' },
            { value: 'out', label: 'left out' },
          ]}
          onChange={(value) => set({ pointer: value === 'in' })}
        />
      </PlainRow>
      <LeftAlone shown={source.kind === 'window' ? programOf(screens, source.windowId) : null} />
      <PlainRow label="Now">
        <LookNow source={source} />
      </PlainRow>
    </>
  );
}

function programOf({ windows }: Screens, id: number): string | null {
  return windows.find(({ windowId }) => windowId === id)?.program ?? null;
}

const places = [
  ['leftPx', 'Left', 'from left', -32768, 32767],
  ['topPx', 'Top', 'from top', -32768, 32767],
  ['widthPx', 'Width', 'wide', 64, 7680],
  ['heightPx', 'Height', 'high', 64, 4320],
] as const;

function Region({ source, onChoose }: { source: GrabbedSource; onChoose: (source: Source) => void }) {
  return (
    <PlainRow label="Part">
      {places.map(([key, label, unit, min, max]) => (
        <NumberField
          key={key}
          label={label}
          value={source[key]}
          {...{ unit, min, max }}
          onChange={(px) => onChoose({ ...source, [key]: px })}
        />
      ))}
    </PlainRow>
  );
}

/** What would be recorded, once a second. */
function LookNow({ source }: { source: GrabbedSource }) {
  const rolling = useRolling();
  const { looks, problem } = useLooks(source, !rolling);
  const last = looks.at(-1)?.look;
  const trouble = lookTrouble(looks);
  if (rolling) return <span className="soft">Not looked at while a take rolls.</span>;
  if (problem)
    return (
      <Message tone="loss" title="It cannot be seen now">
        {problem}
      </Message>
    );
  if (!last) return <span className="soft">Looking …</span>;
  return (
    <figure className="look-now">
      <img
        src={last.image}
        alt={`What would be recorded now, ${formatSize(last.widthPx, last.heightPx)}`}
        width={240}
      />
      <figcaption className="small soft">
        {trouble === 'black' && <b>It has been black for three seconds.</b>}
        {trouble === 'frozen' && <b>It has not changed for three seconds.</b>}
        {trouble ? (
          <>
            {trouble === 'frozen' && ' A menu may stand still; a game that plays does not.'} What to try, in order:
            <ol>
              {sourceFallbacks(source).map((step) => (
                <li key={step}>{step}</li>
              ))}
            </ol>
          </>
        ) : (
          <>As it is now, {formatSize(last.widthPx, last.heightPx)}; looked at once a second.</>
        )}
      </figcaption>
    </figure>
  );
}
