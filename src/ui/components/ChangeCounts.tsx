'use client';

import { chosenTerms, withChosen } from '@/core/filter/terms';
import type { ThingPage } from '../lib/api';

const kinds = [
  ['added', '+'],
  ['gone', '−'],
  ['changed', '~'],
  ['replaced', ''],
  ['silent', ''],
] as const;

/** How many rows differ from the survey compared with, by how; a press narrows to them, once more lets all come back. */
export function ChangeCounts({
  counts,
  where,
  onNarrow,
}: {
  counts: NonNullable<ThingPage['counts']>;
  where: string;
  onNarrow: (where: string) => void;
}) {
  const chosen = chosenTerms(where, 'change');
  const shown = kinds.filter(([kind]) => counts[kind] > 0 || chosen.includes(kind));
  return (
    <span className="small end counts" role="group" aria-label="Against the survey compared with">
      {shown.length === 0 && <span className="quiet">nothing differs</span>}
      {shown.map(([kind, mark]) => (
        <button
          key={kind}
          type="button"
          className="textlink"
          aria-pressed={chosen.includes(kind)}
          title={chosen.includes(kind) ? 'show the others again' : `show only these; with Shift, these too`}
          onClick={(event) => onNarrow(withChosen(where, 'change', kind, event.shiftKey))}
        >
          {mark}
          {counts[kind].toLocaleString('en')} {kind}
        </button>
      ))}
    </span>
  );
}
