'use client';

import { useLayoutEffect, useRef, type ReactNode, type RefObject } from 'react';
import { usePreference } from '../lib/usePreference';
import { PlainButton } from './PlainButton';

const areaOf = (panel: HTMLElement | null): HTMLElement | null => panel?.closest<HTMLElement>('.area') ?? null;

/** Lets the panel begin below what heads the work, and tells the work how much of it is covered. */
function useBesideHeads(box: RefObject<HTMLElement | null>, width: number): void {
  useLayoutEffect(() => {
    const area = areaOf(box.current);
    if (!area) return undefined;
    const heads = [...area.querySelectorAll<HTMLElement>(':scope > .work > :is(.titleline, .subviews, .mapviews)')];
    const measure = () => {
      const bottom = Math.max(0, ...heads.map((head) => head.offsetTop + head.offsetHeight));
      area.style.setProperty('--heads', `${bottom}px`);
      const table = area.querySelector<HTMLElement>('.table');
      const bar = table ? table.offsetWidth - table.clientWidth : 0;
      area.style.setProperty('--work-width', `${area.clientWidth - bar}px`);
    };
    area.style.setProperty('--panel-width', `${width}px`);
    measure();
    const observer = new ResizeObserver(measure);
    for (const one of [area, ...heads]) observer.observe(one);
    return () => observer.disconnect();
  }, [box, width]);
}

/** The dossier panel at the right, over the work and below its heads; its width is kept for the person. */
export function Panel({ label, children }: { label: string; children: ReactNode }) {
  const [width, setWidth] = usePreference('panel.width', 400);
  const box = useRef<HTMLElement>(null);
  useBesideHeads(box, width);
  const drag = (startX: number) => {
    const from = box.current?.offsetWidth ?? width;
    const bounded = (x: number) => Math.max(300, Math.min(760, from + startX - x));
    const move = (event: PointerEvent) => {
      box.current?.style.setProperty('width', `${bounded(event.clientX)}px`);
      areaOf(box.current)?.style.setProperty('--panel-width', `${bounded(event.clientX)}px`);
    };
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
