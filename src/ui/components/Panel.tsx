'use client';

import { useRef, type ReactNode } from 'react';
import { usePreference } from '../lib/usePreference';
import { PlainButton } from './PlainButton';

/** The dossier panel at the right; its width is kept for the person. */
export function Panel({ label, children }: { label: string; children: ReactNode }) {
  const [width, setWidth] = usePreference('panel.width', 400);
  const box = useRef<HTMLElement>(null);
  const drag = (startX: number) => {
    const from = box.current?.offsetWidth ?? width;
    const bounded = (x: number) => Math.max(300, Math.min(760, from + startX - x));
    const move = (event: PointerEvent) => box.current?.style.setProperty('width', `${bounded(event.clientX)}px`);
    const up = (event: PointerEvent) => {
      window.removeEventListener('pointermove', move);
      window.removeEventListener('pointerup', up);
      setWidth(bounded(event.clientX));
    };
    window.addEventListener('pointermove', move);
    window.addEventListener('pointerup', up);
  };
  return (
    <aside ref={box} className="panel" style={{ width }} aria-label={label} tabIndex={-1}>
      <PlainButton
        className="grip"
        aria-label="Width of the panel; arrow keys change it"
        onPointerDown={(event) => drag(event.clientX)}
        onKeyDown={(event) => {
          if (event.key === 'ArrowLeft') setWidth(Math.min(760, width + 20));
          if (event.key === 'ArrowRight') setWidth(Math.max(300, width - 20));
        }}
      />
      {children}
    </aside>
  );
}
