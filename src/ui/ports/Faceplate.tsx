'use client';

import { memo, useMemo, useRef, useState, type CSSProperties, type KeyboardEvent } from 'react';
import { faceplateRows, neighbourSocket, type FaceplatePlan } from '@/core/layout/faceplateRows';
import { formatAge, formatSpeed } from '@/core/values/quantity';
import type { ThingRow } from '../lib/api';
import { Glyph, portGlyph } from '../components/Glyph';
import { useAfterPainting } from '../lib/useAfterPainting';
import { usePreference } from '../lib/usePreference';
import { colouredBy, colourings, type Colouring } from './colourBy';
import { PlainSelect } from '../components/PlainSelect';

const stateOf = (port: ThingRow) => (port.admin === 'down' ? 'switched off' : String(port.oper));
const powering = (port: ThingRow) => (port.poe as { state: string } | null)?.state === 'delivering';

interface FaceplateProps {
  ports: ThingRow[];
  plan: FaceplatePlan | null;
  selected: string | null;
  onSelect: (port: ThingRow) => void;
  /** narrows the table to what a colour means */
  onNarrow: (where: string) => void;
  /** whether two surveys are compared, so that there are changes to colour by */
  compared: boolean;
}

/** Sockets as they are on the metal, coloured by what is asked for; a card tells of the one that is pointed at. */
export function Faceplate({ ports, plan, selected, onSelect, onNarrow, compared }: FaceplateProps) {
  const [kept, keep] = usePreference<Colouring>('faceplate', 'state');
  const by = kept === 'change' && !compared ? 'state' : kept;
  const rows = useMemo(() => faceplateRows(ports, plan), [ports, plan]);
  const { marks, groups } = useMemo(() => colouredBy(ports, by), [ports, by]);
  const byName = useMemo(() => new Map(ports.map((port) => [String(port.name), port])), [ports]);
  const [pointed, setPointed] = useState<{ port: ThingRow; left: number; top: number } | null>(null);
  const plate = useRef<HTMLDivElement>(null);
  const whole = useAfterPainting(rows.length > 0);
  if (ports.length === 0) return null;
  const first =
    selected !== null && ports.some(({ name }) => name === selected)
      ? selected
      : String(rows[0]?.blocks[0]?.ports[0]?.name ?? '');
  // beside the metal, where it hides no socket and stays while the pointer moves; below it where there is no room
  const point = (port: ThingRow, element: HTMLElement) => {
    const box = plate.current?.getBoundingClientRect();
    if (!box) return;
    const right =
      Math.max(
        ...[...(plate.current?.querySelectorAll('.unit') ?? [])].map(
          (unit) => unit.lastElementChild?.getBoundingClientRect().right ?? 0,
        ),
      ) + 16;
    const edge = plate.current?.closest('.work')?.getBoundingClientRect().right ?? window.innerWidth;
    const fits = right + cardWidth + 8 <= edge;
    const left = fits ? right : Math.max(8, Math.min(element.getBoundingClientRect().left, edge - cardWidth - 10));
    setPointed({ port, left, top: fits ? box.top : box.bottom + 4 });
  };
  /** One listener for all sockets: hundreds of them need none of their own. */
  const withSocket = (target: EventTarget, act: (port: ThingRow, element: HTMLElement) => void) => {
    const element = (target as Element).closest<HTMLElement>('[data-port]');
    const port = element && byName.get(element.dataset.port ?? '');
    if (element && port) act(port, element);
  };
  const onKeyDown = (event: KeyboardEvent<HTMLElement>) => {
    const name = (event.target as HTMLElement).dataset.port;
    const next = name === undefined ? null : neighbourSocket(rows, name, event.key);
    if (!next) return;
    event.preventDefault();
    event.stopPropagation();
    plate.current?.querySelector<HTMLElement>(`[data-port="${CSS.escape(String(next.name))}"]`)?.focus();
  };
  return (
    <div className="faceplate">
      <div
        ref={plate}
        className="metal"
        role="group"
        aria-label="Faceplate"
        onKeyDown={onKeyDown}
        onPointerLeave={() => setPointed(null)}
        onBlur={() => setPointed(null)}
        onClick={(event) => withSocket(event.target, (port) => onSelect(port))}
        onPointerOver={(event) => withSocket(event.target, point)}
        onFocus={(event) => withSocket(event.target, point)}
      >
        {(whole ? rows : rows.slice(0, linesInSight)).map(({ label, blocks }) => (
          <div key={label} className="unit">
            {label && (
              <span className="slot" title={`slot ${label}`}>
                {label}
              </span>
            )}
            {blocks.map(({ key, two, wide, ports: members }) => (
              <div
                key={key}
                className={`block ${two ? 'two' : ''}`}
                style={wide ? ({ '--socket': `${socketWidth(members)}px` } as CSSProperties) : undefined}
              >
                {members.map((port) => {
                  const name = String(port.name);
                  const mark = by === 'state' ? undefined : marks.get(port.id);
                  const group = mark && groups[mark.group];
                  return (
                    <Socket
                      key={port.id}
                      port={port}
                      tabbed={name === first}
                      chosen={selected === name}
                      byState={by === 'state'}
                      text={mark?.text ?? null}
                      colour={group?.colour ?? ''}
                      words={group?.words ?? ''}
                    />
                  );
                })}
              </div>
            ))}
          </div>
        ))}
      </div>
      <div className="colours">
        <label className="small quiet">
          coloured by{' '}
          <PlainSelect
            value={by}
            aria-label="Sockets are coloured by"
            onChange={(event) => keep(event.target.value as Colouring)}
          >
            {colourings
              .filter((one) => one !== 'change' || compared)
              .map((one) => (
                <option key={one}>{one}</option>
              ))}
          </PlainSelect>
        </label>
        {by !== 'state' && groups.length === 0 && <span className="small quiet">no port says anything of it</span>}
        {groups.slice(0, mostGroups).map(({ words, colour, count, where }) => (
          <button
            key={words}
            type="button"
            className="small"
            onClick={() => onNarrow(where)}
            title={`show these ${count}`}
          >
            <i style={{ background: colour }} />
            {words} <span className="quiet">{count}</span>
          </button>
        ))}
        {groups.length > mostGroups && <span className="small quiet">and {groups.length - mostGroups} more</span>}
      </div>
      {pointed && <PortCard {...pointed} />}
    </div>
  );
}

