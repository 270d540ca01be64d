import type { ReactNode } from 'react';
import { Icon } from './Icon';
import './Message.css';

/** A message in the flow of a page: what happened, what it means, what to do. */
export function Message({
  tone,
  title,
  children,
  actions,
}: {
  tone: 'note' | 'loss';
  title: string;
  children?: ReactNode;
  actions?: ReactNode;
}) {
  return (
    <div className={`message ${tone}`} role={tone === 'loss' ? 'alert' : 'status'}>
      {tone === 'loss' ? (
        <span className="message-mark" aria-hidden="true">
          !
        </span>
      ) : (
        <Icon name="check" />
      )}
      <div>
        <p>
          <b>{title}</b>
        </p>
        {children && <div className="soft">{children}</div>}
      </div>
      {actions && <div className="message-actions">{actions}</div>}
    </div>
  );
}

/** A place without content yet: the empty path, a sentence, a next step. */
export function EmptyPlace({ title, children, action }: { title: string; children: ReactNode; action?: ReactNode }) {
  return (
    <div className="empty-place">
      <svg height="24" width="100%" aria-hidden="true" preserveAspectRatio="none">
        <path d="M0 12h2000" stroke="var(--faint)" />
        {[4, 22, 40, 58, 76, 94].map((x) => (
          <circle key={x} cx={`${x}%`} cy="12" r="9" fill="var(--page)" stroke="var(--tick)" strokeDasharray="3 3" />
        ))}
      </svg>
      <div className="empty-place-words">
        <p>
          <b>{title}</b> <span className="soft">{children}</span>
        </p>
        {action}
      </div>
    </div>
  );
}

/** While something is read: the place keeps its size and nothing jumps. */
export function LoadingPlace({ what }: { what: string }) {
  return (
    <div className="loading-place" role="status">
      <h2>{what}</h2>
      <svg width="100%" height="48" aria-hidden="true">
        <path d="M0 6.5h4000" stroke="var(--ink)" />
        <rect x="0" y="20" width="100%" height="28" fill="url(#loading-bars)" />
        <defs>
          <pattern id="loading-bars" width="4" height="28" patternUnits="userSpaceOnUse">
            <rect width="2" height="28" fill="var(--line)" />
          </pattern>
        </defs>
      </svg>
      <p className="small soft">It keeps its place, and no part jumps.</p>
    </div>
  );
}
