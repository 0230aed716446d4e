'use client';

import { useState } from 'react';
import type { ThingName } from '@/core/things/things';
import { ActIcon } from '../../ActIcon';
import { TextButton } from '../../TextButton';
import { fetched } from '../../../lib/fetched';

const GroupDialog = fetched(() => import('./GroupDialog').then((module) => module.GroupDialog));

/** Opens the choice of fields by which rows are grouped. */
export function GroupChooser(props: { thing: ThingName; group: string[]; onGroup: (group: string[]) => void }) {
  const [open, setOpen] = useState(false);
  const isGrouped = props.group.length > 0;
  return (
    <>
      <TextButton aria-pressed={isGrouped} onClick={() => setOpen(true)}>
        <ActIcon act="group" />
        {isGrouped ? 'Grouped' : 'Group'}
      </TextButton>
      {open && <GroupDialog {...props} onClose={() => setOpen(false)} />}
    </>
  );
}
