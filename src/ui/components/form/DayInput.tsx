'use client';

import { DatePicker } from '@mui/x-date-pickers/DatePicker';
import { format } from 'date-fns';
import { Dates } from './Dates';
import { useField } from './fieldContext';
import type { InputProps } from './TextInput';
import { usePicked } from './usePicked';

const written = (day: Date) => format(day, 'yyyy-MM-dd');

/** A day of the calendar, `2026-11-23`; null for none. */
export function DayInput({ name, label, help = '' }: InputProps) {
  const { inputName, value, set, leave, mistake } = useField<string | null>(name);
  const { date, pick } = usePicked(value ?? null, set, written);
  return (
    <Dates>
      <DatePicker
        label={label}
        name={inputName}
        format="yyyy-MM-dd"
        value={date}
        onChange={pick}
        slotProps={{
          field: { clearable: true },
          textField: { onBlur: leave, error: mistake !== '', helperText: mistake || help, size: 'small' },
        }}
      />
    </Dates>
  );
}
