'use client';

import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import type { OwnField } from '@/core/own/ownField';

/** The field a value of one's own is written in, as its kind wants it. */
export function OwnInput({
  field,
  value,
  mistake,
  autoFocus,
  onChange,
}: {
  field: OwnField;
  value: string;
  mistake?: string | undefined;
  autoFocus?: boolean;
  onChange: (value: string) => void;
}) {
  const choices = field.kind === 'choice' ? field.choices : field.kind === 'boolean' ? ['yes', 'no'] : null;
  const help = mistake ?? (field.kind === 'tags' ? 'short words, separated by commas' : undefined);
  return (
    <TextField
      label={field.label}
      value={value}
      fullWidth
      size="small"
      error={Boolean(mistake)}
      helperText={help}
      autoFocus={autoFocus ?? false}
      onChange={(event) => onChange(event.target.value)}
      {...(field.kind === 'note' && { multiline: true, minRows: 2, maxRows: 10 })}
      {...(choices && { select: true })}
      {...(field.kind === 'date' && { type: 'date' })}
      slotProps={{
        htmlInput: { name: `own.${field.name}`, ...(field.kind === 'number' && { inputMode: 'decimal' }) },
        ...(field.kind === 'date' && { inputLabel: { shrink: true } }),
      }}
    >
      {choices && [
        <MenuItem key="" value="">
          <span className="quiet">nothing</span>
        </MenuItem>,
        ...choices.map((choice) => (
          <MenuItem key={choice} value={choice}>
            {choice}
          </MenuItem>
        )),
      ]}
    </TextField>
  );
}
