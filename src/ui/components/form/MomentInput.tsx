'use client';

import { DateTimePicker } from '@mui/x-date-pickers/DateTimePicker';
import { Dates } from './Dates';
import { useField } from './fieldContext';
import type { InputProps } from './TextInput';
import { usePicked } from './usePicked';

const written = (moment: Date) => moment.toISOString();

/** A moment, told in one's own time and kept as UTC; null for none. */
export function MomentInput({ name, label, help = '' }: InputProps) {
  const { inputName, value, set, leave, mistake } = useField<string | null>(name);
  const { date, pick } = usePicked(value ?? null, set, written);
  return (
    <Dates>
      <DateTimePicker
        label={label}
        name={inputName}
        ampm={false}
        format="yyyy-MM-dd HH:mm"
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
