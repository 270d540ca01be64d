import { containerWords, secondsLostIfKilled } from '@mellow/core';
import { containers } from '@mellow/model';
import { Rail } from '../../parts/Rail';
import { Setting } from './Setting';
import type { StationSettingsProps } from './StationSheet';

export function PackSettings({ setup, onRecipe }: StationSettingsProps) {
  const recipe = setup.draft;
  const lost = secondsLostIfKilled(recipe);
  return (
    <>
      <Setting label="File type" why="Matroska and fragmented MP4 can be read up to the last second when the recorder dies; plain MP4 opens everywhere and is lost before it is closed. Re-wrapping later changes no picture.">
        <Rail label="File type" hue="pack" value={recipe.container} start={setup.start.container} choices={containers.map((c) => ({ value: c, label: containerWords[c].name }))} onChange={(container) => onRecipe({ ...recipe, container })} />
      </Setting>
      <Setting label="If it dies">
        <span>{lost === null ? 'the whole take is lost' : `at most the last ${lost.toFixed(1)} s are lost: a cluster of 1 s, half a second on its way, and what the encoder holds`}</span>
      </Setting>
      <Setting label="Missing frames" why="A lost frame leaves a gap in the time stamps; the picture before it stands longer. Nothing is filled up.">
        <span>gaps are left as they are</span>
      </Setting>
    </>
  );
}
