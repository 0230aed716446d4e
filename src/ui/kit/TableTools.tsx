'use client';

import Checkbox from '@mui/material/Checkbox';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import FormControlLabel from '@mui/material/FormControlLabel';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import { things, type ThingField, type ThingName } from '@/core/things/fields';
import { thingPath, type ThingRequest } from './api';
import { usePreference } from './usePreference';

/** The columns a person has chosen for a thing, and how to choose others. */
export function useColumns(thing: ThingName): { columns: ThingField[]; chosen: string[]; choose: (names: string[]) => void } {
  const { fields } = things[thing];
  const [chosen, choose] = usePreference<string[]>(`columns.${thing}`, fields.filter(({ shown }) => shown).map(({ name }) => name));
  const columns = chosen.flatMap((name) => fields.find((field) => field.name === name) ?? []);
  return { columns: columns.length > 0 ? columns : fields.filter(({ shown }) => shown), chosen, choose };
}

export function ColumnChooser({ thing, chosen, choose }: { thing: ThingName; chosen: string[]; choose: (names: string[]) => void }) {
  const [open, setOpen] = useState(false);
  const { fields } = things[thing];
  const topics = [...new Set(fields.map(({ topic }) => topic))];
  const toggle = (name: string) => {
    const next = chosen.includes(name) ? chosen.filter((other) => other !== name) : fields.map((field) => field.name).filter((other) => other === name || chosen.includes(other));
    if (next.length > 0) choose(next);
  };
  return (
    <>
      <button type="button" className="textlink" onClick={() => setOpen(true)}>Columns</button>
      <Dialog open={open} onClose={() => setOpen(false)} maxWidth="sm" aria-labelledby="columns-title">
        <DialogTitle id="columns-title">Columns of {things[thing].title.toLowerCase()}</DialogTitle>
        <DialogContent>
          <p className="quiet">Your choice stays, also after you sign out.</p>
          {topics.map((topic) => (
            <div key={topic} className="section" role="group" aria-label={topic}>
              <h3>{topic}</h3>
              {fields.filter((field) => field.topic === topic).map((field) => (
                <FormControlLabel key={field.name} sx={{ width: '31%' }} control={<Checkbox size="small" checked={chosen.includes(field.name)} onChange={() => toggle(field.name)} />} label={field.label} />
              ))}
            </div>
          ))}
        </DialogContent>
        <DialogActions>
          <Button color="secondary" onClick={() => choose(fields.filter(({ shown }) => shown).map(({ name }) => name))}>As at first</Button>
          <Button variant="contained" onClick={() => setOpen(false)}>Done</Button>
        </DialogActions>
      </Dialog>
    </>
  );
}

const formats = [['csv', 'CSV'], ['xlsx', 'Spreadsheet (XLSX)'], ['json', 'JSON']] as const;

/** Exports exactly what the table shows, and tells the request that returns it. */
export function ExportMenu({ thing, request, columns }: { thing: ThingName; request: ThingRequest; columns: string[] }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [asking, setAsking] = useState(false);
  const shown = { ...request, columns };
  const apiRequest = (address: string) => `curl -H "Authorization: Bearer $BOLIDE_TOKEN" "${address}/api/v1/${thingPath(thing, shown)}"`;
  return (
    <>
      <button type="button" className="textlink" aria-haspopup="menu" onClick={(event) => setAnchor(event.currentTarget)}>Export</button>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        {formats.map(([format, words]) => (
          <MenuItem key={format} dense component="a" href={`/api/v1/${thingPath(thing, { ...shown, format })}`} download onClick={() => setAnchor(null)}>{words}</MenuItem>
        ))}
        <MenuItem dense onClick={() => { setAnchor(null); setAsking(true); }}>Request for this table…</MenuItem>
      </Menu>
      <Dialog open={asking} onClose={() => setAsking(false)} maxWidth="md" aria-labelledby="request-title">
        <DialogTitle id="request-title">The request that returns this table</DialogTitle>
        <DialogContent>
          <p className="quiet">A token is made with <span className="mono">bolide token add NAME --data DIR</span>. All calls are described at <a href="/api">/api</a>.</p>
          <pre className="mono" style={{ whiteSpace: 'pre-wrap', overflowWrap: 'anywhere', background: 'var(--sunken)', padding: 12 }}>{asking && apiRequest(window.location.origin)}</pre>
        </DialogContent>
        <DialogActions>
          <Button color="secondary" onClick={() => void navigator.clipboard?.writeText(apiRequest(window.location.origin))}>Copy</Button>
          <Button variant="contained" onClick={() => setAsking(false)}>Done</Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
