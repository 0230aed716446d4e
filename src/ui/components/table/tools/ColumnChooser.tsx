'use client';

import { useState } from 'react';
import type { ThingName } from '@/core/things/things';
import { ActIcon } from '../../ActIcon';
import { TextButton } from '../../TextButton';
import type { TableLayout } from '../layout';
import { fetched } from '../../../lib/fetched';

const ColumnsDialog = fetched(() => import('./ColumnsDialog').then((module) => module.ColumnsDialog));

/** Opens the choice of columns. */
export function ColumnChooser(props: { thing: ThingName; layout: TableLayout }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <TextButton onClick={() => setOpen(true)}>
        <ActIcon act="columns" />
        Columns
      </TextButton>
      {open && <ColumnsDialog {...props} onClose={() => setOpen(false)} />}
    </>
  );
}
