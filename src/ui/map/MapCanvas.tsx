'use client';

import { useCallback, useEffect, useRef, useState } from 'react';
import { plateHeight, plateWidth } from '@/core/layout/terraces';
import { useThemeChoice } from '../theme/ThemeRegistry';
import { curveOf, drawCanvas, paletteOf, pointOnCurve, type Picture } from './drawing';

interface Sight { x: number; y: number; scale: number }

/** The drawn map: drag pans, the wheel zooms, a click selects; arrows walk along links, + and − zoom, 0 shows everything. */
export function MapCanvas({ picture, chosen, onChoose, label }: { picture: Picture; chosen: string | null; onChoose: (sel: string | null) => void; label: string }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [sight, setSight] = useState<Sight | null>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  const { name: theme } = useThemeChoice();
  const drag = useRef<{ x: number; y: number; moved: boolean } | null>(null);

  useEffect(() => {
    if (!canvas.current) return undefined;
    const observer = new ResizeObserver(([entry]) => entry && setSize({ width: entry.contentRect.width, height: entry.contentRect.height }));
    observer.observe(canvas.current);
    return () => observer.disconnect();
  }, []);
  const fit = useCallback((): Sight => {
    const scale = Math.min(1.25, (size.width - 20) / picture.layout.width, (size.height - 44) / picture.layout.height);
    return { scale, x: Math.max(0, (size.width - picture.layout.width * scale) / 2), y: Math.max(6, (size.height - 36 - picture.layout.height * scale) / 2) };
  }, [size, picture.layout]);
  const current = sight ?? fit();

  const bring = useCallback((id: string) => {
    const plate = picture.plates.find((candidate) => candidate.id === id);
    if (!plate || size.width === 0) return;
    setSight((before) => {
      const now = before ?? fit();
      const scale = Math.max(now.scale, 0.8);
      const x = plate.x * scale + now.x;
      const y = plate.y * scale + now.y;
      if (scale === now.scale && x > 0 && y > 0 && x < size.width - plateWidth * scale && y < size.height - 60) return before;
      // in the middle, but no further than the edge of the map
      const held = (middle: number, room: number, length: number) => (length <= room ? (room - length) / 2 : Math.min(10, Math.max(room - length - 10, middle)));
      return {
        scale,
        x: held(size.width / 2 - (plate.x + plateWidth / 2) * scale, size.width, picture.layout.width * scale),
        y: held(size.height / 2 - plate.y * scale, size.height - 36, picture.layout.height * scale),
      };
    });
  }, [picture.plates, picture.layout, size, fit]);
  const begun = useRef(false);
  useEffect(() => {
    // a map opened on a device begins there, large enough to read
    if (size.width === 0 || begun.current) return;
    begun.current = true;
    const id = /^device:(\d+)$/.exec(chosen ?? '')?.[1] ?? picture.links.find((link) => chosen === `link:${link.id}`)?.from.id;
    if (id) bring(id);
  }, [size.width, chosen, bring, picture.links]);
  useEffect(() => {
    const id = /^device:(\d+)$/.exec(chosen ?? '')?.[1];
    if (id && sight) bring(id);
    // when something else is chosen, not at every pan
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [chosen]);

  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext('2d');
    if (!element || !context || size.width === 0) return;
    const ratio = window.devicePixelRatio || 1;
    element.width = size.width * ratio;
    element.height = size.height * ratio;
    context.setTransform(ratio * current.scale, 0, 0, ratio * current.scale, ratio * current.x, ratio * current.y);
    const paint = () => drawCanvas(context, picture, paletteOf(element), chosen);
    paint();
    let dropped = false;
    void document.fonts.ready.then(() => {
      if (dropped) return;
      context.save();
      context.setTransform(1, 0, 0, 1, 0, 0);
      context.clearRect(0, 0, element.width, element.height);
      context.restore();
      paint();
    });
    return () => { dropped = true; };
  }, [picture, current.scale, current.x, current.y, size, chosen, theme]);

  const zoom = useCallback((factor: number, atX = size.width / 2, atY = size.height / 2) => {
    setSight((before) => {
      const now = before ?? fit();
      const scale = Math.max(0.15, Math.min(3, now.scale * factor));
      return { scale, x: atX - ((atX - now.x) / now.scale) * scale, y: atY - ((atY - now.y) / now.scale) * scale };
    });
  }, [fit, size]);
  useEffect(() => {
    const element = canvas.current;
    if (!element) return undefined;
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      zoom(Math.exp(-event.deltaY * 0.0015), event.offsetX, event.offsetY);
    };
    element.addEventListener('wheel', wheel, { passive: false });
    return () => element.removeEventListener('wheel', wheel);
  }, [zoom]);

  const hit = (offsetX: number, offsetY: number): string | null => {
    const x = (offsetX - current.x) / current.scale;
    const y = (offsetY - current.y) / current.scale;
    const plate = picture.plates.findLast((candidate) => x >= candidate.x && x <= candidate.x + plateWidth && y >= candidate.y && y <= candidate.y + plateHeight);
    if (plate) return `device:${plate.id}`;
    let best: { id: string; distance: number } | null = null;
    for (const link of picture.links) {
      const curve = curveOf(link);
      for (let step = 0; step <= 24; step++) {
        const point = pointOnCurve(curve, step / 24);
        const distance = Math.hypot(point.x - x, point.y - y);
        if (distance < 8 / Math.min(1, current.scale) && (!best || distance < best.distance)) best = { id: link.id, distance };
      }
    }
    return best ? `link:${best.id}` : null;
  };

  const walk = (key: string) => {
    const from = picture.plates.find(({ id }) => chosen === `device:${id}`) ?? picture.plates[0];
    if (!from) return;
    if (!chosen?.startsWith('device:')) return onChoose(`device:${from.id}`);
    const direction = { ArrowLeft: { x: -1, y: 0 }, ArrowRight: { x: 1, y: 0 }, ArrowUp: { x: 0, y: -1 }, ArrowDown: { x: 0, y: 1 } }[key];
    if (!direction) return;
    const linked = picture.links.flatMap((link) => (link.from.id === from.id ? [link.to] : link.to.id === from.id ? [link.from] : []));
    const ahead = linked
      .map((plate) => ({ plate, along: (plate.x - from.x) * direction.x + (plate.y - from.y) * direction.y, aside: Math.abs((plate.x - from.x) * direction.y) + Math.abs((plate.y - from.y) * direction.x) }))
      .filter(({ along }) => along > 0)
      .sort((a, b) => a.aside / a.along - b.aside / b.along || a.along - b.along)[0];
    if (ahead) {
      onChoose(`device:${ahead.plate.id}`);
      bring(ahead.plate.id);
    }
  };

  return (
    <>
      <canvas
        ref={canvas} role="application" aria-label={label} tabIndex={0}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          drag.current = { x: event.clientX, y: event.clientY, moved: false };
        }}
        onPointerMove={(event) => {
          const held = drag.current;
          if (!held) return;
          const [dx, dy] = [event.clientX - held.x, event.clientY - held.y];
          if (!held.moved && Math.hypot(dx, dy) < 4) return;
          drag.current = { x: event.clientX, y: event.clientY, moved: true };
          setSight((before) => {
            const now = before ?? fit();
            return { ...now, x: now.x + dx, y: now.y + dy };
          });
        }}
        onPointerUp={(event) => {
          const held = drag.current;
          drag.current = null;
          if (held && !held.moved) {
            const box = event.currentTarget.getBoundingClientRect();
            onChoose(hit(event.clientX - box.left, event.clientY - box.top));
          }
        }}
        onKeyDown={(event) => {
          if (event.key === '+' || event.key === '=') zoom(1.25);
          else if (event.key === '-') zoom(0.8);
          else if (event.key === '0') setSight(null);
          else if (event.key.startsWith('Arrow')) walk(event.key);
          else return;
          event.preventDefault();
        }}
      />
      <div className="zoomer">
        <button type="button" aria-label="Zoom in" onClick={() => zoom(1.25)}>+</button>
        <button type="button" aria-label="Zoom out" onClick={() => zoom(0.8)}>−</button>
        <button type="button" aria-label="0, show everything" title="Show everything (0)" onClick={() => setSight(null)}>0</button>
      </div>
    </>
  );
}
