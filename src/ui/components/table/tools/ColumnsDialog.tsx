'use client';

import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import FormControlLabel from '@mui/material/FormControlLabel';
import { things, type ThingName } from '@/core/things/things';
import { useFieldsOf } from '../../../lib/ownFields';
import { Choices } from '../../Choices';
import type { TableLayout } from '../layout';
import { DoneFoot } from '../../dialogFeet';

/** Which columns a table has, grouped by topic, and how close its rows stand. */
export function ColumnsDialog({
  thing,
  layout: { chosen, toggle, reset, density, setDensity },
  onClose,
}: {
  thing: ThingName;
  layout: TableLayout;
  onClose: () => void;
}) {
  const fields = useFieldsOf()(thing);
  const topics = [...new Set(fields.map(({ topic }) => topic))];
  return (
    <Dialog open onClose={onClose} maxWidth="sm" aria-labelledby="columns-title">
      <DialogTitle id="columns-title">Columns of {things[thing].title.toLowerCase()}</DialogTitle>
      <DialogContent>
        <p className="quiet">
          Your choice stays, also after you sign out. In the table, drag a head to move its column and its edge to
          change the width.
        </p>
        {topics.map((topic) => (
          <div key={topic} className="section" role="group" aria-label={topic}>
            <h3>{topic}</h3>
            {fields
              .filter((field) => field.topic === topic)
              .map((field) => (
                <FormControlLabel
                  key={field.name}
                  sx={{ width: '31%' }}
                  control={
                    <Checkbox size="small" checked={chosen.includes(field.name)} onChange={() => toggle(field.name)} />
                  }
                  label={field.label}
                />
              ))}
          </div>
        ))}
        <div className="section" role="radiogroup" aria-label="Rows">
          <h3>Rows of all tables</h3>
          <Choices
            label="Rows of all tables"
            name="density"
            value={density}
            choices={[
              { value: 'roomy', words: 'roomy' },
              { value: 'close', words: 'close' },
            ]}
            onChange={setDensity}
          />
        </div>
      </DialogContent>
      <DoneFoot onDone={onClose}>
        <Button color="secondary" onClick={reset}>
          As at first
        </Button>
      </DoneFoot>
    </Dialog>
  );
}
