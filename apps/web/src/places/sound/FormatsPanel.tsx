import { useState } from 'react';
import { apartSteps, formatLines, leadInWords } from '@mellow/core';
import { leadIns } from '@mellow/model';
import { Icon } from '../../parts/Icon';
import { Rail } from '../../parts/Rail';
import { ShapeMark } from '../../parts/ShapeMark';
import { useSound } from './soundContext';

/** What every device gives, how a take begins, and how a program is kept apart. */
export function FormatsPanel() {
  const { recipe, devices, setup, change } = useSound();
  const [told, setTold] = useState(false);
  const lines = formatLines(recipe.sounds, devices);
  const amiss = lines.find(({ text }) => text !== null);
  return (
    <section aria-label="Formats">
      <div className="row">
        <h2>Formats</h2>
        <span className="soft">what every device gives</span>
      </div>
      {lines.length === 0 ? (
        <p className="soft">
          {devices.trouble && setup.machineId === 'this'
            ? `${devices.trouble} The page’s microphone and the stand-ins can be heard.`
            : 'No device of this PC is heard; the stand-ins are 48 kHz stereo.'}
        </p>
      ) : (
        <table className="formats">
          <tbody>
            {lines.map(({ name, gives, note, fine }) => (
              <tr key={name}>
                <th scope="row" className="clip">
                  {name}
                </th>
                <td>{gives}</td>
                <td className="soft">{note}</td>
                <td>{fine ? <Icon name="check" /> : <ShapeMark shape="look" />}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {amiss?.text && <p>{amiss.text}</p>}
      <div className="lane-row lead-in">
        <span className="soft">Lead-in</span>
        <Rail
          label="Lead-in"
          hue="sound"
          value={recipe.leadIn}
          start={setup.start.leadIn}
          choices={leadIns.map((value) => ({ value, label: leadInWords[value] }))}
          onChange={(leadIn) => change({ ...recipe, leadIn })}
        />
      </div>
      {recipe.leadIn !== 'none' && (
        <p className="small soft">
          {recipe.leadIn === 'mark'
            ? 'A take begins with a quiet second, by which its noise is measured; then three marks sound in every lane and show in the picture, a second apart, so that files of other recorders can be lined up.'
            : 'A take begins with a quiet second, by which its noise is measured and can be cleaned.'}
        </p>
      )}
      <button type="button" className="link" aria-expanded={told} onClick={() => setTold(!told)}>
        {told ? 'Close' : 'Keep the chat apart from the game'}
      </button>
      {told && (
        <>
          <p className="small soft">
            On one lane with the game, somebody else’s talk can never be taken out again. With an output of its own it
            gets a lane of its own.
          </p>
          <ol className="apart">
            {apartSteps[devices.by].map((step) => (
              <li key={step}>{step}</li>
            ))}
          </ol>
        </>
      )}
    </section>
  );
}
