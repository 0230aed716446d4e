import type { ReactNode } from 'react';

/** What may be longer than its place, and is then scrolled, by keyboard too. @param label what is in it */
export const Scrolled = ({ label, width, children }: { label: string; width?: number; children: ReactNode }) => (
  <div className="previewed" role="region" aria-label={label} tabIndex={0} style={{ maxWidth: width }}>
    {children}
  </div>
);
