import type { CSSProperties, ReactNode } from 'react';

/** What a cell of a virtual table says in full: there are thousands of cells, so that the machine itself shows it. */
export function CellHint({
  words,
  children,
  style,
  className,
}: {
  words: string;
  children: ReactNode;
  style?: CSSProperties;
  className?: string;
}) {
  return (
    <span title={words} style={style} className={className}>
      {children}
    </span>
  );
}
