'use client';

import type { WatchedThing } from '@/core/watch/watchedChanges';
import { ago } from '../../lib/format';
import { useWatch } from './useWatches';
import { TextButton } from '../../components/TextButton';

/** Today tells of what one watches, when it changes place, state or speed. */
export function WatchButton({ thing, rowId }: { thing: WatchedThing; rowId: string }) {
  const { watched, turn } = useWatch(thing, rowId);
  return (
    <p style={{ marginTop: 8 }}>
      <TextButton aria-pressed={watched !== undefined} disabled={turn.isPending} onClick={() => turn.mutate()}>
        {watched ? 'Watch no more' : 'Watch'}
      </TextButton>{' '}
      <span className="small quiet" role="status">
        {turn.error ? turn.error.words : watched ? `watched since ${ago(watched.since)}: Today tells what changes` : ''}
      </span>
    </p>
  );
}
