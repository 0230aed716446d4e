'use client';

import type { ThingRow } from '../../lib/api';
import { EditOneOrMany } from '../edits/EditOneOrMany';
import { ContractForm } from './ContractForm';

/** Contracts: one that is entered or changed, or many from a file. */
export function ContractsDialog({
  editing,
  version = null,
  onClose,
}: {
  editing: ThingRow | null;
  version?: number | null;
  onClose: () => void;
}) {
  const title = editing ? `Change ${String(editing.number)}` : 'Contracts, warranties, licences';
  return (
    <EditOneOrMany title={title} kind="contracts" isNew={editing === null} onClose={onClose}>
      <ContractForm editing={editing} version={version} onDone={onClose} />
    </EditOneOrMany>
  );
}
