'use client';

import { useRef, type ReactElement } from 'react';

/** A way to ask for a file: what must stand somewhere on the page, and the function that asks. */
export function useFileChoice({
  accept,
  onFile,
  name,
  label,
}: {
  accept: string;
  onFile: (file: File) => void;
  name?: string;
  label?: string;
}): { input: ReactElement; ask: () => void } {
  const box = useRef<HTMLInputElement>(null);
  return {
    ask: () => box.current?.click(),
    input: (
      // only the machine's own element asks for files, and nobody sees it
      // oxlint-disable-next-line elements/raw-elements
      <input
        ref={box}
        type="file"
        accept={accept}
        hidden
        {...(name && { name })}
        {...(label && { 'aria-label': label })}
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          if (file) onFile(file);
          event.target.value = '';
        }}
      />
    ),
  };
}
