'use client';

import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState, type ReactNode } from 'react';
import { Ways } from '../../components/Ways';
import { CsvImport } from '../imports/CsvImport';
import { WrittenLast } from './WrittenLast';
import { CloseFoot } from '../../components/dialogFeet';

/** What people keep: one that is entered or changed by a form, or many from a file, and what was written last. */
export function EditOneOrMany({
  title,
  kind,
  isNew,
  onClose,
  children,
}: {
  title: string;
  /** of the edits, and of what is taken from a file */
  kind: string;
  isNew: boolean;
  onClose: () => void;
  children: ReactNode;
}) {
  const [way, setWay] = useState('one');
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth aria-labelledby={`${kind}-title`}>
      <DialogTitle id={`${kind}-title`}>{title}</DialogTitle>
      <DialogContent>
        {isNew && (
          <Ways
            label="From where"
            way={way}
            ways={[
              { key: 'one', words: 'One' },
              { key: 'file', words: 'Many, from a CSV file' },
            ]}
            onWay={setWay}
          />
        )}
        {way === 'one' ? children : <CsvImport name={kind} />}
        {isNew && <WrittenLast of={kind} />}
      </DialogContent>
      <CloseFoot onClose={onClose} />
    </Dialog>
  );
}
