'use client';

import { DateTimePicker } from '@mui/x-date-pickers/DateTimePicker';
import { isValid, parseISO } from 'date-fns';
import { Dates } from './Dates';
import { useField } from './fieldContext';
import type { InputProps } from './TextInput';

/** A moment, told in one's own time and kept as UTC; null for none. */
export function MomentInput({ name, label, help = '' }: InputProps) {
  const { inputName, value, set, leave, mistake } = useField<string | null>(name);
  return (
    <Dates>
      <DateTimePicker
        label={label}
        name={inputName}
        ampm={false}
        format="yyyy-MM-dd HH:mm"
        value={value && isValid(parseISO(value)) ? parseISO(value) : null}
        onChange={(moment) => set(moment && isValid(moment) ? moment.toISOString() : moment && 'not a moment')}
        slotProps={{
          field: { clearable: true },
          textField: { onBlur: leave, error: mistake !== '', helperText: mistake || help, size: 'small' },
        }}
      />
    </Dates>
  );
}
