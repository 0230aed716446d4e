'use client';

import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { useField } from './fieldContext';
import type { InputProps } from './TextInput';

const linesOf = (text: string): string[] =>
  text
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean);

const monoStyle = { fontFamily: "'JetBrains Mono Variable', monospace", fontSize: 13 };

/**
 * A list, one a line. @param split how a text becomes the list, where it is not by lines @param rows how high it is at first
 */
export function LinesInput({
  name,
  label,
  help = '',
  rows = 1,
  mostRows = 8,
  split = linesOf,
}: InputProps & { rows?: number; mostRows?: number; split?: (text: string) => string[] }) {
  const { inputName, value, set, leave, ref, mistake } = useField<string[]>(name);
  const [text, setText] = useState(() => value.join('\n'));
  // what is typed stays as it is typed, until the list becomes another from outside
  const isOwn = split(text).join('\n') === value.join('\n');
  return (
    <TextField
      label={label}
      name={inputName}
      multiline
      minRows={rows}
      maxRows={mostRows}
      value={isOwn ? text : value.join('\n')}
      error={mistake !== ''}
      helperText={mistake || help}
      inputRef={ref}
      onBlur={leave}
      onChange={({ target }) => {
        setText(target.value);
        set(split(target.value));
      }}
      slotProps={{
        input: { sx: monoStyle },
        htmlInput: { spellCheck: false },
        formHelperText: { className: 'fieldhelp' },
      }}
    />
  );
}
