'use client';

import Tooltip from '@mui/material/Tooltip';
import { useRef, useState, type ReactElement } from 'react';

/**
 * What more there is to say of something, shown while it is pointed at or has the focus. Without words it is as if it were not there.
 * Whoever acts has read it: it goes, and does not lie over what then opens, until the pointer comes back.
 */
export function Hint({ words, children }: { words: string | undefined; children: ReactElement }) {
  const [open, setOpen] = useState(false);
  const acted = useRef(false);
  if (!words) return children;
  return (
    <Tooltip
      title={words}
      describeChild
      arrow
      open={open}
      onOpen={() => setOpen(!acted.current)}
      onClose={() => setOpen(false)}
      onPointerDown={() => {
        acted.current = true;
        setOpen(false);
      }}
      onPointerLeave={() => {
        acted.current = false;
      }}
      onKeyDown={({ key }: { key: string }) => {
        if (key === 'Enter' || key === ' ') setOpen(false);
      }}
    >
      {children}
    </Tooltip>
  );
}
