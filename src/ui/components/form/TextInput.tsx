'use client';

import TextField, { type TextFieldProps } from '@mui/material/TextField';
import { useField } from './fieldContext';

export interface InputProps {
  name: string;
  label: string;
  /** what to write, where nothing is wrong with it */
  help?: string;
}

const monoStyle = { fontFamily: "'JetBrains Mono Variable', monospace", fontSize: 13 };

/** A text, or a number where `type` says so: what is no number is told by the schema. */
export function TextInput({
  name,
  label,
  help = '',
  mono = false,
  ...more
}: InputProps & { mono?: boolean } & Omit<TextFieldProps, 'name' | 'label' | 'value' | 'onChange' | 'error'>) {
  const { inputName, value, set, leave, ref, mistake } = useField<string | number | null | undefined>(name);
  const isNumber = more.type === 'number';
  const { type: _type, slotProps, ...rest } = more;
  return (
    <TextField
      label={label}
      name={inputName}
      autoComplete="off"
      {...rest}
      {...(!isNumber && more.type && { type: more.type })}
      value={shownValue(value)}
      error={mistake !== ''}
      helperText={mistake || help}
      inputRef={ref}
      onBlur={leave}
      onChange={({ target }) => set(isNumber ? numberOf(target.value) : target.value)}
      slotProps={{
        ...slotProps,
        ...(mono && { input: { sx: monoStyle } }),
        htmlInput: {
          ...(isNumber && { inputMode: 'numeric' }),
          ...(mono && { spellCheck: false }),
          ...(slotProps?.htmlInput as object),
        },
        formHelperText: { className: 'fieldhelp' },
      }}
    />
  );
}

/** What was typed, as long as it is no number: the schema says so. */
const numberOf = (text: string): number | string => (/^-?\d+(\.\d+)?$/.test(text.trim()) ? Number(text.trim()) : text);

const shownValue = (value: string | number | null | undefined): string =>
  value === null || value === undefined || Number.isNaN(value) ? '' : String(value);
