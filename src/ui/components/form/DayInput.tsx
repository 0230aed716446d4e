'use client';

import { DatePicker } from '@mui/x-date-pickers/DatePicker';
import { format, isValid, parseISO } from 'date-fns';
import { Dates } from './Dates';
import { useField } from './fieldContext';
import type { InputProps } from './TextInput';

/** A day of the calendar, `2026-11-23`; null for none. */
export function DayInput({ name, label, help = '' }: InputProps) {
  const { inputName, value, set, leave, mistake } = useField<string | null>(name);
  return (
    <Dates>
      <DatePicker
        label={label}
        name={inputName}
        format="yyyy-MM-dd"
        value={value ? parseISO(value) : null}
        onChange={(day) => set(day && isValid(day) ? format(day, 'yyyy-MM-dd') : day && 'not a day')}
        slotProps={{
          field: { clearable: true },
          textField: { onBlur: leave, error: mistake !== '', helperText: mistake || help, size: 'small' },
        }}
      />
    </Dates>
  );
}
