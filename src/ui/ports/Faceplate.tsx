'use client';

import { useMemo } from 'react';
import type { ThingRow } from '../kit/api';
import { Glyph, portGlyph } from '../kit/Glyph';

interface Block {
  key: string;
  two: boolean;
  wide: boolean;
  ports: ThingRow[];
}

/** Ports where they are on the metal: numbered ones in groups, one or two rows; cards and cages as blocks of their own. */
export function Faceplate({ ports, plan, selected, onSelect }: { ports: ThingRow[]; plan: { rows: 1 | 2; groupOf?: number } | null; selected: string | null; onSelect: (port: ThingRow) => void }) {
  const blocks = useMemo(() => blocksOf(ports, plan), [ports, plan]);
  if (ports.length === 0) return null;
  return (
    <div className="faceplate" role="group" aria-label="Faceplate">
      {blocks.map(({ key, two, wide, ports: members }) => (
        <div key={key} className={`block ${two ? 'two' : ''}`}>
          {members.map((port) => {
            const name = String(port.name);
            const guest = String(port.pluggedIn);
            return (
              <button
                key={port.id} type="button" aria-pressed={selected === name} className={`socket ${wide ? 'wide' : ''} ${port.kind === 'uplink' ? 'uplink' : ''} ${powering(port) ? 'powering' : ''}`}
                title={`Port ${name}${port.alias ? ` ${String(port.alias)}` : ''}: ${port.admin === 'down' ? 'switched off' : String(port.oper)}${guest ? `, ${guest}` : ''}${powering(port) ? ', gives power' : ''}`}
                aria-label={`Port ${name}, ${port.admin === 'down' ? 'switched off' : String(port.oper)}${guest ? `, ${guest}` : ''}`}
                onClick={() => onSelect(port)}
              >
                <span>{name}</span>
                <Glyph name={portGlyph(port)} size={10} />
              </button>
            );
          })}
        </div>
      ))}
    </div>
  );
}

const powering = (port: ThingRow) => (port.poe as { state: string } | null)?.state === 'delivering';

function blocksOf(ports: ThingRow[], plan: { rows: 1 | 2; groupOf?: number } | null): Block[] {
  const families = new Map<string, ThingRow[]>();
  for (const port of ports) {
    // what stands before the last number tells a card or a cage row apart: `6/` of 6/11, `U` of U1
    const family = String(port.name).replace(/\d+$/, '');
    families.set(family, [...(families.get(family) ?? []), port]);
  }
  return [...families].flatMap(([family, members]) => {
    const two = (plan?.rows ?? (members.length > 12 ? 2 : 1)) === 2 && members.length > 8;
    const size = plan?.groupOf ?? 12;
    const groups: Block[] = [];
    for (let at = 0; at < members.length; at += size) groups.push({ key: `${family} ${at}`, two, wide: family.length > 1, ports: members.slice(at, at + size) });
    return groups;
  });
}
