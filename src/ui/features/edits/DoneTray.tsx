'use client';

import { ActIcon } from '../../components/ActIcon';
import { PlainButton } from '../../components/PlainButton';
import { TextButton } from '../../components/TextButton';
import { putAway, takeBack, useDoneElsewhere } from './doneTray';

/** What was done to things that are not on the screen any more, each with its way back. */
export function DoneTray() {
  const list = useDoneElsewhere();
  if (list.length === 0) return null;
  return (
    <ul className="donetray" aria-label="Just done">
      {list.map((one) => (
        <li key={one.key} role="status">
          <span>{one.words}</span>
          {one.undo && <TextButton onClick={() => void takeBack(one)}>Undo</TextButton>}
          <PlainButton aria-label="Put this away" onClick={() => putAway(one.key)}>
            <ActIcon act="remove" />
          </PlainButton>
        </li>
      ))}
    </ul>
  );
}
