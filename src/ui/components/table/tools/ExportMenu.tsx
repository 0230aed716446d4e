'use client';

import { useState } from 'react';
import { ActIcon } from '../../ActIcon';
import { TextButton } from '../../TextButton';
import type { Exported } from './ExportItems';
import { fetched } from '../../../lib/fetched';

const ExportItems = fetched(() => import('./ExportItems').then((module) => module.ExportItems));

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
