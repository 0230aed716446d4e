'use client';

import { useEffect, useRef, useState, type ComponentProps } from 'react';
import { fetched } from '../../lib/fetched';
import { soon } from '../../lib/soon';

const load = () => import('./GoTo').then((module) => module.GoTo);
const GoTo = fetched(load);

/** The dialog that goes anywhere, fetched at the first sign of life; what is typed before it has come is not lost. */
export function GoToSoon({ open, ...more }: Omit<ComponentProps<typeof GoTo>, 'takeTyped'>) {
  const [wanted, setWanted] = useState(open);
  if (open && !wanted) setWanted(true);
  const typed = useRef('');
  const isThere = useRef(false);
  // it stands there, closed, before anybody asks for it: then it opens with the very key
  useEffect(() => soon(() => load().then(() => setWanted(true))), []);
  useEffect(() => {
    if (!open || isThere.current) return undefined;
    const keep = (event: KeyboardEvent) => {
      if (isThere.current || event.key.length !== 1 || event.ctrlKey || event.metaKey || event.altKey) return;
      event.preventDefault();
      event.stopPropagation();
      typed.current += event.key;
    };
    window.addEventListener('keydown', keep, true);
    return () => window.removeEventListener('keydown', keep, true);
  }, [open]);
  if (!wanted) return null;
  return (
    <GoTo
      open={open}
      {...more}
      takeTyped={() => {
        isThere.current = true;
        return typed.current;
      }}
    />
  );
}
