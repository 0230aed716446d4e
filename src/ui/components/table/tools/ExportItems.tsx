'use client';

import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import type { ThingName } from '@/core/things/things';
import { thingPath, type ThingRequest } from '../../../lib/api';
import { PlainInput } from '../../PlainInput';
import { fetched } from '../../../lib/fetched';

const RequestDialog = fetched(() => import('./RequestDialog').then((module) => module.RequestDialog));

/** For people as the table shows it, for scripts by the names of the API. */
const formats = [
  { words: 'Spreadsheet (XLSX)', of: { format: 'xlsx', headings: 'shown' } },
  { words: 'CSV', of: { format: 'csv', headings: 'shown' } },
  { words: 'CSV for scripts', of: { format: 'csv' } },
  { words: 'JSON', of: { format: 'json' } },
  { words: 'YAML', of: { format: 'yaml' } },
] as const;

/** What of a table can be exported. */
export interface Exported {
  thing: ThingName;
  request: ThingRequest;
  columns: string[];
  group?: string[];
}

/** The formats in which exactly what the table shows is exported, and the request that returns it. */
export function ExportItems({
  thing,
  request,
  columns,
  group,
  anchor,
  onClose,
}: Exported & { anchor: HTMLElement; onClose: () => void }) {
  const [asking, setAsking] = useState(false);
  const [first, setFirst] = useState<number | null>(null);
  const shown = { ...request, columns, first };
  const ofRows = thingPath(thing, {
    survey: request.survey ?? null,
    where: request.where ?? '',
    sort: request.sort ?? '',
    first,
  }).slice(thing.length + 1);
  return (
    <>
      <Menu open={!asking} anchorEl={anchor} onClose={onClose}>
        <li className="menuline" onKeyDown={(event) => event.key !== 'Escape' && event.stopPropagation()}>
          <label>
            Only the first{' '}
            <PlainInput
              type="number"
              min={1}
              name="first"
              placeholder="all"
              value={first ?? ''}
              onChange={(event) =>
                setFirst(Number(event.target.value) > 0 ? Math.floor(Number(event.target.value)) : null)
              }
            />{' '}
            rows
          </label>
        </li>
        {formats.map(({ words, of }) => (
          <MenuItem
            key={words}
            dense
            component="a"
            href={`/api/v1/${thingPath(thing, { ...shown, ...(group && group.length > 0 && { group }), ...of })}`}
            download
            onClick={onClose}
          >
            {words}
          </MenuItem>
        ))}
        <MenuItem
          dense
          component="a"
          href={`/print/${thingPath(thing, { ...shown, ...(group && group.length > 0 && { group }) })}`}
          target="_blank"
          onClick={onClose}
        >
          Print…
        </MenuItem>
        {thing === 'devices' && (
          <MenuItem dense component="a" href={`/print/dossiers?${ofRows}`} target="_blank" onClick={onClose}>
            Dossiers on paper…
          </MenuItem>
        )}
        {(thing === 'devices' || thing === 'modules') && (
          <MenuItem
            dense
            component="a"
            href={`/print/labels?${ofRows}${thing === 'modules' ? '&of=modules' : ''}`}
            target="_blank"
            onClick={onClose}
          >
            Labels…
          </MenuItem>
        )}
        <MenuItem dense onClick={() => setAsking(true)}>
          Request for this table…
        </MenuItem>
      </Menu>
      {asking && <RequestDialog path={thingPath(thing, shown)} onClose={onClose} />}
    </>
  );
}
