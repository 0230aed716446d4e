'use client';

import { forwardRef } from 'react';
import type { ButtonBaseProps } from '@mui/material/ButtonBase';
import { PlainButton } from './PlainButton';

/** A button that reads as a word among words. */
export const TextButton = forwardRef<HTMLButtonElement, ButtonBaseProps>(function TextButton(props, ref) {
  return <PlainButton ref={ref} {...props} className={`textlink ${props.className ?? ''}`.trim()} />;
});
