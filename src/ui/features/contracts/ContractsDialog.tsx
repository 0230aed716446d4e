'use client';

import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import type { ThingRow } from '../../lib/api';
import { WrittenLast } from '../edits/WrittenLast';
import { ContractForm } from './ContractForm';
import { ContractImport } from './ContractImport';
import { useContractsWritten } from './useContracts';

interface KeptEdit {
  id: number;
  at: string;
  who: string;
  words: string;
  undoneBy: number | null;
  contracts: number;
}

/** Contracts: one that is entered or changed, or many from a file. */
export function ContractsDialog({ editing, onClose }: { editing: ThingRow | null; onClose: () => void }) {
  const [way, setWay] = useState<'one' | 'file'>('one');
  const written = useContractsWritten();
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth aria-labelledby="contracts-title">
      <DialogTitle id="contracts-title">
        {editing ? `Change ${String(editing.number)}` : 'Contracts, warranties, licences'}
      </DialogTitle>
      <DialogContent>
        {!editing && (
          <nav className="subviews" aria-label="From where" style={{ marginBottom: 12 }}>
            <button
              type="button"
              className="textlink"
              aria-current={way === 'one' ? 'page' : undefined}
              onClick={() => setWay('one')}
            >
              One
            </button>
            <button
              type="button"
              className="textlink"
              aria-current={way === 'file' ? 'page' : undefined}
              onClick={() => setWay('file')}
            >
              Many, from a CSV file
            </button>
          </nav>
        )}
        {way === 'one' ? <ContractForm editing={editing} onDone={onClose} /> : <ContractImport />}
        {!editing && (
          <WrittenLast<KeptEdit>
            queryKey={['contractEdits']}
            path="contracts/edits"
            written={written}
            count={({ contracts }) => contracts}
          />
        )}
      </DialogContent>
      <DialogActions>
        <Button color="secondary" onClick={onClose}>
          Close
        </Button>
      </DialogActions>
    </Dialog>
  );
}
