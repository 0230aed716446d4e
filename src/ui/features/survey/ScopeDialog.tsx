'use client';

import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { writes } from '@/core/estate/credential';
import { readScope, scopeDefaults, type FieldMistake, type ScopeText } from '@/core/estate/scope';
import { type ApiProblem, call } from '../../lib/api';
import type { ShownCredential } from './savedRows';

type ListField = 'ranges' | 'exclusions' | 'translations' | 'neighbourWithin' | 'quietHours' | 'wakeRanges';
const numberFields = [
  ['port', 'SNMP port'],
  ['httpsPort', 'HTTPS port'],
  ['timeoutMs', 'Time limit, ms'],
  ['retries', 'Retries'],
  ['concurrency', 'At once'],
  ['largestPrefix', 'Largest prefix, /'],
  ['neighbourSteps', 'Neighbour steps'],
] as const;
const linesOf = (text: string) =>
  text
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean);

/** What a survey asks; every mistake is told at its field and line before anything is saved. */
export function ScopeDialog({
  initial,
  credentials: saved,
  collectors,
  onClose,
}: {
  initial: ScopeText | null;
  credentials: ShownCredential[];
  collectors: string[];
  onClose: () => void;
}) {
  const [credentials, writing] = [saved.filter((one) => !writes(one)), saved.filter(writes)].map((some) =>
    some.map(({ name }) => name),
  ) as [string[], string[]];
  const client = useQueryClient();
  const [text, setText] = useState(() => {
    const base = { ...scopeDefaults, ...initial };
    const {
      ranges,
      exclusions,
      translations,
      neighbourWithin,
      port,
      httpsPort,
      timeoutMs,
      retries,
      concurrency,
      largestPrefix,
      neighbourSteps,
    } = base;
    return {
      // a new scope tries every credential until somebody chooses
      name: base.name,
      chosen: initial?.credentials ?? null,
      writeCredentials: base.writeCredentials,
      ranges: ranges.join('\n'),
      exclusions: exclusions.join('\n'),
      translations: translations.join('\n'),
      port: String(port),
      httpsPort: String(httpsPort),
      timeoutMs: String(timeoutMs),
      retries: String(retries),
      concurrency: String(concurrency),
      largestPrefix: String(largestPrefix),
      neighbourSteps: String(neighbourSteps),
      neighbourWithin: neighbourWithin.join('\n'),
      defaultCommunities: base.defaultCommunities,
      collectors: base.collectors,
      wakeRanges: base.wakeRanges.join('\n'),
      schedule: base.schedule,
      quietHours: base.quietHours.join('\n'),
      authorities: base.authorities,
      group: base.group,
    };
  });
  const [mistakes, setMistakes] = useState<FieldMistake[]>([]);
  const { data: groups = [] } = useQuery({
    queryKey: ['groups', 'of devices'],
    queryFn: async () =>
      (await call<{ rows: { name: string; thing: string }[] }>('groups')).rows
        .filter(({ thing }) => thing === 'devices')
        .map(({ name }) => name),
  });
  const tried = text.chosen ?? credentials;
  const read = (): ScopeText => ({
    credentials: tried,
    writeCredentials: text.writeCredentials,
    name: text.name.trim(),
    ranges: linesOf(text.ranges),
    exclusions: linesOf(text.exclusions),
    translations: linesOf(text.translations),
    neighbourWithin: linesOf(text.neighbourWithin),
    defaultCommunities: text.defaultCommunities,
    collectors: text.collectors,
    wakeRanges: linesOf(text.wakeRanges),
    schedule: text.schedule.trim(),
    quietHours: linesOf(text.quietHours),
    authorities: text.authorities.trim(),
    group: text.group,
    ...(Object.fromEntries(
      numberFields.map(([name]) => [name, /^\d+$/.test(text[name].trim()) ? Number(text[name]) : Number.NaN]),
    ) as Record<(typeof numberFields)[number][0], number>),
  });
  const at = (field: string) =>
    mistakes
      .filter(({ path }) => path === field || path.startsWith(`${field}[`))
      .map(({ path, message }) => {
        const line = /\[(\d+)\]/.exec(path)?.[1];
        return line === undefined || field === 'credentials' ? message : `line ${Number(line) + 1}: ${message}`;
      })
      .join('\n');
  const save = async () => {
    const scope = read();
    const checked = readScope(scope);
    const found = [
      ...(scope.name ? [] : [{ path: 'name', message: 'Give the scope a name' }]),
      ...('mistakes' in checked ? checked.mistakes : []),
      ...(scope.credentials.length === 0 ? [{ path: 'credentials', message: 'Choose at least one credential' }] : []),
    ];
    setMistakes(found);
    if (found.length > 0) return;
    try {
      await call('scopes', { method: 'POST', body: scope });
      await client.invalidateQueries({ queryKey: ['scopes'] });
      onClose();
    } catch (error) {
      const problem = error as ApiProblem;
      setMistakes(problem.errors.length > 0 ? problem.errors : [{ path: 'name', message: problem.detail }]);
    }
  };
  const list = (field: ListField, label: string, hint: string) => (
    <TextField
      label={label}
      multiline
      minRows={field === 'ranges' ? 3 : 1}
      maxRows={8}
      value={text[field]}
      error={at(field) !== ''}
      helperText={at(field) || hint}
      slotProps={{
        input: { sx: { fontFamily: "'JetBrains Mono Variable', monospace", fontSize: 13 } },
        htmlInput: { spellCheck: false, name: field },
        formHelperText: { style: { whiteSpace: 'pre-line' } },
      }}
      onChange={(event) => setText({ ...text, [field]: event.target.value })}
    />
  );
  return (
    <Dialog open onClose={onClose} maxWidth="sm" aria-labelledby="scope-title">
      <DialogTitle id="scope-title">{initial ? `Change ${initial.name}` : 'Add a scope'}</DialogTitle>
      <DialogContent>
        <div className="form" style={{ paddingTop: 8 }}>
          <TextField
            label="Name"
            name="name"
            value={text.name}
            disabled={initial !== null}
            error={at('name') !== ''}
            helperText={at('name')}
            onChange={(event) => setText({ ...text, name: event.target.value })}
          />
          {list('ranges', 'Ranges', 'one a line: 10.72.4.0/24, 10.72.4.1-40 or a single address')}
          {list('exclusions', 'Exclusions', 'addresses that are not asked, one a line')}
          {list(
            'translations',
            'Address translation',
            'one a line: 10.72.0.0/16 via 127.72.0.0/16 port 1161 https 1443',
          )}
          {list(
            'wakeRanges',
            'Wake first',
            'ranges whose quiet machines are touched once, so that address tables know them; usually empty',
          )}
          <fieldset style={{ border: '1px solid var(--line)', borderRadius: 3, padding: '4px 12px 8px' }}>
            <legend className="small quiet">Credentials, tried in this order</legend>
            {credentials.map((name) => (
              <FormControlLabel
                key={name}
                label={tried.includes(name) ? `${tried.indexOf(name) + 1}. ${name}` : name}
                control={
                  <Checkbox
                    size="small"
                    checked={tried.includes(name)}
                    onChange={(event) =>
                      setText({
                        ...text,
                        chosen: event.target.checked ? [...tried, name] : tried.filter((other) => other !== name),
                      })
                    }
                  />
                }
              />
            ))}
            {credentials.length === 0 && <p className="quiet small">There is none yet: add a credential first.</p>}
            {at('credentials') && (
              <p className="small" role="alert" style={{ color: 'var(--bad)' }}>
                {at('credentials')}
              </p>
            )}
          </fieldset>
          {(writing.length > 0 || text.writeCredentials.length > 0) && (
            <fieldset style={{ border: '1px solid var(--line)', borderRadius: 3, padding: '4px 12px 8px' }}>
              <legend className="small quiet">For acting on ports, tried in this order</legend>
              {[...new Set([...writing, ...text.writeCredentials])].map((name) => (
                <FormControlLabel
                  key={name}
                  label={
                    text.writeCredentials.includes(name) ? `${text.writeCredentials.indexOf(name) + 1}. ${name}` : name
                  }
                  control={
                    <Checkbox
                      size="small"
                      checked={text.writeCredentials.includes(name)}
                      onChange={(event) =>
                        setText({
                          ...text,
                          writeCredentials: event.target.checked
                            ? [...text.writeCredentials, name]
                            : text.writeCredentials.filter((other) => other !== name),
                        })
                      }
                    />
                  }
                />
              ))}
              {at('writeCredentials') && (
                <p className="small" role="alert" style={{ color: 'var(--bad)' }}>
                  {at('writeCredentials')}
                </p>
              )}
            </fieldset>
          )}
          {(groups.length > 0 || text.group !== '') && (
            <TextField
              select
              label="Only devices of"
              name="group"
              value={text.group}
              error={Boolean(at('group'))}
              helperText={at('group') || 'of the addresses above'}
              onChange={(event) => setText({ ...text, group: event.target.value })}
            >
              <MenuItem value="">
                <span className="quiet">whatever answers there</span>
              </MenuItem>
              {[...new Set([...groups, ...(text.group ? [text.group] : [])])].map((name) => (
                <MenuItem key={name} value={name}>
                  {name}
                </MenuItem>
              ))}
            </TextField>
          )}
          {(collectors.length > 0 || text.collectors.length > 0) && (
            <fieldset style={{ border: '1px solid var(--line)', borderRadius: 3, padding: '4px 12px 8px' }}>
              <legend className="small quiet">Asked by</legend>
              <FormControlLabel
                label="this machine"
                control={
                  <Checkbox
                    size="small"
                    checked={text.collectors.length === 0}
                    onChange={() => setText({ ...text, collectors: [] })}
                  />
                }
              />
              {[...new Set([...collectors, ...text.collectors])].map((name) => (
                <FormControlLabel
                  key={name}
                  label={`collector ${name}`}
                  control={
                    <Checkbox
                      size="small"
                      checked={text.collectors.includes(name)}
                      onChange={(event) =>
                        setText({
                          ...text,
                          collectors: event.target.checked
                            ? [...text.collectors, name]
                            : text.collectors.filter((other) => other !== name),
                        })
                      }
                    />
                  }
                />
              ))}
              {text.collectors.length > 1 && <p className="quiet small">They split the addresses between them.</p>}
              {at('collectors') && (
                <p className="small" role="alert" style={{ color: 'var(--bad)' }}>
                  {at('collectors')}
                </p>
              )}
            </fieldset>
          )}
          <div className="pair">
            <TextField
              label="Calendar"
              name="schedule"
              value={text.schedule}
              error={at('schedule') !== ''}
              helperText={at('schedule') || 'minute hour day month weekday: 0 6 * * 1-5; empty for by hand'}
              onChange={(event) => setText({ ...text, schedule: event.target.value })}
              slotProps={{
                htmlInput: { spellCheck: false, style: { fontFamily: "'JetBrains Mono Variable', monospace" } },
              }}
            />
            {list('quietHours', 'Quiet hours', 'no survey begins in them: 08:00-18:00')}
          </div>
          <TextField
            label="Certificates of authorities"
            name="authorities"
            multiline
            minRows={1}
            maxRows={6}
            value={text.authorities}
            error={at('authorities') !== ''}
            helperText={
              at('authorities') ||
              'PEM. With them an HTTPS service must show a certificate they signed; empty: the first one seen is pinned'
            }
            slotProps={{
              input: { sx: { fontFamily: "'JetBrains Mono Variable', monospace", fontSize: 12 } },
              htmlInput: { spellCheck: false },
            }}
            onChange={(event) => setText({ ...text, authorities: event.target.value })}
          />
          <FormControlLabel
            label="Look whether devices still answer to the communities they were delivered with"
            control={
              <Checkbox
                size="small"
                checked={text.defaultCommunities}
                onChange={(event) => setText({ ...text, defaultCommunities: event.target.checked })}
              />
            }
          />
          <div style={{ display: 'grid', gridTemplateColumns: 'repeat(3, 1fr)', gap: '14px 8px' }}>
            {numberFields.map(([name, label]) => (
              <TextField
                key={name}
                label={label}
                value={text[name]}
                error={at(name) !== ''}
                helperText={at(name)}
                slotProps={{ htmlInput: { inputMode: 'numeric', name } }}
                onChange={(event) => setText({ ...text, [name]: event.target.value })}
              />
            ))}
          </div>
          {Number(text.neighbourSteps) > 0 &&
            list('neighbourWithin', 'Follow neighbours within', 'prefixes, one a line; private addresses if empty')}
        </div>
      </DialogContent>
      <DialogActions>
        <Button color="secondary" onClick={onClose}>
          Leave it
        </Button>
        <Button variant="contained" onClick={() => void save()}>
          Save the scope
        </Button>
      </DialogActions>
    </Dialog>
  );
}
