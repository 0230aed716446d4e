'use client';

import { chosenTerms, withChosen } from '@/core/filter/terms';
import type { ThingPage } from '../lib/api';
import { TextButton } from './TextButton';
import { Hint } from './Hint';

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
        <Hint
          key={kind}
          words={chosen.includes(kind) ? 'show the others again' : `show only these; with Shift, these too`}
        >
          <TextButton
            aria-pressed={chosen.includes(kind)}
            onClick={(event) => onNarrow(withChosen(where, 'change', kind, event.shiftKey))}
          >
            {mark}
            {counts[kind].toLocaleString('en')} {kind}
          </TextButton>
        </Hint>
      ))}
    </span>
  );
}
