'use client';

import ButtonBase, { type ButtonBaseProps } from '@mui/material/ButtonBase';
import { forwardRef } from 'react';

/** A button that looks as its class says, without ripples. */
export const PlainButton = forwardRef<HTMLButtonElement, ButtonBaseProps>(function PlainButton(props, ref) {
  return (
    <ButtonBase
      ref={ref}
      disableRipple
      disableTouchRipple
      {...props}
      className={`plainbutton ${props.className ?? ''}`.trim()}
    />
  );
});
