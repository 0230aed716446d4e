'use client';

import Tooltip from '@mui/material/Tooltip';
import type { ReactElement } from 'react';

/** What more there is to say of something, shown while it is pointed at or has the focus. Without words it is as if it were not there. */
export function Hint({ words, children }: { words: string | undefined; children: ReactElement }) {
  if (!words) return children;
  return (
    <Tooltip title={words} describeChild arrow>
      {children}
    </Tooltip>
  );
}
