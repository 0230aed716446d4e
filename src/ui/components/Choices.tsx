'use client';

import FormControlLabel from '@mui/material/FormControlLabel';
import Radio from '@mui/material/Radio';
import RadioGroup from '@mui/material/RadioGroup';
import type { ReactNode } from 'react';

/** One of a few, all of them in sight. */
export function Choices<Value extends string>({
  label,
  name,
  value,
  choices,
  onChange,
  row = true,
}: {
  label: string;
  name: string;
  value: Value;
  choices: readonly { value: Value; words: ReactNode; disabled?: boolean }[];
  onChange: (value: Value) => void;
  row?: boolean;
}) {
  return (
    <RadioGroup row={row} aria-label={label} name={name} value={value} onChange={(_, next) => onChange(next as Value)}>
      {choices.map(({ value: one, words, disabled = false }) => (
        <FormControlLabel
          key={one}
          className="choice"
          value={one}
          disabled={disabled}
          label={words}
          control={<Radio size="small" />}
        />
      ))}
    </RadioGroup>
  );
}
