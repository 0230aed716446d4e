'use client';

import type { ComponentProps } from 'react';
import { FilterField } from '../filter/FilterField';
import { useField } from './fieldContext';
import type { InputProps } from './TextInput';

/** A filter in the language of the tables, with what may be written. */
export function FilterInput({
  name,
  label,
  about,
  hint,
}: Pick<InputProps, 'name' | 'label'> & Pick<ComponentProps<typeof FilterField>, 'about' | 'hint'>) {
  const { value, set, mistake } = useField<string>(name);
  return (
    <div>
      <div className="small quiet">{label}</div>
      <FilterField key={about.thing} own about={about} value={value} onChange={set} problem={null} hint={hint} />
      {mistake && (
        <p className="bad small" role="alert">
          {mistake}
        </p>
      )}
    </div>
  );
}
