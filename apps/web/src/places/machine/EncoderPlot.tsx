import { effortWords, encoderFacts, encoderSpeeds, placeWords } from '@mellow/core';
import type { EncoderName, MachineSheet } from '@mellow/model';
import { Icon } from '../../parts/Icon';

const [lowFps, highFps] = [3.75, 480];
const marks = [3.75, 7.5, 15, 30, 60, 120, 240, 480] as const;
const place = (fps: number): string =>
  `${(Math.log2(Math.min(highFps, Math.max(lowFps, fps)) / lowFps) / Math.log2(highFps / lowFps)) * 100}%`;

/** Each encoder's frames a second by effort, each doubling the same width; one that does not work says why. */
export function EncoderPlot({ machine, recommended }: { machine: MachineSheet; recommended: EncoderName | null }) {
  const sorted = [...machine.encoders].sort((a, b) => Number(b.works) - Number(a.works));
  return (
    <div className="encoder-plot" role="table" aria-label="Encoders">
      {sorted.map((state) => {
        const facts = encoderFacts[state.encoder];
        const speeds = state.works ? encoderSpeeds(machine, state.encoder) : [];
        const [fastest, slowest] = [speeds[0], speeds.at(-1)];
        return (
          <div
            key={state.encoder}
            role="row"
            className={`encoder-row${facts.place === 'software' ? ' hue-game' : ' hue-encode'}`}
          >
            <span role="rowheader">
              <b>{facts.standard}</b>
              <br />
              <span className="small soft">
                {placeWords[facts.place].replace('on ', '').replace('in ', '')}
                {state.encoder === recommended ? ', to begin with' : ''}
              </span>
            </span>
            <span role="cell" className="encoder-mark" aria-label={state.works ? 'works' : 'does not work'}>
              {state.works ? (
                <Icon name="check" />
              ) : (
                <svg width="14" height="14" viewBox="0 0 14 14" aria-hidden="true">
                  <circle cx="7" cy="7" r="6" fill="none" stroke="var(--tick)" strokeWidth="1.500" />
                  <path d="M3 11 11 3" stroke="var(--tick)" strokeWidth="1.500" />
                </svg>
              )}
            </span>
            <span role="cell" className="encoder-line">
              {fastest && slowest ? (
                <>
                  <i
                    style={{ left: place(slowest.fps), width: `calc(${place(fastest.fps)} - ${place(slowest.fps)})` }}
                  />
                  {speeds.map((s, n) => (
                    <span
                      key={s.effort}
                      style={{ left: place(s.fps) }}
                      className={`encoder-dot${s.tried || machine.origin === 'simulated' ? '' : ' hollow'}`}
                      title={`${effortWords[s.effort]}: ${s.fps.toFixed(0)} fps${s.tried ? ', tried' : ', by the effort ladder'}`}
                    >
                      {(n === 0 || n === speeds.length - 1 || n === 2) && <b className="n small">{s.fps.toFixed(0)}</b>}
                    </span>
                  ))}
                </>
              ) : (
                <span className="soft small encoder-why">{state.reason ?? 'it does not work here'}</span>
              )}
            </span>
          </div>
        );
      })}
      <div className="encoder-axis n small soft" aria-hidden="true">
        {marks.map((m) => (
          <span key={m} className={m === 60 || m === 120 ? 'strong' : ''} style={{ left: place(m) }}>
            {m}
          </span>
        ))}
      </div>
      <p className="small soft encoder-unit">
        fps without a game, each doubling the same width; the right end of a line is the lightest effort
      </p>
    </div>
  );
}
