'use client';

import { CheckBox } from '../CheckBox';
import { useField } from './fieldContext';
import type { InputProps } from './TextInput';

/** Yes or no. */
export function CheckInput({ name, label, help = '' }: InputProps) {
  const { inputName, value, set, mistake } = useField<boolean>(name);
  return (
    <div>
      <CheckBox name={inputName} label={label} checked={value} onChange={set} />
      {(mistake || help) && (
        <p className={mistake ? 'bad small' : 'quiet small'} role={mistake ? 'alert' : undefined}>
          {mistake || help}
        </p>
      )}
    </div>
  );
}
