'use client';

import Button from '@mui/material/Button';
import { useRef } from 'react';

/** A button that asks for a file. */
export function FileButton({
  words,
  name,
  accept,
  disabled,
  onFile,
}: {
  words: string;
  name: string;
  accept: string;
  disabled?: boolean;
  onFile: (file: File) => void;
}) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button variant="outlined" disabled={disabled ?? false} onClick={() => input.current?.click()}>
        {words}
      </Button>
      <input
        ref={input}
        type="file"
        name={name}
        accept={accept}
        hidden
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          if (file) onFile(file);
          event.target.value = '';
        }}
      />
    </>
  );
}
