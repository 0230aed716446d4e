'use client';

import dynamic from 'next/dynamic';
import { useState } from 'react';
import { ActIcon } from '../../ActIcon';
import { TextButton } from '../../TextButton';
import type { Exported } from './ExportItems';

const ExportItems = dynamic(() => import('./ExportItems').then((module) => module.ExportItems), {
  loading: () => null,
});

/** Opens the ways in which a table is exported. */
export function ExportMenu(exported: Exported) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <TextButton aria-haspopup="menu" onClick={(event) => setAnchor(event.currentTarget)}>
        <ActIcon act="export" />
        Export
      </TextButton>
      {anchor && <ExportItems {...exported} anchor={anchor} onClose={() => setAnchor(null)} />}
    </>
  );
}
