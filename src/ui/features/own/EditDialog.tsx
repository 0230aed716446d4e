'use client';

import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import { things } from '@/core/things/things';
import { Ways } from '../../components/Ways';
import { useOwnFields } from '../../lib/ownFields';
import { WrittenLast } from '../edits/WrittenLast';
import { CsvImport } from '../imports/CsvImport';
import { GroupRows } from './GroupRows';
import type { EditedRows } from './editedRows';
import { RowsForm } from './RowsForm';
import { CloseFoot } from '../../components/dialogFeet';

/** Own fields of many rows at once: which rows, what they become, what that changes, then the writing, which can be taken back. */
export function EditDialog({ onClose, ...rows }: EditedRows & { onClose: () => void }) {
  const { thing } = rows;
  const [way, setWay] = useState<'rows' | 'file' | 'group'>('rows');
  const fields = useOwnFields().filter((field) => field.thing === thing);
  const name = things[thing].title.toLowerCase();
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth aria-labelledby="edit-title">
      <DialogTitle id="edit-title">Edit {name}</DialogTitle>
      <DialogContent>
        <Ways
          label="From where"
          way={way}
          ways={[
            { key: 'rows', words: 'Own fields' },
            { key: 'file', words: 'Own fields from a CSV file' },
            ...(thing === 'endpoints' ? [] : [{ key: 'group' as const, words: 'Into a group' }]),
          ]}
          onWay={setWay}
        />
        {way === 'group' && thing !== 'endpoints' ? (
          <GroupRows {...rows} thing={thing} />
        ) : fields.length === 0 ? (
          <p className="quiet">There are no own fields of {name} yet: an administrator makes them in Settings.</p>
        ) : way === 'rows' ? (
          <RowsForm {...rows} fields={fields} />
        ) : (
          <CsvImport name={thing} />
        )}
        {way !== 'group' && (
          <WrittenLast of={thing} counted={(values) => (values === 1 ? '1 value' : `${values} values`)} />
        )}
      </DialogContent>
      <CloseFoot onClose={onClose} />
    </Dialog>
  );
}
