'use client';

import { EditOneOrMany } from '../edits/EditOneOrMany';
import { OutletForm, type OutletDraft } from './OutletForm';
import type { OutletRow } from './useOutlets';

/** Outlets: one that is entered or changed, or many from a file. */
export function OutletsDialog({
  editing = null,
  proposed,
  onClose,
}: {
  editing?: OutletRow | null;
  proposed?: Partial<OutletDraft>;
  onClose: () => void;
}) {
  const title = editing ? `Change outlet ${editing.label}` : 'Outlets and patch panels';
  return (
    <EditOneOrMany title={title} kind="outlets" isNew={editing === null} onClose={onClose}>
      <OutletForm editing={editing} {...(proposed && { proposed })} onDone={onClose} />
    </EditOneOrMany>
  );
}
