import type { ComponentType } from 'react';

/** What stands in place of a view while it is fetched: its heading. */
export function opening(title: string): ComponentType {
  return function Opening() {
    return (
      <main className="work" aria-busy="true">
        <div className="titleline">
          <h1>{title}</h1>
        </div>
      </main>
    );
  };
}
