import ButtonBase from '@mui/material/ButtonBase';
import { useCallback, useEffect, useRef, useState, type ReactNode } from 'react';
import { isTyping } from '../places/shell/useKeys';

const holdMs = 500;

/** A button that acts when it was held for half a second, by pointer or by key, so that nothing ends by a slip. */
export function HoldButton({
  children,
  hotkey,
  disabled,
  onHeld,
}: {
  children: ReactNode;
  hotkey: string;
  disabled?: boolean;
  onHeld: () => void;
}) {
  const [held, setHeld] = useState(0);
  const frame = useRef(0);
  const release = useCallback(() => {
    cancelAnimationFrame(frame.current);
    frame.current = 0;
    setHeld(0);
  }, []);
  const press = useCallback(() => {
    if (disabled || frame.current) return;
    const from = performance.now();
    const step = () => {
      const share = Math.min(1, (performance.now() - from) / holdMs);
      setHeld(share);
      if (share < 1) frame.current = requestAnimationFrame(step);
      else {
        release();
        onHeld();
      }
    };
    frame.current = requestAnimationFrame(step);
  }, [disabled, onHeld, release]);
  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      if (event.key.toLowerCase() === hotkey && !event.ctrlKey && !event.metaKey && !isTyping(event.target)) press();
    };
    const up = (event: KeyboardEvent) => {
      if (event.key.toLowerCase() === hotkey) release();
    };
    document.addEventListener('keydown', down);
    document.addEventListener('keyup', up);
    return () => {
      document.removeEventListener('keydown', down);
      document.removeEventListener('keyup', up);
    };
  }, [hotkey, press, release]);
  useEffect(() => () => cancelAnimationFrame(frame.current), []);
  return (
    <ButtonBase
      className="button hold-button"
      disabled={disabled ?? false}
      style={{ '--held': held } as React.CSSProperties}
      onPointerDown={press}
      onPointerUp={release}
      onPointerLeave={release}
      onKeyDown={(event) => (event.key === ' ' || event.key === 'Enter') && press()}
      onKeyUp={(event) => (event.key === ' ' || event.key === 'Enter') && release()}
      onBlur={release}
      aria-description="Hold for half a second"
    >
      <svg width="16" height="16" viewBox="0 0 16 16" aria-hidden="true">
        <circle cx="8" cy="8" r="7" fill="none" stroke="currentColor" strokeOpacity="0.4" strokeWidth="1.5" />
        <circle
          cx="8"
          cy="8"
          r="7"
          fill="none"
          stroke="currentColor"
          strokeWidth="1.5"
          strokeDasharray={`${held * 44} 44`}
          transform="rotate(-90 8 8)"
        />
        <rect x="5.500" y="5.500" width="5" height="5" fill="currentColor" />
      </svg>
      {children} <kbd>hold {hotkey.toUpperCase()}</kbd>
    </ButtonBase>
  );
}
