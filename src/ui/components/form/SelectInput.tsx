'use client';

import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useField } from './fieldContext';
import type { InputProps } from './TextInput';

export interface Choice {
  value: string;
  words: string;
}

/** One of several; of plain words each stands for itself. @param empty words for none of them @param onChosen what else follows from a choice */
export function SelectInput({
  name,
  label,
  help = '',
  choices,
  empty,
  disabled = false,
  onChosen,
}: InputProps & {
  choices: readonly (string | Choice)[];
  empty?: string;
  disabled?: boolean;
  onChosen?: (value: string) => void;
}) {
  const { inputName, value, set, leave, ref, mistake } = useField<string | null>(name);
  const listed = choices.map((choice) => (typeof choice === 'string' ? { value: choice, words: choice } : choice));
  // what is not to be chosen any more is still shown while it is chosen
  const isListed = value === null || value === '' || listed.some((choice) => choice.value === value);
  const shown = isListed ? listed : [...listed, { value, words: value }];
  return (
    <TextField
      select
      label={label}
      name={inputName}
      value={value ?? ''}
      disabled={disabled}
      error={mistake !== ''}
      helperText={mistake || help}
      inputRef={ref}
      onBlur={leave}
      onChange={({ target }) => {
        set(target.value === '' && value === null ? null : target.value);
        onChosen?.(target.value);
      }}
      slotProps={{
        formHelperText: { className: 'fieldhelp' },
        ...(empty !== undefined && { select: { displayEmpty: true }, inputLabel: { shrink: true } }),
      }}
    >
      {empty !== undefined && (
        <MenuItem value="">
          <span className="quiet">{empty}</span>
        </MenuItem>
      )}
      {shown.map((choice) => (
        <MenuItem key={choice.value} value={choice.value}>
          {choice.words}
        </MenuItem>
      ))}
    </TextField>
  );
}