/** More lines than so many are not in sight before somebody scrolls. */
const linesInSight = 4;

interface SocketProps {
  port: ThingRow;
  tabbed: boolean;
  chosen: boolean;
  byState: boolean;
  text: string | null;
  colour: string;
  words: string;
}

/**
 * One socket: a single element, whose number and mark are written by its style (`.socket` in the tokens), so that hundreds of them cost little. It is drawn anew only
 * when something of it changes: a pointer that passes over the metal draws none.
 */
const Socket = memo(function Socket({ port, tabbed, chosen, byState, text, colour, words }: SocketProps) {
  const name = String(port.name);
  const look = byState
    ? `by-state ${portGlyph(port)}${port.kind === 'uplink' ? ' uplink' : ''}${powering(port) ? ' powering' : ''}`
    : text === null
      ? ''
      : 'marked';
  return (
    <button
      type="button"
      data-port={name}
      data-text={byState ? undefined : (text ?? undefined)}
      tabIndex={tabbed ? 0 : -1}
      aria-pressed={chosen}
      className={`socket ${look}`}
      style={colour ? ({ '--of': colour } as CSSProperties) : undefined}
      aria-label={`Port ${name}, ${stateOf(port)}${words && `, ${words}`}${port.pluggedIn ? `, ${String(port.pluggedIn)}` : ''}`}
    />
  );
});

/** Sockets of a block are alike: wide enough for the longest of their numbers. */
const socketWidth = (members: ThingRow[]) =>
  Math.max(34, 10 + 5 * Math.max(...members.map(({ name }) => String(name).length)));

const mostGroups = 9;
const cardWidth = 280;

/** What is at the port that is pointed at. */
function PortCard({ port, left, top }: { port: ThingRow; left: number; top: number }) {
  const tagged = (port.taggedVlans as number[] | undefined) ?? [];
  return (
    <div className="portcard small" role="tooltip" style={{ left, top }}>
      <div>
        <b>Port {String(port.name)}</b> {String(port.alias ?? '')}
      </div>
      <div className="state">
        <Glyph name={portGlyph(port)} />
        {stateOf(port)}
        {port.lastChangeSeconds !== null &&
          port.lastChangeSeconds !== undefined &&
          ` for ${formatAge(Number(port.lastChangeSeconds))}`}
        {port.oper === 'up' && port.speedBps
          ? `, ${formatSpeed(Number(port.speedBps))} ${port.duplex === 'unknown' ? '' : String(port.duplex)}`
          : ''}
      </div>
      <div>
        {port.vlan === null ? 'no untagged VLAN' : `VLAN ${String(port.vlan)}`}
        {tagged.length > 0 && (
          <span className="quiet">
            , {tagged.length > 6 ? `${tagged.length} tagged` : `${tagged.join(', ')} tagged`}
          </span>
        )}
      </div>
      {port.power ? <div>power {String(port.power)}</div> : null}
      {port.pluggedIn ? (
        <div>
          <b>{String(port.pluggedIn)}</b> <span className="quiet">{String(port.how ?? '')}</span>
        </div>
      ) : (
        <div className="quiet">{port.oper === 'up' ? 'nothing was heard' : 'nothing plugged in'}</div>
      )}
    </div>
  );
}
