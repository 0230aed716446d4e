'use client';

import { memo, useMemo } from 'react';
import type { Window } from './distance';
import { boxOf, type Picture } from './picture';

const [width, height] = [150, 92];

/** The whole map, small, with what is on the screen; a press moves there. It is gone while the screen shows everything. */
export function MiniMap({
  picture,
  window,
  onMove,
}: {
  picture: Picture;
  window: Window;
  onMove: (x: number, y: number) => void;
}) {
  const box = useMemo(() => boxOf(picture), [picture]);
  const scale = Math.min(width / Math.max(1, box.width), height / Math.max(1, box.height));
  const sees =
    window.left <= box.x &&
    window.top <= box.y &&
    window.right >= box.x + box.width &&
    window.bottom >= box.y + box.height;
  if (sees || box.width === 0) return null;
  const [left, top] = [(width - box.width * scale) / 2, (height - box.height * scale) / 2];
  const sight = { x: left + (window.left - box.x) * scale, y: top + (window.top - box.y) * scale };
  return (
    <svg
      className="minimap"
      width={width}
      height={height}
      aria-hidden="true"
      onPointerDown={(event) => {
        const corner = event.currentTarget.getBoundingClientRect();
        onMove(
          box.x + (event.clientX - corner.left - left) / scale,
          box.y + (event.clientY - corner.top - top) / scale,
        );
      }}
    >
      <Bays picture={picture} />
      <rect
        x={Math.max(0.5, sight.x)}
        y={Math.max(0.5, sight.y)}
        width={Math.max(3, Math.min(width - 1 - Math.max(0, sight.x), (window.right - window.left) * scale))}
        height={Math.max(3, Math.min(height - 1 - Math.max(0, sight.y), (window.bottom - window.top) * scale))}
        fill="none"
        stroke="var(--ember)"
        strokeWidth={1.5}
      />
    </svg>
  );
}

/** The sites: they stay while one moves over them. */
const Bays = memo(function Bays({ picture }: { picture: Picture }) {
  const box = boxOf(picture);
  const scale = Math.min(width / Math.max(1, box.width), height / Math.max(1, box.height));
  const [left, top] = [(width - box.width * scale) / 2, (height - box.height * scale) / 2];
  return picture.sites.map(({ bay, worst, pale }) => (
    <rect
      key={bay.site}
      x={left + (bay.x - box.x) * scale}
      y={top + (bay.y - box.y) * scale}
      width={Math.max(2, bay.width * scale - 1)}
      height={Math.max(2, bay.height * scale - 1)}
      rx={1}
      fill={worst === 'fault' ? 'var(--bad)' : worst === 'silent' ? 'var(--caution)' : 'var(--ink-3)'}
      opacity={pale ? 0.2 : 0.6}
    />
  ));
});
