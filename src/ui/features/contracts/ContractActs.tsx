'use client';

import { useState } from 'react';
import { TextButton } from '../../components/TextButton';
import { call, type ApiProblem, type ThingRow } from '../../lib/api';
import { useMayEdit } from '../../lib/person';
import { useView } from '../../lib/useView';
import { useWritten } from '../edits/useWritten';
import { fetched } from '../../lib/fetched';

const ContractsDialog = fetched(() => import('./ContractsDialog').then((module) => module.ContractsDialog));

/** What one may do with a contract in its dossier. @param version in which it was read */
export function ContractActs({ row, version }: { row: ThingRow; version: number }) {
  const view = useView();
  const mayEdit = useMayEdit();
  const written = useWritten();
  // what was read when the dialog opened: what is read again behind it is not what one writes over
  const [editing, setEditing] = useState<{ row: ThingRow; version: number } | null>(null);
  const [told, setTold] = useState('');
  if (!mayEdit) return null;
  const remove = async () => {
    try {
      await call(`contracts/${row.id}`, { method: 'DELETE', seen: version });
      view.set({ sel: null });
    } catch (error) {
      setTold((error as ApiProblem).words);
    }
    await written();
  };
  return (
    <p style={{ marginTop: 8 }}>
      <TextButton onClick={() => setEditing({ row, version })}>Change</TextButton> ·{' '}
      <TextButton onClick={() => void remove()}>Delete</TextButton>
      {told && (
        <span role="alert" className="bad">
          {' '}
          {told}
        </span>
      )}
      {editing && <ContractsDialog editing={editing.row} version={editing.version} onClose={() => setEditing(null)} />}
    </p>
  );
}
