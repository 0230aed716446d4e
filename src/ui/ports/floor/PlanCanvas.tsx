'use client';

import { select, zoom, zoomIdentity, type ZoomBehavior, type ZoomTransform } from 'd3';
import { useCallback, useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import type { Point, Room } from '@/core/floor/floorPlan';
import { Glyph } from '../../components/Glyph';
import { roomNameAt, type Box } from './roomNames';
import { markTowards, type ShownMark } from './planMarks';
import type { Drawing, Tool } from './useDrawing';

interface Drawn {
  drawing: Drawing;
  tool: Tool;
  room: number | null;
  onRoom: (at: number | null) => void;
  onPlaced: () => void;
  onNewRoom: (corners: Point[]) => void;
}

const margin = 14;
const deepest = 14;
/** From this many times the whole plan on, outlets say what they are called. */
const labelled = 1.7;
const nudge = 0.004;
const closeEnough = 9;

/** The picture of a floor with its rooms and what stands there: drag pans, the wheel zooms, a press selects, arrows go from mark to mark. */
export function PlanCanvas({
  source,
  width,
  height,
  rooms,
  marks,
  chosen,
  onChoose,
  drawn,
  label,
}: {
  source: string;
  width: number;
  height: number;
  rooms: readonly Room[];
  marks: readonly ShownMark[];
  chosen: string | null;
  onChoose: (mark: ShownMark | null) => void;
  drawn: Drawn | null;
  label: string;
}) {
  const box = useRef<SVGSVGElement>(null);
  const behaviour = useRef<ZoomBehavior<SVGSVGElement, unknown> | null>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  const [sight, setSight] = useState<ZoomTransform | null>(null);
  const [dragged, setDragged] = useState<{ key: string; to: Point } | null>(null);
  const [corners, setCorners] = useState<Point[]>([]);
  const whole = Math.max(0.001, Math.min((size.width - 2 * margin) / width, (size.height - 2 * margin) / height));
  const fit = useCallback(
    () => zoomIdentity.translate((size.width - width * whole) / 2, (size.height - height * whole) / 2).scale(whole),
    [size, width, height, whole],
  );
  useEffect(() => {
    if (!box.current) return undefined;
    const observer = new ResizeObserver(
      ([entry]) => entry && setSize({ width: entry.contentRect.width, height: entry.contentRect.height }),
    );
    observer.observe(box.current);
    return () => observer.disconnect();
  }, []);
  useEffect(() => {
    if (!box.current || size.width === 0) return;
    const made = zoom<SVGSVGElement, unknown>()
      .scaleExtent([whole * 0.7, whole * deepest])
      .filter((event: Event) => !(event.target as Element).closest('[data-held]') && (event as MouseEvent).button !== 2)
      .clickDistance(4)
      .on('zoom', (event: { transform: ZoomTransform }) => setSight(event.transform));
    behaviour.current = made;
    select(box.current).call(made).on('dblclick.zoom', null).call(made.transform, fit());
  }, [fit, size.width, whole]);
  const now = sight ?? fit();
  const onScreen = ([x, y]: Point): [number, number] => now.apply([x * width, y * height]);
  const onPlan = ({ clientX, clientY }: Pick<MouseEvent, 'clientX' | 'clientY'>): Point => {
    const edge = box.current?.getBoundingClientRect();
    const [x, y] = now.invert([clientX - (edge?.left ?? 0), clientY - (edge?.top ?? 0)]);
    const within = (part: number) => Math.round(Math.max(0, Math.min(1, part)) * 10_000) / 10_000;
    return [within(x / width), within(y / height)];
  };
  const zoomBy = (factor: number) =>
    box.current && behaviour.current && select(box.current).call(behaviour.current.scaleBy, factor);
  const showAll = () =>
    box.current && behaviour.current && select(box.current).call(behaviour.current.transform, fit());
  const tool = drawn?.tool.kind ?? null;
  // what was begun with another tool is not gone on with
  const begun = tool === 'room' ? corners : [];

  const pressPlan = (event: React.MouseEvent) => {
    if (!drawn) return onChoose(null);
    const at = onPlan(event);
    const { tool: used, drawing } = drawn;
    if (used.kind === 'place') {
      drawing.place(used.mark, used.id, at);
      return drawn.onPlaced();
    }
    if (used.kind !== 'room') {
      drawn.onRoom(null);
      return onChoose(null);
    }
    const [first] = begun;
    const [x, y] = first ? onScreen(first) : [0, 0];
    const [px, py] = onScreen(at);
    if (first && begun.length >= 3 && Math.hypot(x - px, y - py) < closeEnough) return closeRoom();
    setCorners([...begun, at]);
    return undefined;
  };
  const closeRoom = () => {
    if (!drawn || begun.length < 3) return;
    drawn.onNewRoom(begun);
    setCorners([]);
  };
  const hold = (key: string, commit: (to: Point) => void) => (event: PointerEvent<SVGElement>) => {
    if (!drawn || drawn.tool.kind !== 'move' || event.button !== 0) return;
    const target = event.currentTarget;
    target.setPointerCapture(event.pointerId);
    const from = [event.clientX, event.clientY];
    let to: Point | null = null;
    const move = (moved: globalThis.PointerEvent) => {
      if (!to && Math.hypot(moved.clientX - (from[0] ?? 0), moved.clientY - (from[1] ?? 0)) < 3) return;
      to = onPlan(moved);
      setDragged({ key, to });
    };
    const up = () => {
      target.removeEventListener('pointermove', move as EventListener);
      target.removeEventListener('pointerup', up);
      target.removeEventListener('pointercancel', up);
      setDragged(null);
      if (to) commit(to);
    };
    target.addEventListener('pointermove', move as EventListener);
    target.addEventListener('pointerup', up);
    target.addEventListener('pointercancel', up);
  };
  const keys = (event: KeyboardEvent) => {
    if (event.key === '+' || event.key === '=') zoomBy(1.4);
    else if (event.key === '-') zoomBy(1 / 1.4);
    else if (event.key === '0') showAll();
    else if (event.key === 'Enter' && begun.length >= 3) closeRoom();
    else if (event.key === 'Escape' && begun.length > 0) setCorners([]);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const markKeys = (event: KeyboardEvent, mark: ShownMark) => {
    if (event.key === 'Enter' || event.key === ' ') onChoose(mark);
    else if (event.key.startsWith('Arrow') && drawn && tool === 'move' && mark.key === chosen) {
      const [dx, dy] =
        event.key === 'ArrowLeft'
          ? [-nudge, 0]
          : event.key === 'ArrowRight'
            ? [nudge, 0]
            : event.key === 'ArrowUp'
              ? [0, -nudge]
              : [0, nudge];
      const within = (part: number) => Math.round(Math.max(0, Math.min(1, part)) * 10_000) / 10_000;
      drawn.drawing.place(mark.kind, mark.id, [within(mark.at[0] + dx), within(mark.at[1] + dy)]);
    } else if (event.key.startsWith('Arrow')) {
      const next = markTowards(mark, marks, event.key, width / height);
      if (!next) return;
      onChoose(next);
      box.current?.querySelector<SVGElement>(`[data-mark="${next.key}"]`)?.focus();
    } else if ((event.key === 'Delete' || event.key === 'Backspace') && drawn)
      drawn.drawing.takeAway(mark.kind, mark.id);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const focusable = marks.find(({ key, sel }) => key === chosen || sel === chosen)?.key ?? marks[0]?.key;
  const close = now.k / whole > labelled;
  const widthOf = (words: string) => Math.round(words.length * 6.3) + 26;
  const taken = marks.map(({ at, kind, words }): Box => {
    const [x, y] = onScreen(at);
    return {
      left: x - 10,
      right: x + (kind === 'device' || close ? widthOf(words) - 10 : 10),
      top: y - 10,
      bottom: y + 10,
    };
  });
  return (
    <div className="plancanvas">
      <svg
        ref={box}
        role="application"
        aria-label={label}
        tabIndex={-1}
        className={tool === 'room' || tool === 'place' ? 'drawing' : undefined}
        onClick={pressPlan}
        onKeyDown={keys}
        onDoubleClick={() => tool === 'room' && closeRoom()}
      >
        <g transform={now.toString()}>
          <image href={source} width={width} height={height} className="floorpicture" />
        </g>
        {rooms.map((room, at) => {
          const moved = room.corners.map((corner, which) =>
            dragged?.key === `corner ${at} ${which}` ? dragged.to : corner,
          );
          const chosenRoom = drawn?.room === at;
          const [x, y] = roomNameAt(room.name, moved.map(onScreen), taken);
          return (
            <g key={`${at} ${room.name}`}>
              <polygon
                className={chosenRoom ? 'room chosen' : 'room'}
                points={moved.map((corner) => onScreen(corner).join()).join(' ')}
                onClick={(event) => {
                  if (!drawn || tool !== 'move') return;
                  event.stopPropagation();
                  drawn.onRoom(at);
                }}
              />
              <text className="roomname" x={x} y={y + 4} textAnchor="middle">
                {room.name}
              </text>
              {chosenRoom &&
                tool === 'move' &&
                moved.map((corner, which) => {
                  const [cx, cy] = onScreen(corner);
                  return (
                    <circle
                      key={which}
                      data-held
                      className="corner"
                      cx={cx}
                      cy={cy}
                      r={6}
                      onClick={(event) => event.stopPropagation()}
                      onPointerDown={hold(`corner ${at} ${which}`, (to) => drawn.drawing.moveCorner(at, which, to))}
                    />
                  );
                })}
            </g>
          );
        })}
        {begun.length > 0 && (
          <g>
            <polyline className="newroom" points={begun.map((corner) => onScreen(corner).join()).join(' ')} />
            {begun.map((corner, which) => (
              <circle
                key={which}
                className="corner"
                cx={onScreen(corner)[0]}
                cy={onScreen(corner)[1]}
                r={which === 0 ? 6 : 4}
              />
            ))}
          </g>
        )}
        {marks.map((mark) => {
          const [x, y] = onScreen(dragged?.key === mark.key ? dragged.to : mark.at);
          const isChosen = mark.key === chosen || mark.sel === chosen;
          const named = mark.kind === 'device' || close || isChosen;
          const wide = widthOf(mark.words);
          return (
            <g
              key={mark.key}
              data-held={drawn ? true : undefined}
              data-mark={mark.key}
              role="button"
              tabIndex={mark.key === focusable ? 0 : -1}
              aria-pressed={isChosen}
              aria-label={`${mark.words}: ${mark.more}`}
              className={`mark ${mark.kind}${isChosen ? ' chosen' : ''}`}
              transform={`translate(${Math.round(x)} ${Math.round(y)})`}
              onClick={(event) => {
                if (tool === 'place' || tool === 'room') return;
                event.stopPropagation();
                onChoose(mark);
              }}
              onKeyDown={(event) => markKeys(event, mark)}
              onPointerDown={hold(mark.key, (to) => drawn?.drawing.place(mark.kind, mark.id, to))}
            >
              <title>{`${mark.words}: ${mark.more}`}</title>
              {mark.kind === 'device' ? (
                <rect x={-10} y={-10} width={wide} height={20} rx={10} />
              ) : (
                <rect x={-9} y={-9} width={named ? wide : 18} height={18} rx={2} />
              )}
              <g transform="translate(-5.5 -5.5)">
                <Glyph name={mark.glyph} />
              </g>
              {named && (
                <text x={10} y={4}>
                  {mark.words}
                </text>
              )}
            </g>
          );
        })}
      </svg>
      <div className="planzoom">
        <button type="button" aria-label="Nearer" onClick={() => zoomBy(1.4)}>
          +
        </button>
        <button type="button" aria-label="Further" onClick={() => zoomBy(1 / 1.4)}>
          −
        </button>
        <button type="button" onClick={showAll}>
          whole plan
        </button>
      </div>
    </div>
  );
}
