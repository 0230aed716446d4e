'use client';

import dynamic from 'next/dynamic';
import { useState } from 'react';
import { useView } from '../../lib/useView';
import { call, type ApiProblem, type ThingRow } from '../../lib/api';
import { useMayEdit } from '../../lib/person';
import { useContractsWritten } from './useContracts';

const ContractsDialog = dynamic(() => import('./ContractsDialog').then((module) => module.ContractsDialog), {
  loading: () => null,
});

/** What one may do with a contract in its dossier. */
export function ContractActs({ row }: { row: ThingRow }) {
  const view = useView();
  const mayEdit = useMayEdit();
  const written = useContractsWritten();
  const [editing, setEditing] = useState(false);
  const [told, setTold] = useState('');
  if (!mayEdit) return null;
  const remove = async () => {
    try {
      await call(`contracts/${row.id}`, { method: 'DELETE' });
      view.set({ sel: null });
    } catch (error) {
      setTold((error as ApiProblem).words);
    }
    await written();
  };
  return (
    <p style={{ marginTop: 8 }}>
      <button type="button" className="textlink" onClick={() => setEditing(true)}>
        Change
      </button>{' '}
      ·{' '}
      <button type="button" className="textlink" onClick={() => void remove()}>
        Delete
      </button>
      {told && (
        <span role="alert" className="bad">
          {' '}
          {told}
        </span>
      )}
      {editing && <ContractsDialog editing={row} onClose={() => setEditing(false)} />}
    </p>
  );
}
