'use client';

import InputBase from '@mui/material/InputBase';
import { forwardRef, type InputHTMLAttributes } from 'react';

/** Words around it are often a paragraph, which holds no blocks. */
const inline = { root: 'span' } as const;

/** An input without a frame of its own: it looks as its class says. */
export const PlainInput = forwardRef<HTMLInputElement, InputHTMLAttributes<HTMLInputElement>>(function PlainInput(
  { value, onChange, autoFocus = false, type = 'text', placeholder, ...more },
  ref,
) {
  return (
    <InputBase
      slots={inline}
      className="plaininput"
      inputRef={ref}
      value={value}
      type={type}
      autoFocus={autoFocus}
      {...(placeholder !== undefined && { placeholder })}
      {...(onChange && { onChange: onChange as never })}
      inputProps={more}
    />
  );
});
