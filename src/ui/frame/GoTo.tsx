'use client';

import Dialog from '@mui/material/Dialog';
import { useQuery } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { call, thingPath, type ThingPage } from '../kit/api';
import { useView } from './useView';
import { workspaces } from './workspaces';

interface Destination {
  words: string;
  more: string;
  href: string;
}

/** Any name, address, MAC, serial or workspace, from the keyboard. */
export function GoTo({ open, onClose }: { open: boolean; onClose: () => void }) {
  const [text, setText] = useState('');
  const [at, setAt] = useState(0);
  const router = useRouter();
  const view = useView();
  const where = text.trim() ? `"${text.trim().replaceAll('"', '')}"` : '';
  const { data: found = [] } = useQuery({
    queryKey: ['goto', where, view.survey],
    enabled: open && where !== '',
    queryFn: async ({ signal }) => {
      const [devices, endpoints, serials] = await Promise.all(
        (['devices', 'endpoints', 'ledger'] as const).map((thing) => call<ThingPage>(thingPath(thing, { survey: view.survey, where, size: 6 }), { signal })),
      );
      return [
        ...(devices?.rows ?? []).map((row) => ({ words: String(row.name), more: `${String(row.role)}, ${String(row.model)}, ${String(row.address)}`, href: view.href('/estate', { sel: `device:${row.id}` }) })),
        ...(endpoints?.rows ?? []).map((row) => ({ words: String(row.host || (row.addresses as string[])[0] || row.mac), more: row.device ? `on ${String(row.device)} port ${String(row.port)}` : 'place not known', href: row.deviceId ? view.href('/ports', { device: String(row.deviceId), sel: `port:${String(row.deviceId)}:${String(row.port)}` }) : view.href('/estate', { of: 'endpoints', where: String(row.mac), sel: null }) })),
        ...(serials?.rows ?? []).map((row) => ({ words: row.id, more: `serial, ${String(row.what)} in ${String(row.device)}`, href: view.href('/ledger', { where: row.id, sel: `serial:${row.id}` }) })),
      ];
    },
  });
  const places: Destination[] = [
    ...(where ? found : []),
    ...workspaces.filter(({ name }) => name.toLowerCase().startsWith(text.trim().toLowerCase())).map(({ name, path }) => ({ words: name, more: 'workspace', href: view.href(path) })),
  ];
  const go = (place: Destination | undefined) => {
    if (!place) return;
    onClose();
    setText('');
    router.push(place.href);
  };
  return (
    <Dialog open={open} onClose={onClose} maxWidth="sm" aria-label="Go to">
      <div style={{ padding: 14 }}>
        <div className="filter" style={{ maxWidth: 'none' }}>
          <input
            autoFocus type="text" role="combobox" aria-expanded={places.length > 0} aria-controls="goto-list" aria-label="Go to a name, address, MAC, serial or workspace" placeholder="a name, address, MAC, serial or workspace" value={text} spellCheck={false}
            onChange={(event) => { setText(event.target.value); setAt(0); }}
            onKeyDown={(event) => {
              if (event.key === 'ArrowDown') setAt(Math.min(places.length - 1, at + 1));
              else if (event.key === 'ArrowUp') setAt(Math.max(0, at - 1));
              else if (event.key === 'Enter') go(places[at]);
              else return;
              event.preventDefault();
            }}
          />
        </div>
        <ul id="goto-list" role="listbox" aria-label="Destinations" style={{ marginTop: 8 }}>
          {places.map((place, index) => (
            <li key={`${place.href} ${place.words}`} role="option" aria-selected={index === at} onClick={() => go(place)} style={{ padding: '5px 8px', cursor: 'pointer', background: index === at ? 'var(--chosen)' : undefined }}>
              <b style={{ fontWeight: 550 }}>{place.words}</b> <span className="quiet">{place.more}</span>
            </li>
          ))}
        </ul>
        {places.length === 0 && <p className="quiet" style={{ padding: 8 }}>Nothing here has “{text}” in its name, addresses or serial.</p>}
      </div>
    </Dialog>
  );
}
