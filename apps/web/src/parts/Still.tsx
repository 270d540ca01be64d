import { useState } from 'react';
import './Still.css';

/** A small picture out of a take; where none could be decoded, an empty frame. */
export function Still({ takeId, width = 120 }: { takeId: string | null; width?: number }) {
  const [missing, setMissing] = useState(false);
  const height = Math.round((width * 9) / 16);
  if (takeId === null || missing) return <span className="still none" style={{ width, height }} aria-hidden="true" />;
  return (
    <img
      className="still"
      src={`/api/takes/${takeId}/still`}
      alt=""
      width={width}
      height={height}
      loading="lazy"
      onError={() => setMissing(true)}
    />
  );
}
