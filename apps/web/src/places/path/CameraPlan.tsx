import type { CameraPart, SizePx } from '@mellow/core';
import './CameraPlan.css';

const widePx = 220;

/** The file's picture as a plan: where the game lies in it, and where the camera. */
export function CameraPlan({
  file,
  game,
  part,
  opacity,
  words,
}: {
  file: SizePx;
  game: SizePx;
  part: CameraPart | null;
  opacity: number;
  words: string;
}) {
  if (!part) return null;
  const { widthPx, heightPx } = file;
  const head = { x: part.leftPx + part.widthPx / 2, y: part.topPx + part.heightPx * 0.42, r: part.heightPx * 0.2 };
  return (
    <svg
      className="camera-plan"
      viewBox={`0 0 ${widthPx} ${heightPx}`}
      width={widePx}
      height={(widePx * heightPx) / widthPx}
      role="img"
      aria-label={`The file's picture, ${widthPx} by ${heightPx}: ${words}`}
    >
      <rect className="camera-plan-game" width={game.widthPx} height={game.heightPx} />
      <text
        className="camera-plan-word"
        x={game.widthPx * 0.04}
        y={heightPx * 0.16}
        style={{ fontSize: widthPx * 0.06 }}
      >
        game
      </text>
      <g opacity={opacity}>
        <rect
          className="camera-plan-camera"
          x={part.leftPx}
          y={part.topPx}
          width={part.widthPx}
          height={part.heightPx}
        />
        <circle className="camera-plan-figure" cx={head.x} cy={head.y} r={head.r} />
        <path
          className="camera-plan-figure"
          d={`M${head.x - head.r * 1.8} ${part.topPx + part.heightPx} a${head.r * 1.8} ${head.r * 1.6} 0 0 1 ${head.r * 3.6} 0 z`}
        />
      </g>
    </svg>
  );
}
