'use client';

import Button from '@mui/material/Button';
import { useFileChoice } from './useFileChoice';

/** A button that asks for a file. */
export function FileButton({
  words,
  name,
  accept,
  disabled = false,
  onFile,
}: {
  words: string;
  name: string;
  accept: string;
  disabled?: boolean;
  onFile: (file: File) => void;
}) {
  const { input, ask } = useFileChoice({ accept, name, onFile });
  return (
    <>
      <Button variant="outlined" disabled={disabled} onClick={ask}>
        {words}
      </Button>
      {input}
    </>
  );
}
