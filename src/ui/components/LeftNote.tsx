'use client';

import type { MouseEvent } from 'react';
import { ago } from '../lib/format';
import { TextButton } from './TextButton';

/** What was written here before and not saved, for whoever wants it again. */
export function LeftNote({ at, onTake, onForget }: { at: string; onTake: () => void; onForget: () => void }) {
  // the button goes away with the note: what is written next stands below it
  const then = (act: () => void) => (event: MouseEvent<HTMLElement>) => {
    event.currentTarget.closest('form')?.querySelector<HTMLElement>('input, textarea')?.focus();
    act();
  };
  return (
    <p className="notice left" role="status">
      What you wrote here {ago(at)} was not saved. <TextButton onClick={then(onTake)}>Take it up again</TextButton>{' '}
      <TextButton onClick={then(onForget)}>Forget it</TextButton>
    </p>
  );
}
