'use client';

import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import type { ReactNode } from 'react';

/** A box that is ticked or not, with its words. */
export function CheckBox({
  label,
  checked,
  onChange,
  name,
  disabled = false,
}: {
  label: ReactNode;
  checked: boolean;
  onChange: (checked: boolean) => void;
  name?: string;
  disabled?: boolean;
}) {
  return (
    <FormControlLabel
      className="choice"
      label={label}
      disabled={disabled}
      control={
        <Checkbox size="small" checked={checked} onChange={(_, next) => onChange(next)} {...(name && { name })} />
      }
    />
  );
}
