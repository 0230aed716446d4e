'use client';

import type { OwnField } from '@/core/own/ownField';
import { DayInput } from '../../components/form/DayInput';
import { SelectInput } from '../../components/form/SelectInput';
import { TextInput } from '../../components/form/TextInput';

/** The input a value of one's own is written in, as its kind wants it. @param name of the value in the form */
export function OwnInput({
  field: { label, kind, choices },
  name,
  called = label,
  autoFocus = false,
}: {
  field: OwnField;
  name: string;
  called?: string;
  autoFocus?: boolean;
}) {
  switch (kind) {
    case 'choice':
      return <SelectInput name={name} label={called} choices={choices} empty="nothing" />;
    case 'boolean':
      return <SelectInput name={name} label={called} choices={['yes', 'no']} empty="nothing" />;
    case 'date':
      return <DayInput name={name} label={called} />;
    case 'note':
      return <TextInput name={name} label={called} multiline minRows={2} maxRows={10} autoFocus={autoFocus} />;
    case 'tags':
      return <TextInput name={name} label={called} help="short words, separated by commas" autoFocus={autoFocus} />;
    default:
      return (
        <TextInput
          name={name}
          label={called}
          autoFocus={autoFocus}
          slotProps={{ htmlInput: { inputMode: kind === 'number' ? 'decimal' : 'text' } }}
        />
      );
  }
}
