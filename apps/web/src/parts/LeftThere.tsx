import type { Removal } from '@mellow/model';

/** What could not be removed, and why. */
export function LeftThere({ removal }: { removal: Removal | undefined }) {
  if (!removal?.left.length) return null;
  return (
    <span role="alert" className="small">
      {removal.left.map(({ path, why }) => (
        <span key={path}>
          {' '}
          {path} stays: {why}.
        </span>
      ))}
    </span>
  );
}
