import { useMemo } from 'react';
import {
  cameraCorners,
  cameraInCorner,
  cameraPart,
  cameraWhereWords,
  cameraWords,
  filedSize,
  forecastOf,
  formatSize,
  type CameraCorner,
} from '@mellow/core';
import { cameraSchema, cameraWheres, type Camera, type CameraWhere } from '@mellow/model';
import { NumberField } from '../../parts/NumberField';
import { Rail } from '../../parts/Rail';
import { WordMenu } from '../../parts/WordMenu';
import { useCamerasQuery } from '../../store/api';
import { CameraPlan } from './CameraPlan';
import { usePath } from './pathContext';
import { PlainRow, SettingRow } from './SettingRow';
import { useConsidering } from './useConsidering';

const none = 'none';
const standIn = 'stand-in';
const cornerNames = Object.keys(cameraCorners) as CameraCorner[];
/** Where a picture of the person who plays lies, and what it costs. */
export function CameraSettings() {
  const { recipe, setup, context, forecast } = usePath();
  const { camera } = recipe;
  const begin = camera ?? cameraInCorner(cameraSchema.parse({ from: { kind: standIn } }), 'lower right', recipe.size);
  const where = useConsidering('camera', (value: CameraWhere | typeof none) => ({
    ...recipe,
    camera: value === none ? null : { ...begin, where: value },
  }));
  // Without it the game's pictures may go past Size altogether.
  const without = useMemo(() => forecastOf({ ...recipe, camera: null }, context), [recipe, context]);
  const cost = Math.max(0, (forecast.loads.size?.usual ?? 0) - (without.loads.size?.usual ?? 0));
  return (
    <>
      <SettingRow
        setting="camera"
        label="Camera"
        note={
          camera &&
          (camera.where === 'own-file'
            ? 'Its file lies beside the take under the same name and begins with it; encoding it takes a little processor of its own.'
            : `${cost.toFixed(1)} ms of Size more for each frame than without.`)
        }
      >
        <Rail
          label="Camera"
          hue="size"
          value={camera?.where ?? none}
          start={setup.start.camera?.where ?? none}
          choices={[
            { value: none, label: 'none' },
            ...cameraWheres.map((value) => ({ value, label: cameraWhereWords[value] })),
          ]}
          {...where}
        />
      </SettingRow>
      {camera && <Which camera={camera} />}
      {camera?.where === 'over' && <Placed camera={camera} />}
      {camera && camera.where !== 'own-file' && (
        <PlainRow label="Plan">
          <CameraPlan
            file={filedSize(recipe)}
            game={recipe.size}
            part={cameraPart(recipe)}
            opacity={camera.where === 'over' ? camera.opacity : 1}
            words={cameraWords(camera)}
          />
        </PlainRow>
      )}
    </>
  );
}

/** What cameras commonly offer. */
const asks = [
  [320, 240, 30],
  [640, 360, 30],
  [640, 480, 30],
  [1280, 720, 30],
  [1280, 720, 60],
  [1920, 1080, 30],
] as const;

function Which({ camera }: { camera: Camera }) {
  const { recipe, change, setup } = usePath();
  const { data } = useCamerasQuery(undefined, { skip: setup.machineId !== 'this' });
  const set = (part: Partial<Camera>) => change({ ...recipe, camera: { ...camera, ...part } });
  const cameras = data?.cameras ?? [];
  const value = camera.from.kind === 'device' ? camera.from.device : standIn;
  const listed = cameras.some(({ device }) => device === value);
  return (
    <PlainRow
      label="Which"
      under={
        data?.trouble ? (
          <p className="small soft">{data.trouble}</p>
        ) : camera.from.kind === 'device' && data && !listed ? (
          <p className="small soft">{camera.from.name} is not there now: no take begins without it.</p>
        ) : null
      }
    >
      <WordMenu
        label="Which camera"
        word={camera.from.kind === 'device' ? camera.from.name : 'the stand-in camera, drawn'}
        open={camera.from.kind === 'stand-in'}
        value={value}
        choices={[
          { value: standIn, label: 'the stand-in camera, drawn' },
          ...cameras.map(({ device, name }) => ({ value: device, label: name })),
          ...(camera.from.kind === 'device' && !listed
            ? [{ value: camera.from.device, label: `${camera.from.name}, not there now` }]
            : []),
        ]}
        onChange={(device) => {
          const found = cameras.find((one) => one.device === device);
          if (device === standIn) set({ from: { kind: standIn } });
          else if (found) set({ from: { kind: 'device', ...found } });
        }}
      />
      <span className="soft">asked for</span>
      <WordMenu
        label="Picture of the camera"
        word={`${formatSize(camera.widthPx, camera.heightPx)} at ${camera.fps} fps`}
        value={`${camera.widthPx}x${camera.heightPx}x${camera.fps}`}
        choices={asks.map(([widthPx, heightPx, fps]) => ({
          value: `${widthPx}x${heightPx}x${fps}`,
          label: `${formatSize(widthPx, heightPx)} at ${fps} fps`,
        }))}
        onChange={(text) => {
          const [widthPx, heightPx, fps] = text.split('x').map(Number);
          if (widthPx && heightPx && fps) set({ widthPx, heightPx, fps });
        }}
      />
    </PlainRow>
  );
}

/** Corners are told by whole per cents, as they are typed. */
const liesAt = (camera: Camera, there: Camera): boolean =>
  Math.abs(camera.leftShare - there.leftShare) < 0.005 && Math.abs(camera.topShare - there.topShare) < 0.005;

function Placed({ camera }: { camera: Camera }) {
  const { recipe, change } = usePath();
  const set = (next: Camera) => change({ ...recipe, camera: next });
  const percents = [
    ['leftShare', 'From left', 'from left', 0, 95],
    ['topShare', 'From above', 'from above', 0, 95],
    ['widthShare', 'Width of the camera', 'wide', 5, 100],
    ['opacity', 'Opacity', 'opaque', 10, 100],
  ] as const;
  const corner =
    cornerNames.find((name) => {
      const there = cameraInCorner(camera, name, recipe.size);
      return liesAt(camera, there);
    }) ?? null;
  return (
    <PlainRow label="Place">
      <Rail
        label="Corner"
        hue="size"
        value={corner}
        choices={cornerNames.map((value) => ({ value, label: value }))}
        onChange={(value) => set(cameraInCorner(camera, value, recipe.size))}
      />
      {percents.map(([key, label, unit, min, max]) => (
        <span className="row" key={key}>
          <NumberField
            label={label}
            value={Math.round(camera[key] * 100)}
            {...{ min, max }}
            unit="%"
            onChange={(percent) => set({ ...camera, [key]: percent / 100 })}
          />
          <span className="soft">{unit}</span>
        </span>
      ))}
    </PlainRow>
  );
}
