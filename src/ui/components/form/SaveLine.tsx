'use client';

import Button from '@mui/material/Button';
import type { ReactNode } from 'react';
import type { FieldValues } from 'react-hook-form';
import type { SavingForm } from './useSavingForm';

/** The button that saves a form, what stands beside it, and what became of it. */
export function SaveLine<Values extends FieldValues>({
  of: { isBusy, told },
  words,
  busyWords = words,
  variant = 'contained',
  disabled = false,
  children,
}: {
  of: Pick<SavingForm<Values>, 'isBusy' | 'told'>;
  words: string;
  busyWords?: string;
  variant?: 'contained' | 'outlined';
  disabled?: boolean;
  children?: ReactNode;
}) {
  return (
    <div className="formacts">
      <Button type="submit" variant={variant} disabled={isBusy || disabled}>
        {isBusy ? busyWords : words}
      </Button>
      {children}
      {told && (
        <span role="status" className="quiet small">
          {told}
        </span>
      )}
    </div>
  );
}
