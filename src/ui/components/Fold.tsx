'use client';

import Collapse from '@mui/material/Collapse';
import { useId, useState, type ReactNode } from 'react';
import { TextButton } from './TextButton';

/** What most people need not see: folded, with what it says in a line. It opens by itself where something in it is wrong. */
export function Fold({
  title,
  says,
  isWrong = false,
  children,
}: {
  title: string;
  /** what is set in it, in words */
  says: string;
  isWrong?: boolean;
  children: ReactNode;
}) {
  const [isChosen, setChosen] = useState(false);
  const isOpen = isChosen || isWrong;
  const id = useId();
  return (
    <section className="fold">
      <TextButton className="foldhead" aria-expanded={isOpen} aria-controls={id} onClick={() => setChosen(!isOpen)}>
        <span className="foldwords">
          <b>{title}</b>
          {!isOpen && <span className="quiet">: {says}</span>}
        </span>
      </TextButton>
      <Collapse in={isOpen} id={id} mountOnEnter>
        <div className="form foldbody">{children}</div>
      </Collapse>
    </section>
  );
}
