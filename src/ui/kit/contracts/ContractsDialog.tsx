'use client';

import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { call, type ApiProblem, type ThingRow } from '../api';
import { ago } from '../format';
import { ContractForm } from './ContractForm';
import { ContractImport } from './ContractImport';
import { useContractsWritten } from './useContracts';

interface KeptEdit { id: number; at: string; who: string; words: string; undoneBy: number | null; contracts: number }

/** Contracts: one that is entered or changed, or many from a file. */
export function ContractsDialog({ editing, onClose }: { editing: ThingRow | null; onClose: () => void }) {
  const [way, setWay] = useState<'one' | 'file'>('one');
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth aria-labelledby="contracts-title">
      <DialogTitle id="contracts-title">{editing ? `Change ${String(editing.number)}` : 'Contracts, warranties, licences'}</DialogTitle>
      <DialogContent>
        {!editing && (
          <nav className="subviews" aria-label="From where" style={{ marginBottom: 12 }}>
            <button type="button" className="textlink" aria-current={way === 'one' ? 'page' : undefined} onClick={() => setWay('one')}>One</button>
            <button type="button" className="textlink" aria-current={way === 'file' ? 'page' : undefined} onClick={() => setWay('file')}>Many, from a CSV file</button>
          </nav>
        )}
        {way === 'one' ? <ContractForm editing={editing} onDone={onClose} /> : <ContractImport />}
        {!editing && <RecentEdits />}
      </DialogContent>
      <DialogActions><Button color="secondary" onClick={onClose}>Close</Button></DialogActions>
    </Dialog>
  );
}

function RecentEdits() {
  const written = useContractsWritten();
  const { data } = useQuery({ queryKey: ['contractEdits'], queryFn: async () => (await call<{ rows: KeptEdit[] }>('contracts/edits')).rows });
  const [told, setTold] = useState('');
  const undo = async ({ id, words }: KeptEdit) => {
    try {
      const { back, stay } = await call<{ back: number; stay: number }>(`contracts/edits/${id}/undo`, { method: 'POST', body: {} });
      setTold(`“${words}”: ${back} taken back${stay > 0 ? `, ${stay} stay, since somebody wrote over them` : ''}.`);
    } catch (error) {
      setTold((error as ApiProblem).words);
    }
    await written();
  };
  if (!data || data.length === 0) return null;
  return (
    <section className="section">
      <h3>Written last</h3>
      {told && <p role="status" className="small">{told}</p>}
      <table className="plain"><tbody>
        {data.slice(0, 6).map((edit) => (
          <tr key={edit.id}><td>{edit.words}</td><td className="quiet">{edit.who}, {ago(edit.at)}</td><td>{edit.undoneBy === null ? edit.contracts > 0 && <button type="button" className="textlink" onClick={() => void undo(edit)}>Undo</button> : <span className="quiet">taken back</span>}</td></tr>
        ))}
      </tbody></table>
    </section>
  );
}
