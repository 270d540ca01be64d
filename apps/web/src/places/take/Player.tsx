import { useImperativeHandle, useRef, useState, type Ref } from 'react';
import { encoderFacts, formatSeconds, capitalised, takeName } from '@mellow/core';
import type { Take } from '@mellow/model';
import { Button } from '../../parts/Button';
import { Icon } from '../../parts/Icon';
import { Rail } from '../../parts/Rail';

export interface PlayerHandle {
  seek: (seconds: number) => void;
  toggle: () => void;
}

/** Plays the picture with one lane; a page can play only one at a time. */
export function Player({
  take,
  onTime,
  ref,
}: {
  take: Take;
  onTime: (seconds: number) => void;
  ref: Ref<PlayerHandle>;
}) {
  const video = useRef<HTMLVideoElement>(null);
  const [lane, setLane] = useState(0);
  const [playing, setPlaying] = useState(false);
  const [timeS, setTimeS] = useState(0);
  const [problem, setProblem] = useState<string | null>(null);
  const resume = useRef<number | null>(null);
  const lengthS = (take.facts?.picture.endUs ?? 0) / 1e6;
  const lanes = take.facts?.lanes ?? [];
  const toggle = () => {
    const element = video.current;
    if (!element) return;
    if (element.paused) void element.play().catch(() => {});
    else element.pause();
  };
  useImperativeHandle(ref, () => ({
    seek: (seconds) => {
      // Asked before the file had loaded: that is where it then begins.
      if (video.current?.readyState === 0) resume.current = Math.max(0, Math.min(lengthS, seconds));
      if (video.current) video.current.currentTime = Math.max(0, Math.min(lengthS, seconds));
    },
    toggle,
  }));
  const time = (seconds: number) => {
    setTimeS(seconds);
    onTime(seconds);
  };
  return (
    <figure className="player">
      <video
        ref={video}
        src={`/api/takes/${take.id}/media?lane=${lane}`}
        poster={`/api/takes/${take.id}/still`}
        preload="metadata"
        playsInline
        tabIndex={-1}
        aria-label={capitalised(takeName(take))}
        onClick={toggle}
        onPlay={() => setPlaying(true)}
        onPause={() => setPlaying(false)}
        onTimeUpdate={(event) => time(event.currentTarget.currentTime)}
        onSeeked={(event) => time(event.currentTarget.currentTime)}
        onLoadedMetadata={(event) => {
          setProblem(null);
          // A little way in, so that the first thing seen is a picture of the scene.
          event.currentTarget.currentTime = resume.current ?? Math.min(lengthS * 0.45, lengthS);
          resume.current = null;
        }}
        onError={() =>
          setProblem(
            `This page cannot play ${encoderFacts[take.recipe.encode.encoder].standard}${take.recipe.encode.pixels === '4:2:0' ? '' : ` in ${take.recipe.encode.pixels}`}. The file lies on the drive, whole, and was read back; a desktop player opens it.`,
          )
        }
      />
      {problem && (
        <p className="player-problem" role="alert">
          {problem}
        </p>
      )}
      <figcaption className="player-bar">
        <Button quiet onClick={toggle} label={playing ? 'Pause' : 'Play'}>
          {playing ? (
            <svg className="icon" viewBox="0 0 16 16">
              <path d="M5.500 3.500v9M10.500 3.500v9" />
            </svg>
          ) : (
            <svg className="icon" viewBox="0 0 16 16">
              <path d="M5 3.200v9.600l8-4.800z" />
            </svg>
          )}
        </Button>
        <span className="n">
          <b>{formatSeconds(timeS)}</b> <span className="soft">/ {formatSeconds(lengthS)}</span>
        </span>
        {lanes.length > 1 && (
          <span className="player-lanes">
            <span className="soft">Hear</span>
            <Rail
              label="Lane to hear"
              hue="sound"
              value={String(lane)}
              choices={lanes.map((l, i) => ({ value: String(i), label: `${i + 1} ${l.name.toLowerCase()}` }))}
              onChange={(value) => {
                resume.current = timeS;
                setLane(Number(value));
              }}
            />
          </span>
        )}
        {lanes.length === 0 && (
          <span className="soft push">
            <Icon name="sound" /> no lane, silent
          </span>
        )}
      </figcaption>
    </figure>
  );
}
