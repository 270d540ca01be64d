import ButtonBase from '@mui/material/ButtonBase';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import './Button.css';

export interface ButtonProps {
  children: ReactNode;
  /** The one filled button of a screen: the next step. */
  main?: boolean;
  quiet?: boolean;
  danger?: boolean;
  disabled?: boolean;
  busy?: boolean;
  to?: string;
  href?: string;
  download?: boolean;
  onClick?: () => void;
  label?: string;
  type?: 'button' | 'submit';
  autoFocus?: boolean;
  /** A switch: whether it is on. */
  pressed?: boolean;
}

export function Button({
  children,
  main,
  quiet,
  danger,
  disabled,
  busy,
  to,
  href,
  download,
  onClick,
  label,
  type = 'button',
  autoFocus,
  pressed,
}: ButtonProps) {
  const className = ['button', main && 'main', quiet && 'quiet', danger && 'danger', busy && 'busy']
    .filter(Boolean)
    .join(' ');
  const content = (
    <>
      {busy && <span className="button-ring" aria-hidden="true" />}
      {children}
    </>
  );
  if (to !== undefined) {
    return (
      <ButtonBase component={Link} to={to} className={className} aria-label={label} onClick={onClick}>
        {content}
      </ButtonBase>
    );
  }
  if (href !== undefined) {
    return (
      <ButtonBase
        component="a"
        href={href}
        {...(download ? { download: '' } : {})}
        className={className}
        aria-label={label}
      >
        {content}
      </ButtonBase>
    );
  }
  return (
    <ButtonBase
      type={type}
      className={className}
      disabled={disabled || busy}
      onClick={onClick}
      aria-label={label}
      aria-pressed={pressed}
      autoFocus={autoFocus}
    >
      {content}
    </ButtonBase>
  );
}
