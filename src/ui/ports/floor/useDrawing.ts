'use client';

import { useState } from 'react';
import type { PlanLayout, PlanMark, Point } from '@/core/floor/floorPlan';

interface Steps {
  past: PlanLayout[];
  now: PlanLayout;
  future: PlanLayout[];
}

const mostSteps = 200;

/** What one draws on a plan until it is saved: every step can be taken back. */
export function useDrawing(from: PlanLayout) {
  const [steps, setSteps] = useState<Steps>({ past: [], now: from, future: [] });
  const change = (make: (now: PlanLayout) => PlanLayout) =>
    setSteps(({ past, now }) => {
      const next = make(now);
      return next === now
        ? { past, now, future: [] }
        : { past: [...past, now].slice(-mostSteps), now: next, future: [] };
    });
  return {
    layout: steps.now,
    changed: steps.past.length > 0,
    mayUndo: steps.past.length > 0,
    mayRedo: steps.future.length > 0,
    takeUp: (layout: PlanLayout) => change(() => layout),
    undo: () =>
      setSteps(({ past, now, future }) =>
        past.length === 0
          ? { past, now, future }
          : { past: past.slice(0, -1), now: past.at(-1) ?? now, future: [now, ...future] },
      ),
    redo: () =>
      setSteps(({ past, now, future }) =>
        future.length === 0
          ? { past, now, future }
          : { past: [...past, now], now: future[0] ?? now, future: future.slice(1) },
      ),
    place: (kind: PlanMark['kind'], id: number, at: Point) =>
      change(({ rooms, marks }) => ({
        rooms,
        marks: [...marks.filter((mark) => mark.kind !== kind || mark.id !== id), { kind, id, at }],
      })),
    takeAway: (kind: PlanMark['kind'], id: number) =>
      change(({ rooms, marks }) => ({ rooms, marks: marks.filter((mark) => mark.kind !== kind || mark.id !== id) })),
    addRoom: (name: string, corners: Point[]) =>
      change(({ rooms, marks }) => ({ rooms: [...rooms, { name, corners }], marks })),
    nameRoom: (at: number, name: string) =>
      change(({ rooms, marks }) => ({
        rooms: rooms.map((room, nth) => (nth === at ? { ...room, name } : room)),
        marks,
      })),
    moveCorner: (at: number, corner: number, to: Point) =>
      change(({ rooms, marks }) => ({
        rooms: rooms.map((room, nth) =>
          nth === at ? { ...room, corners: room.corners.map((one, which) => (which === corner ? to : one)) } : room,
        ),
        marks,
      })),
    removeRoom: (at: number) => change(({ rooms, marks }) => ({ rooms: rooms.filter((_, nth) => nth !== at), marks })),
  };
}

export type Drawing = ReturnType<typeof useDrawing>;

/** What a press on the plan does while it is drawn on. */
export type Tool =
  | { kind: 'move' }
  | { kind: 'room' }
  | { kind: 'place'; mark: PlanMark['kind']; id: number; words: string };
