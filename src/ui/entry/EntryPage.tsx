import type { ReactNode } from 'react';
import { Mark } from '../components/Mark';

/** A page before one is in: what it is for, and one form. */
export function EntryPage({ title, about, children }: { title: string; about?: string; children: ReactNode }) {
  return (
    <div className="entry">
      <main>
        <span className="brand">
          <Mark />
          Bolide
        </span>
        <h1>{title}</h1>
        {about && <p className="quiet">{about}</p>}
        {children}
      </main>
    </div>
  );
}
