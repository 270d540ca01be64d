import type { ReactNode } from 'react';

/** A setting's label, its control and, on one line below, why it is so. */
export function Setting({ label, why, children }: { label: string; why?: string | undefined; children: ReactNode }) {
  return (
    <div className="setting">
      <span className="setting-label">{label}</span>
      <div className="setting-line">{children}</div>
      {why && <p className="setting-why small">{why}</p>}
    </div>
  );
}
