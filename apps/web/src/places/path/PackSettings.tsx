import { containerWords, encoderFacts, encoderWords } from '@mellow/core';
import { containers, type Container, type Recipe } from '@mellow/model';
import { Rail } from '../../parts/Rail';
import { usePath } from './pathContext';
import { PlainRow, SettingRow } from './SettingRow';
import { useConsidering } from './useConsidering';

type Afterwards = 'no' | 'beside' | 'instead';
const afterwards = ({ rewrap, discardSource }: Recipe): Afterwards =>
  rewrap ? (discardSource ? 'instead' : 'beside') : 'no';

export function PackSettings() {
  const { recipe, setup, forecast } = usePath();
  const lost = forecast.secondsLost;
  const facts = encoderFacts[recipe.encode.encoder];
  const container = useConsidering('container', (value: Container) => ({ ...recipe, container: value }));
  const rewrap = useConsidering('rewrap', (value: Afterwards) => ({
    ...recipe,
    rewrap: value !== 'no',
    discardSource: value === 'instead',
  }));
  return (
    <>
      <SettingRow
        setting="container"
        label="File type"
        note={`${containerWords[recipe.container].name}: ${containerWords[recipe.container].safety}.`}
      >
        <Rail
          label="File type"
          hue="pack"
          value={recipe.container}
          start={setup.start.container}
          choices={containers.map((c) => ({
            value: c,
            label: containerWords[c].name,
            ...(facts.containers.includes(c)
              ? {}
              : {
                  unreachable: `${encoderWords(recipe.encode.encoder)} is filed in ${facts.containers.map((f) => containerWords[f].name).join(', ')} only`,
                }),
          }))}
          {...container}
        />
      </SettingRow>
      <SettingRow setting="rewrap" label="MP4 afterwards">
        <Rail
          label="MP4 afterwards"
          hue="pack"
          value={afterwards(recipe)}
          start={afterwards(setup.start)}
          choices={[
            { value: 'no', label: 'no' },
            { value: 'beside', label: 'beside the take' },
            { value: 'instead', label: 'in its place' },
          ]}
          {...rewrap}
        />
      </SettingRow>
      <PlainRow label="If it dies">
        <span>
          {`at most the last ${lost.toFixed(1)} s are lost: what may wait in memory before frames are refused, and what the encoder holds`}
          {!containerWords[recipe.container].survives && '; in a power cut perhaps all of it'}
        </span>
      </PlainRow>
      <PlainRow label="Missing frames">
        <span>
          gaps are left as they are <span className="soft">the picture before stands longer, nothing is filled up</span>
        </span>
      </PlainRow>
      <PlainRow label="The track is">
        <span>
          <span className="n">{forecast.codec ?? 'without a codec string'}</span>{' '}
          <span className="soft">
            {forecast.level ? `level ${forecast.level}, ` : ''}what players and editors ask for (RFC 6381)
          </span>
        </span>
      </PlainRow>
      <PlainRow label="In a browser">
        <span>
          {facts.browserPlays && recipe.encode.pixels === '4:2:0' && recipe.container !== 'matroska'
            ? 'plays as it is'
            : facts.browserPlays && recipe.encode.pixels === '4:2:0'
              ? 'Mellow Frame’s player shows it'
              : 'not shown by the browser; any desktop player opens it'}
        </span>
      </PlainRow>
    </>
  );
}
