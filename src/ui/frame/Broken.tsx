'use client';

import { TextButton } from '../components/TextButton';

/** In place of a page that could not be drawn: what one wrote elsewhere is not lost, and one can go on. */
export function Broken({ error, onAgain }: { error: Error; onAgain: () => void }) {
  return (
    <main className="work">
      <div className="empty" role="alert">
        <h1>This page could not be drawn</h1>
        <p className="quiet" style={{ margin: '8px 0 14px' }}>
          Nothing that was saved is lost. If it stays so, tell whoever looks after Bolide what stands below.
        </p>
        <p className="mono small">{error.message}</p>
        <div style={{ display: 'flex', gap: 8, marginTop: 14 }}>
          <TextButton onClick={onAgain}>Draw it again</TextButton>
          <TextButton onClick={() => window.location.reload()}>Load the page anew</TextButton>
        </div>
      </div>
    </main>
  );
}
