'use client';

import { format } from 'date-fns';
import { useId, useRef, useState, type PointerEvent } from 'react';
import { bracket, headRoom, waveAt, wavePlaces, type Bar, type Wave, type Window } from './wavePlaces';

const moveFrom = 4;
const mostBrackets = 8;

/** Windows as bays on the axis of time, devices as hatched bars while they are away. A bar may be drawn into another wave: what that would take down is said at once. */
export function WaveChart({
  windows,
  waves,
  room,
  chosen,
  onChoose,
  onOver,
  onMove,
}: {
  windows: readonly Window[];
  waves: readonly Wave[];
  room: number;
  chosen: number | null;
  onChoose: (deviceId: number) => void;
  /** while a bar is over another wave; null where it is over none */
  onOver: (deviceId: number, wave: number | null) => void;
  onMove: (deviceId: number, wave: number) => void;
}) {
  const id = useId();
  const box = useRef<SVGSVGElement>(null);
  const places = wavePlaces(windows, waves, room);
  const barOf = new Map(places.bars.map((bar) => [bar.device.deviceId, bar]));
  const all = places.bars.flatMap((bar) =>
    bar.device.apart.flatMap((other): [Bar, Bar][] => {
      const found = barOf.get(other);
      return found ? [[bar, found]] : [];
    }),
  );
  // of many pairs only those of the chosen one are told apart
  const brackets =
    all.length <= mostBrackets ? all : all.filter((pair) => pair.some(({ device }) => device.deviceId === chosen));
  const [drag, setDrag] = useState<{ bar: Bar; by: number; over: number | null } | null>(null);
  const placeOf = (event: PointerEvent) => event.clientX - (box.current?.getBoundingClientRect().left ?? 0);
  const begin = (bar: Bar, event: PointerEvent<SVGGElement>) => {
    const from = placeOf(event);
    event.currentTarget.setPointerCapture(event.pointerId);
    setDrag({ bar, by: 0, over: null });
    const element = event.currentTarget;
    let over: number | null = null;
    const move = (moving: globalThis.PointerEvent) => {
      const x = moving.clientX - (box.current?.getBoundingClientRect().left ?? 0);
      const by = x - from;
      const now = Math.abs(by) < moveFrom ? null : waveAt(places, x);
      const target = now === bar.wave ? null : now;
      setDrag({ bar, by, over: target });
      if (target === over) return;
      over = target;
      onOver(bar.device.deviceId, target);
    };
    const end = () => {
      element.removeEventListener('pointermove', move);
      element.removeEventListener('pointerup', end);
      element.removeEventListener('pointercancel', end);
      setDrag(null);
      if (over === null) onChoose(bar.device.deviceId);
      else onMove(bar.device.deviceId, over);
    };
    element.addEventListener('pointermove', move);
    element.addEventListener('pointerup', end);
    element.addEventListener('pointercancel', end);
  };
  return (
    <svg
      ref={box}
      className="wavechart"
      width={places.width}
      height={places.height}
      role="group"
      aria-label="Waves in their windows"
    >
      <defs>
        <pattern id={`away${id}`} width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="5" height="5" fill="var(--panel)" />
          <line x1="0" y1="0" x2="0" y2="5" stroke="var(--lagoon)" strokeWidth="2.2" />
        </pattern>
      </defs>
      {places.bays.map(({ window, until, x, width, ticks, waves: own }) => (
        <g key={window.start} aria-hidden>
          <rect x={x} y={headRoom - 4} width={width} height={places.height - headRoom - 12} fill="var(--sunken)" />
          <text x={x} y={12} fontSize={11} fill="var(--ink-2)">
            {format(new Date(window.start), 'EEE d MMM')}
            {until < Date.parse(window.end) &&
              `, free from ${format(new Date(own.at(-1) ? (waves[own.at(-1)?.wave ?? 0]?.end ?? 0) : 0), 'HH:mm')} to ${format(new Date(window.end), 'HH:mm')}`}
          </text>
          {own.map(({ wave, x: left, width: wide }) => (
            <rect
              key={wave}
              x={left}
              y={headRoom - 4}
              width={wide}
              height={places.height - headRoom - 12}
              fill={drag?.over === wave ? 'var(--chosen)' : 'none'}
              stroke="var(--line)"
            />
          ))}
          {ticks.map(({ at, x: place }) => (
            <text
              key={at}
              x={place}
              y={places.height - 3}
              fontSize={10}
              fill="var(--ink-3)"
              textAnchor={place === x ? 'start' : place > x + width - 16 ? 'end' : 'middle'}
            >
              {format(new Date(at), 'HH:mm')}
            </text>
          ))}
        </g>
      ))}
      {places.bars.map((bar) => {
        const { device, x, y, width, height, hasName } = bar;
        const by = drag?.bar.device.deviceId === device.deviceId ? drag.by : 0;
        return (
          <g
            key={device.deviceId}
            className="wavebar"
            role="button"
            tabIndex={0}
            aria-label={`${device.device}, wave ${bar.wave + 1}, from ${format(new Date(waves[bar.wave]?.start ?? 0), 'HH:mm')}`}
            aria-pressed={chosen === device.deviceId}
            transform={`translate(${by},0)`}
            onPointerDown={(event) => begin(bar, event)}
            onKeyDown={({ key }) => {
              if (key === 'Enter' || key === ' ') onChoose(device.deviceId);
            }}
          >
            <rect
              x={x}
              y={y}
              width={width}
              height={height}
              rx={2}
              fill={hasName ? 'var(--panel)' : `url(#away${id})`}
              stroke={chosen === device.deviceId ? 'var(--ember)' : 'var(--lagoon)'}
              strokeWidth={chosen === device.deviceId ? 2 : 1}
            />
            {hasName && <rect x={x} y={y} width={5} height={height} fill={`url(#away${id})`} />}
          </g>
        );
      })}
      <g aria-hidden className="wavenames" fill="none">
        {brackets.map(([one, other]) => (
          <path
            key={`${one.device.deviceId} ${other.device.deviceId}`}
            d={bracket(one, other)}
            stroke="var(--caution)"
            strokeDasharray={chosen === one.device.deviceId || chosen === other.device.deviceId ? undefined : '3 3'}
          />
        ))}
      </g>
      <g aria-hidden className="wavenames">
        {places.bars
          .filter(({ hasName }) => hasName)
          .map(({ device, x, y, height }) => (
            <text
              key={device.deviceId}
              x={x + 9 + (drag?.bar.device.deviceId === device.deviceId ? drag.by : 0)}
              y={y + height - 5}
              fontSize={11}
              fill="var(--ink)"
            >
              {device.device}
            </text>
          ))}
      </g>
    </svg>
  );
}
