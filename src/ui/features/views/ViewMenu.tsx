'use client';

import dynamic from 'next/dynamic';
import { useState } from 'react';
import { ActIcon } from '../../components/ActIcon';
import { TextButton } from '../../components/TextButton';
import type { ViewsShown } from './ViewsDialog';

const ViewsDialog = dynamic(() => import('./ViewsDialog').then((module) => module.ViewsDialog), {
  loading: () => null,
});

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
