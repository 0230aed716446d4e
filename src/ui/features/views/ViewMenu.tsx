'use client';

import { useState } from 'react';
import { ActIcon } from '../../components/ActIcon';
import { TextButton } from '../../components/TextButton';
import type { ViewsShown } from './ViewsDialog';
import { fetched } from '../../lib/fetched';

const ViewsDialog = fetched(() => import('./ViewsDialog').then((module) => module.ViewsDialog));

/** Views of a page: what somebody saved under a name, and how to save what is shown. */
export function ViewMenu(shown: ViewsShown) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <TextButton onClick={() => setOpen(true)}>
        <ActIcon act="views" />
        Views
      </TextButton>
      {open && <ViewsDialog {...shown} onClose={() => setOpen(false)} />}
    </>
  );
}
