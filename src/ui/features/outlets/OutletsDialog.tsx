'use client';

import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import { WrittenLast } from '../edits/WrittenLast';
import { OutletForm, type OutletDraft } from './OutletForm';
import { OutletImport } from './OutletImport';
import { useOutletsWritten, type OutletRow } from './useOutlets';

interface KeptEdit {
  id: number;
  at: string;
  who: string;
  words: string;
  undoneBy: number | null;
  outlets: number;
}

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
  const [way, setWay] = useState<'one' | 'file'>('one');
  const written = useOutletsWritten();
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth aria-labelledby="outlets-title">
      <DialogTitle id="outlets-title">
        {editing ? `Change outlet ${editing.label}` : 'Outlets and patch panels'}
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
        {way === 'one' ? (
          <OutletForm editing={editing} {...(proposed && { proposed })} onDone={onClose} />
        ) : (
          <OutletImport />
        )}
        {!editing && (
          <WrittenLast<KeptEdit>
            queryKey={['outletEdits']}
            path="outlets/edits"
            written={written}
            count={({ outlets }) => outlets}
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
