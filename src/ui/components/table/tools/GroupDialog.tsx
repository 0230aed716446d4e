'use client';

import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { things, type ThingName } from '@/core/things/things';
import { useFieldsOf } from '../../../lib/ownFields';
import { DoneFoot } from '../../dialogFeet';

const levels = ['by', 'then by', 'then by'];

/** Up to three fields by which rows are grouped, the outermost first. */
export function GroupDialog({
  thing,
  group,
  onGroup,
  onClose,
}: {
  thing: ThingName;
  group: string[];
  onGroup: (group: string[]) => void;
  onClose: () => void;
}) {
  const fields = useFieldsOf()(thing).filter(({ list }) => !list);
  const change = (level: number, name: string) =>
    onGroup(
      name === ''
        ? group.slice(0, level)
        : [...group.slice(0, level), name, ...group.slice(level + 1).filter((other) => other !== name)],
    );
  return (
    <Dialog open onClose={onClose} maxWidth="xs" aria-labelledby="group-title">
      <DialogTitle id="group-title">Group {things[thing].title.toLowerCase()}</DialogTitle>
      <DialogContent>
        <div className="form" style={{ paddingTop: 6, minWidth: 280 }}>
          {levels.slice(0, Math.min(levels.length, group.length + 1)).map((label, level) => (
            <TextField
              key={`${label} ${level}`}
              select
              label={label}
              value={group[level] ?? ''}
              onChange={(event) => change(level, event.target.value)}
              slotProps={{ htmlInput: { name: `group${level}` } }}
            >
              <MenuItem value="">
                <span className="quiet">{level === 0 ? 'nothing: one flat table' : 'nothing more'}</span>
              </MenuItem>
              {fields
                .filter(({ name }) => !group.slice(0, level).includes(name))
                .map(({ name, label: head }) => (
                  <MenuItem key={name} value={name}>
                    {head}
                  </MenuItem>
                ))}
            </TextField>
          ))}
        </div>
      </DialogContent>
      <DoneFoot onDone={onClose}>
        <Button
          color="secondary"
          onClick={() => {
            onGroup([]);
            onClose();
          }}
        >
          Flat
        </Button>
      </DoneFoot>
    </Dialog>
  );
}
