'use client';

import dynamic from 'next/dynamic';
import { useState } from 'react';
import type { ThingName } from '@/core/things/things';
import { ActIcon } from '../../ActIcon';
import { TextButton } from '../../TextButton';
import type { TableLayout } from '../layout';

const ColumnsDialog = dynamic(() => import('./ColumnsDialog').then((module) => module.ColumnsDialog), {
  loading: () => null,
});

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
