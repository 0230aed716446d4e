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
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { things, type ThingName } from '@/core/things/things';
import { ActIcon } from '../ActIcon';
import { useFieldsOf } from '../../lib/ownFields';
import { thingPath, type ThingRequest } from '../../lib/api';
import type { TableLayout } from './layout';
import { Choices } from '../Choices';
import { TextButton } from '../TextButton';
import { PlainInput } from '../PlainInput';

/** Which columns a table has, grouped by topic, and how close its rows stand. */
export function ColumnChooser({
  thing,
  layout: { chosen, toggle, reset, density, setDensity },
}: {
  thing: ThingName;
  layout: TableLayout;
}) {
  const [open, setOpen] = useState(false);
  const fields = useFieldsOf()(thing);
  const topics = [...new Set(fields.map(({ topic }) => topic))];
  return (
    <>
      <TextButton onClick={() => setOpen(true)}>
        <ActIcon act="columns" />
        Columns
      </TextButton>
      <Dialog open={open} onClose={() => setOpen(false)} maxWidth="sm" aria-labelledby="columns-title">
        <DialogTitle id="columns-title">Columns of {things[thing].title.toLowerCase()}</DialogTitle>
        <DialogContent>
          <p className="quiet">
            Your choice stays, also after you sign out. In the table, drag a head to move its column and its edge to
            change the width.
          </p>
          {topics.map((topic) => (
            <div key={topic} className="section" role="group" aria-label={topic}>
              <h3>{topic}</h3>
              {fields
                .filter((field) => field.topic === topic)
                .map((field) => (
                  <FormControlLabel
                    key={field.name}
                    sx={{ width: '31%' }}
                    control={
                      <Checkbox
                        size="small"
                        checked={chosen.includes(field.name)}
                        onChange={() => toggle(field.name)}
                      />
                    }
                    label={field.label}
                  />
                ))}
            </div>
          ))}
          <div className="section" role="radiogroup" aria-label="Rows">
            <h3>Rows of all tables</h3>
            <Choices
              label="Rows of all tables"
              name="density"
              value={density}
              choices={[
                { value: 'roomy', words: 'roomy' },
                { value: 'close', words: 'close' },
              ]}
              onChange={setDensity}
            />
          </div>
        </DialogContent>
        <DialogActions>
          <Button color="secondary" onClick={reset}>
            As at first
          </Button>
          <Button variant="contained" onClick={() => setOpen(false)}>
            Done
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}

const levels = ['by', 'then by', 'then by'];

/** Up to three fields by which rows are grouped, the outermost first. */
export function GroupChooser({
  thing,
  group,
  onGroup,
}: {
  thing: ThingName;
  group: string[];
  onGroup: (group: string[]) => void;
}) {
  const [open, setOpen] = useState(false);
  const fields = useFieldsOf()(thing).filter(({ list }) => !list);
  const change = (level: number, name: string) =>
    onGroup(
      name === ''
        ? group.slice(0, level)
        : [...group.slice(0, level), name, ...group.slice(level + 1).filter((other) => other !== name)],
    );
  return (
    <>
      <TextButton aria-pressed={group.length > 0} onClick={() => setOpen(true)}>
        <ActIcon act="group" />
        {group.length > 0 ? 'Grouped' : 'Group'}
      </TextButton>
      <Dialog open={open} onClose={() => setOpen(false)} maxWidth="xs" aria-labelledby="group-title">
        <DialogTitle id="group-title">Group {things[thing].title.toLowerCase()}</DialogTitle>
        <DialogContent>
          <div className="form" style={{ paddingTop: 6, minWidth: 280 }}>
            {levels.slice(0, Math.min(levels.length, group.length + 1)).map((label, level) => (
              <TextField
                key={`${label} ${level}`}
                select
                label={label}
                value={group[level] ?? ''}
                onChange={(event) => change(level, event.target.value)}
                slotProps={{ htmlInput: { name: `group${level}` } }}
              >
                <MenuItem value="">
                  <span className="quiet">{level === 0 ? 'nothing: one flat table' : 'nothing more'}</span>
                </MenuItem>
                {fields
                  .filter(({ name }) => !group.slice(0, level).includes(name))
                  .map(({ name, label: head }) => (
                    <MenuItem key={name} value={name}>
                      {head}
                    </MenuItem>
                  ))}
              </TextField>
            ))}
          </div>
        </DialogContent>
        <DialogActions>
          <Button
            color="secondary"
            onClick={() => {
              onGroup([]);
              setOpen(false);
            }}
          >
            Flat
          </Button>
          <Button variant="contained" onClick={() => setOpen(false)}>
            Done
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}

const formats = [
  ['csv', 'CSV'],
  ['xlsx', 'Spreadsheet (XLSX)'],
  ['json', 'JSON'],
  ['yaml', 'YAML'],
] as const;

/** Exports exactly what the table shows, and tells the request that returns it. */
export function ExportMenu({
  thing,
  request,
  columns,
  group,
}: {
  thing: ThingName;
  request: ThingRequest;
  columns: string[];
  group?: string[];
}) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [asking, setAsking] = useState(false);
  const [first, setFirst] = useState<number | null>(null);
  const shown = { ...request, columns, first };
  const ofRows = thingPath(thing, {
    survey: request.survey ?? null,
    where: request.where ?? '',
    sort: request.sort ?? '',
    first,
  }).slice(thing.length + 1);
  const apiRequest = (address: string) =>
    `curl -H "Authorization: Bearer $BOLIDE_TOKEN" "${address}/api/v1/${thingPath(thing, shown)}"`;
  return (
    <>
      <TextButton aria-haspopup="menu" onClick={(event) => setAnchor(event.currentTarget)}>
        <ActIcon act="export" />
        Export
      </TextButton>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
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
        {formats.map(([format, words]) => (
          <MenuItem
            key={format}
            dense
            component="a"
            href={`/api/v1/${thingPath(thing, { ...shown, format })}`}
            download
            onClick={() => setAnchor(null)}
          >
            {words}
          </MenuItem>
        ))}
        <MenuItem
          dense
          component="a"
          href={`/print/${thingPath(thing, { ...shown, ...(group && group.length > 0 && { group }) })}`}
          target="_blank"
          onClick={() => setAnchor(null)}
        >
          Print…
        </MenuItem>
        {thing === 'devices' && (
          <MenuItem
            dense
            component="a"
            href={`/print/dossiers?${ofRows}`}
            target="_blank"
            onClick={() => setAnchor(null)}
          >
            Dossiers on paper…
          </MenuItem>
        )}
        {(thing === 'devices' || thing === 'modules') && (
          <MenuItem
            dense
            component="a"
            href={`/print/labels?${ofRows}${thing === 'modules' ? '&of=modules' : ''}`}
            target="_blank"
            onClick={() => setAnchor(null)}
          >
            Labels…
          </MenuItem>
        )}
        <MenuItem
          dense
          onClick={() => {
            setAnchor(null);
            setAsking(true);
          }}
        >
          Request for this table…
        </MenuItem>
      </Menu>
      <Dialog open={asking} onClose={() => setAsking(false)} maxWidth="md" aria-labelledby="request-title">
        <DialogTitle id="request-title">The request that returns this table</DialogTitle>
        <DialogContent>
          <p className="quiet">
            A token is made with <span className="mono">bolide token add NAME --data DIR</span>. All calls are described
            at <a href="/api">/api</a>.
          </p>
          <pre
            className="mono"
            style={{ whiteSpace: 'pre-wrap', overflowWrap: 'anywhere', background: 'var(--sunken)', padding: 12 }}
          >
            {asking && apiRequest(window.location.origin)}
          </pre>
        </DialogContent>
        <DialogActions>
          <Button
            color="secondary"
            onClick={() => void navigator.clipboard?.writeText(apiRequest(window.location.origin))}
          >
            Copy
          </Button>
          <Button variant="contained" onClick={() => setAsking(false)}>
            Done
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
