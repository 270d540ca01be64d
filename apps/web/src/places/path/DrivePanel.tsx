import {
  bytesPerMinute,
  formatBytes,
  formatMegabytesPerSecond,
  formatRoom,
  minutesPerGigabyte,
  sessionBytes,
  sessionsThatFit,
  uploadMinutes,
} from '@mellow/core';
import type { DriveFacts } from '@mellow/model';
import { Origin } from '../../parts/Origin';
import { usePath } from './pathContext';
import { sessionWords } from './pathWords';

/** The drive's side of the forecast: room session by session, and speed against need. */
export function DrivePanel() {
  const { recipe, setup, context, forecast } = usePath();
  const minutes = setup.brief.sessionMinutes;
  const perSecond = forecast.bits.value / 8;
  const { drive, speed } = forecast;
  const each = sessionBytes(perSecond, minutes, recipe.rewrap);
  const fit =
    drive === null || drive.freeBytes === null
      ? null
      : sessionsThatFit(drive.freeBytes, perSecond, minutes, recipe.rewrap);
  const upload = setup.brief.uploadMbps;
  return (
    <>
      <div className="advice-figures">
        <div>
          <p className="soft">Per gigabyte</p>
          <p className="big">
            <Origin origin={forecast.bits.origin} from={forecast.bits.from}>
              {minutesPerGigabyte(forecast.bits.value).toFixed(1)}
            </Origin>
            <span className="unit">min</span>
          </p>
          <p className="small soft">{formatBytes(bytesPerMinute(forecast.bits.value))} a minute</p>
        </div>
        <div>
          <p className="soft">Sessions that fit</p>
          <p className="big">
            {fit ?? '?'}
            <span className="unit">of {sessionWords(minutes)}</span>
          </p>
          <p className="small soft">
            {formatBytes(each)} each{recipe.rewrap ? ', with its MP4' : ''}
          </p>
        </div>
        <div>
          <p className="soft">Longest take</p>
          <p className="big">
            {forecast.roomMinutes === null ? '?' : formatRoom(forecast.roomMinutes / 60).split(' ')[0]}
            <span className="unit">
              {forecast.roomMinutes === null
                ? ''
                : formatRoom(forecast.roomMinutes / 60)
                    .split(' ')
                    .slice(1)
                    .join(' ')}
            </span>
          </p>
          <p className="small soft">
            {recipe.ceilingMinutes === null ? 'no ceiling is set' : `ends after ${sessionWords(recipe.ceilingMinutes)}`}
          </p>
        </div>
      </div>
      <hr className="hairline" style={{ margin: 0 }} />
      <h2 className="h3">Room, session by session</h2>
      {context.drives.map((d) => (
        <Room
          key={d.id}
          drive={d}
          each={each}
          sessions={d.freeBytes === null ? 0 : sessionsThatFit(d.freeBytes, perSecond, minutes, recipe.rewrap)}
          chosen={d.id === recipe.driveId}
        />
      ))}
      <hr className="hairline" style={{ margin: 0 }} />
      <p>
        <b>Write speed against need.</b>{' '}
        <span className="soft">
          {!speed || !drive
            ? 'No drive is chosen.'
            : speed.availableBytesPerSecond === null
              ? `${formatMegabytesPerSecond(speed.neededBytesPerSecond)} are needed; how fast ${drive.name} writes was not measured.`
              : `${formatMegabytesPerSecond(speed.neededBytesPerSecond)} are needed, ${drive.name} gives ${formatMegabytesPerSecond(speed.availableBytesPerSecond)}${speed.contention > 1.01 ? ` with the game reading from it, ${formatMegabytesPerSecond(drive.writeBytesPerSecond ?? 0)} without` : ''}: ${(speed.headRoom ?? 0).toFixed(0)} times the need.`}
        </span>
      </p>
      {upload !== null && (
        <p className="soft">
          Sending a take of {sessionWords(minutes)} over {upload} Mb/s takes{' '}
          {sessionWords(Math.max(1, Math.round(uploadMinutes(perSecond * 60 * minutes, upload))))}.
        </p>
      )}
    </>
  );
}

const mostTicks = 60;

/** What is used, our takes in it, and a tick for each session that still fits. */
function Room({
  drive,
  each,
  sessions,
  chosen,
}: {
  drive: DriveFacts;
  each: number;
  sessions: number;
  chosen: boolean;
}) {
  if (drive.freeBytes === null || !drive.totalBytes) return <p className="small soft">{drive.name}: room not known</p>;
  const used = 1 - drive.freeBytes / drive.totalBytes;
  const ours = Math.min(used, drive.takesBytes / drive.totalBytes);
  const step = Math.max(1, Math.ceil(sessions / mostTicks));
  return (
    <div className="room">
      <p className="row small">
        <b>
          {drive.name}
          {chosen ? ', chosen' : ''}
        </b>
        <span className="push soft n">
          {formatBytes(drive.freeBytes)} of {formatBytes(drive.totalBytes)} free
        </span>
      </p>
      <div className="room-bar" aria-hidden="true">
        <i style={{ width: `${used * 100}%` }} />
        <b style={{ left: `${(used - ours) * 100}%`, width: `${ours * 100}%` }} />
        {Array.from({ length: Math.floor(sessions / step) }, (_, i) => (
          <u key={i} style={{ left: `${(used + ((i + 1) * step * each) / (drive.totalBytes ?? 1)) * 100}%` }} />
        ))}
      </div>
      <p className="small soft">
        {sessions} {sessions === 1 ? 'session' : 'sessions'}
        {step > 1 ? `, a tick for every ${step}` : ''}
      </p>
    </div>
  );
}
