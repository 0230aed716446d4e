'use client';

import NativeSelect from '@mui/material/NativeSelect';
import type { ChangeEvent, CSSProperties, ReactNode } from 'react';

/** One of a list in a line of words: the list is that of the machine, so that it works by touch and keyboard as people are used to. */
export function PlainSelect({
  value,
  onChange,
  children,
  name,
  disabled = false,
  style,
  'aria-label': label,
}: {
  value: string | number;
  onChange: (event: ChangeEvent<HTMLSelectElement>) => void;
  children: ReactNode;
  name?: string;
  disabled?: boolean;
  style?: CSSProperties;
  'aria-label'?: string;
}) {
  return (
    <NativeSelect
      className="plainselect"
      disableUnderline
      IconComponent={NoIcon}
      slots={inline}
      value={value}
      disabled={disabled}
      onChange={onChange}
      inputProps={{ ...(name && { name }), ...(label && { 'aria-label': label }), ...(style && { style }) }}
    >
      {children}
    </NativeSelect>
  );
}

/** The machine draws its own. */
const NoIcon = () => null;
/** Words around it are often a paragraph, which holds no blocks. */
const inline = { root: 'span' } as const;
