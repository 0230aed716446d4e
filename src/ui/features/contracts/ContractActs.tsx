'use client';

import { useState } from 'react';
import { TextButton } from '../../components/TextButton';
import { call, type ApiProblem, type ThingRow } from '../../lib/api';
import { useMayEdit } from '../../lib/person';
import { useView } from '../../lib/useView';
import { tellDone } from '../edits/doneTray';
import { useUndo } from '../edits/useUndo';
import { useWritten } from '../edits/useWritten';
import { fetched } from '../../lib/fetched';

const ContractsDialog = fetched(() => import('./ContractsDialog').then((module) => module.ContractsDialog));

/** What one may do with a contract in its dossier. @param version in which it was read */
export function ContractActs({ row, version }: { row: ThingRow; version: number }) {
  const view = useView();
  const mayEdit = useMayEdit();
  const written = useWritten();
  const undo = useUndo();
  // what was read when the dialog opened: what is read again behind it is not what one writes over
  const [editing, setEditing] = useState<{ row: ThingRow; version: number } | null>(null);
  const [told, setTold] = useState('');
  if (!mayEdit) return null;
  const remove = async () => {
    try {
      const { edit } = await call<{ edit: number }>(`contracts/${row.id}`, { method: 'DELETE', seen: version });
      tellDone(`Deleted the contract ${String(row.number)}.`, () => undo(edit));
      view.set({ sel: null });
    } catch (error) {
      setTold((error as ApiProblem).words);
    }
    await written();
  };
  return (
    <p style={{ marginTop: 8 }}>
      <TextButton onClick={() => setEditing({ row, version })}>Change the contract</TextButton> ·{' '}
      <TextButton onClick={() => void remove()}>Delete the contract</TextButton>
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
