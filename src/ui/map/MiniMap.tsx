'use client';

import { touches, type Window } from './distance';
import type { Picture } from './picture';

const [width, height] = [150, 92];

/** The whole map, small, with what is on the screen; a press moves there. It is gone while the screen shows everything. */
export function MiniMap({ picture, window, onMove }: { picture: Picture; window: Window; onMove: (x: number, y: number) => void }) {
  const { box } = picture.layout;
  const scale = Math.min(width / Math.max(1, box.width), height / Math.max(1, box.height));
  const sees = window.left <= box.x && window.top <= box.y && window.right >= box.x + box.width && window.bottom >= box.y + box.height;
  if (sees || box.width === 0) return null;
  const [left, top] = [(width - box.width * scale) / 2, (height - box.height * scale) / 2];
  const at = (x: number, y: number) => ({ x: left + (x - box.x) * scale, y: top + (y - box.y) * scale });
  const sight = at(window.left, window.top);
  return (
    <svg
      className="minimap" width={width} height={height} aria-hidden="true"
      onPointerDown={(event) => {
        const corner = event.currentTarget.getBoundingClientRect();
        onMove(box.x + (event.clientX - corner.left - left) / scale, box.y + (event.clientY - corner.top - top) / scale);
      }}
    >
      {picture.sites.map(({ bay, worst, pale }) => {
        const { x, y } = at(bay.x, bay.y);
        return <rect key={bay.site} x={x} y={y} width={Math.max(2, bay.width * scale - 1)} height={Math.max(2, bay.height * scale - 1)} rx={1} fill={worst === 'fault' ? 'var(--bad)' : worst === 'silent' ? 'var(--caution)' : 'var(--ink-3)'} opacity={pale ? 0.2 : touches(window, bay.x, bay.y, bay.width, bay.height) ? 0.8 : 0.45} />;
      })}
      <rect x={Math.max(0.5, sight.x)} y={Math.max(0.5, sight.y)} width={Math.max(3, Math.min(width - 1 - Math.max(0, sight.x), (window.right - window.left) * scale))} height={Math.max(3, Math.min(height - 1 - Math.max(0, sight.y), (window.bottom - window.top) * scale))} fill="none" stroke="var(--ember)" strokeWidth={1.5} />
    </svg>
  );
}
