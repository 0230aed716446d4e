'use client';

import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { compareReleases } from '@/core/firmware/release';
import { verdicts, type CatalogueRelease } from '@/core/firmware/readiness';
import { formatBytes, parseQuantity } from '@/core/values/quantity';
import { useView } from '../lib/useView';
import { type ApiProblem, call } from '../lib/api';
import { useMayEdit } from '../lib/person';
import { chosenTerms, withChosen } from '@/core/filter/terms';
import { BarChart } from '../components/pictures/BarChart';
import { DataTable } from '../components/table/DataTable';
import { useFirstPage } from '../components/table/thingPages';
import { AnyDossier } from '../features/dossier/AnyDossier';
import { FilterField } from '../components/filter/FilterField';
import { Glyph, verdictGlyph } from '../components/Glyph';
import { Panel } from '../components/Panel';
import { useSort } from '../components/table/useSort';
import { useTableLayout } from '../components/table/layout';
import { ViewMenu } from '../features/views/ViewMenu';
import { ColumnChooser } from '../components/table/tools/ColumnChooser';
import { ExportMenu } from '../components/table/tools/ExportMenu';
import { TextButton } from '../components/TextButton';
import { PlainSelect } from '../components/PlainSelect';

const pictures = ['verdict', 'family', 'site'];
const verdictColours: Record<string, string> = {
  ready: 'var(--good)',
  'already there': 'var(--lagoon)',
  'ready after': 'var(--caution)',
  blocked: 'var(--bad)',
  unknown: 'var(--idle)',
};

interface Target {
  vendor: string;
  family: string;
  release: string;
  setBy: string;
  setAt: string;
  group: string;
}

/** Which devices may go to their target release, and why others may not. */
export function FirmwareWorkspace() {
  const view = useView();
  const layout = useTableLayout('readiness', view.columns, () => view.set({ columns: null }));
  const { columns } = layout;
  const { sort, onSort } = useSort('readiness');
  const [editing, setEditing] = useState(false);
  const request = { survey: view.survey, where: view.where };
  const summary = useFirstPage('readiness', request, sort, pictures);
  const shares = summary.data?.shares ?? {};
  const deviceId = /^device:(\d+)$/.exec(view.sel ?? '')?.[1] ?? null;
  const verdictBars = verdicts.flatMap((verdict) =>
    (shares.verdict ?? [])
      .filter(({ value }) => value === verdict)
      .map(({ value, count }) => ({ value, count, ...(verdictColours[value] && { colour: verdictColours[value] }) })),
  );
  return (
    <div className="area">
      <main className="work">
        <div className="titleline">
          <h1>Firmware</h1>
          <span className="quiet" aria-live="polite" style={{ whiteSpace: 'nowrap' }}>
            {summary.data && `${summary.data.total} with a target`}
          </span>
          <FilterField
            about={{ thing: 'readiness', survey: view.survey, against: view.against }}
            value={view.where}
            onChange={(where) => view.set({ where })}
            problem={summary.error}
            hint="verdict=blocked; a device"
          />
          <TextButton onClick={() => setEditing(true)}>Targets and catalogue</TextButton>
          <ColumnChooser thing="readiness" layout={layout} />
          <ViewMenu path="/firmware" columns={layout.chosen} />
          <ExportMenu thing="readiness" request={{ ...request, sort }} columns={columns.map(({ name }) => name)} />
        </div>
        <div className="pictures">
          <BarChart
            title="by verdict"
            bars={verdictBars}
            most={5}
            chosen={chosenTerms(view.where, 'verdict')}
            onChoose={(value, more) => view.set({ where: withChosen(view.where, 'verdict', value, more) })}
          />
          {(['family', 'site'] as const).map((field) => (
            <BarChart
              key={field}
              title={`by ${field}`}
              bars={(shares[field] ?? []).map(({ value, count }) => ({ value, count }))}
              chosen={chosenTerms(view.where, field)}
              onChoose={(value, more) => view.set({ where: withChosen(view.where, field, value, more) })}
            />
          ))}
        </div>
        <DataTable
          thing="readiness"
          label="Readiness"
          request={request}
          count={pictures}
          columns={columns}
          layout={layout}
          sort={sort}
          onSort={onSort}
          selected={deviceId}
          onSelect={(row) => view.set({ sel: `device:${row.id}` })}
          glyph={(row) => <Glyph name={verdictGlyph(row.verdict)} word={String(row.verdict)} />}
          empty={
            view.where ? (
              <>
                <h2>Nothing fits this filter</h2>
                <p className="quiet">
                  <TextButton onClick={() => view.set({ where: null })}>Empty the filter</TextButton>
                </p>
              </>
            ) : (
              <>
                <h2>No target is set yet</h2>
                <p className="quiet">
                  Choose the release a family should run; every device of it is then judged.{' '}
                  <TextButton onClick={() => setEditing(true)}>Targets and catalogue</TextButton>
                </p>
              </>
            )
          }
        />
      </main>
      {deviceId && (
        <Panel label="Dossier">
          <AnyDossier thing="devices" id={deviceId} />
        </Panel>
      )}
      <CatalogueDialog open={editing} onClose={() => setEditing(false)} />
    </div>
  );
}

function CatalogueDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  const mayEdit = useMayEdit();
  const client = useQueryClient();
  const catalogue = useQuery({
    queryKey: ['catalogue'],
    enabled: open,
    queryFn: () => call<{ rows: CatalogueRelease[] }>('catalogue'),
  });
  const targets = useQuery({
    queryKey: ['targets'],
    enabled: open,
    queryFn: () => call<{ rows: Target[] }>('targets'),
  });
  const [problem, setProblem] = useState<string | null>(null);
  const families = [
    ...new Map(
      (catalogue.data?.rows ?? []).map(({ vendor, family }) => [`${vendor} ${family}`, { vendor, family }]),
    ).values(),
  ].sort((x, y) => (x.vendor + x.family < y.vendor + y.family ? -1 : 1));
  const releasesOf = (vendor: string, family: string) =>
    (catalogue.data?.rows ?? [])
      .filter((entry) => entry.vendor === vendor && entry.family === family)
      .sort((x, y) => compareReleases(y.release, x.release));
  const groups = useQuery({
    queryKey: ['groups', 'to choose from'],
    enabled: open,
    queryFn: async () => (await call<{ rows: { name: string; thing: string }[] }>('groups')).rows,
  });
  const ofDevices = (groups.data ?? []).filter(({ thing }) => thing === 'devices').map(({ name }) => name);
  const set = async (vendor: string, family: string, release: string | null, group = '') => {
    setProblem(null);
    try {
      await call('targets', { method: 'PUT', body: { vendor, family, release, ...(group && { group }) } });
    } catch (error) {
      setProblem((error as ApiProblem).detail);
    }
    await Promise.all([
      client.invalidateQueries({ queryKey: ['targets'] }),
      client.invalidateQueries({ queryKey: ['thing'] }),
      client.invalidateQueries({ queryKey: ['dossier'] }),
    ]);
  };
  return (
    <Dialog open={open} onClose={onClose} maxWidth="md" aria-labelledby="catalogue-title">
      <DialogTitle id="catalogue-title">Targets and catalogue</DialogTitle>
      <DialogContent>
        {problem && (
          <div className="notice bad" role="alert">
            {problem}
          </div>
        )}
        {families.map(({ vendor, family }) => {
          const own = (targets.data?.rows ?? []).filter((row) => row.vendor === vendor && row.family === family);
          const target = own.find(({ group }) => group === '');
          const byGroup = own.filter(({ group }) => group !== '');
          const releases = releasesOf(vendor, family);
          return (
            <section key={`${vendor} ${family}`} className="section">
              <h3>
                {vendor} {family}
                <label className="small" style={{ fontWeight: 400 }}>
                  target{' '}
                  <PlainSelect
                    aria-label={`Target of ${vendor} ${family}`}
                    value={target?.release ?? ''}
                    disabled={!mayEdit}
                    onChange={(event) => void set(vendor, family, event.target.value || null)}
                    style={plainSelect}
                  >
                    <option value="">none</option>
                    {releasesOf(vendor, family).map(({ release }) => (
                      <option key={release}>{release}</option>
                    ))}
                  </PlainSelect>
                </label>
              </h3>
              {byGroup.map(({ group, release }) => (
                <p key={group} className="small">
                  in <b>{group}</b>: <span className="mono">{release}</span>{' '}
                  {mayEdit && <TextButton onClick={() => void set(vendor, family, null, group)}>Take away</TextButton>}
                </p>
              ))}
              {mayEdit && (
                <GroupTarget
                  key={byGroup.length}
                  label={`${vendor} ${family}`}
                  groups={ofDevices.filter((name) => !byGroup.some(({ group }) => group === name))}
                  releases={releases.map(({ release }) => release)}
                  onSet={(group, release) => void set(vendor, family, release, group)}
                />
              )}
              <table className="plain">
                <thead>
                  <tr>
                    <th>Release</th>
                    <th>Published</th>
                    <th>Memory</th>
                    <th>Free flash</th>
                    <th>From at least</th>
                    <th>Boot code</th>
                    <th>Not for</th>
                  </tr>
                </thead>
                <tbody>
                  {releasesOf(vendor, family).map((entry) => (
                    <tr key={entry.release}>
                      <td className="mono">{entry.release}</td>
                      <td>{entry.published}</td>
                      <td>{entry.minimumMemoryBytes === null ? '–' : formatBytes(entry.minimumMemoryBytes)}</td>
                      <td>{entry.neededFlashBytes === null ? '–' : formatBytes(entry.neededFlashBytes)}</td>
                      <td className="mono">{entry.minimumFrom ?? '–'}</td>
                      <td className="mono">{entry.minimumBoot ?? '–'}</td>
                      <td>{entry.excludedModels.join(', ') || '–'}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </section>
          );
        })}
        {mayEdit && <AddRelease onAdded={() => void client.invalidateQueries({ queryKey: ['catalogue'] })} />}
      </DialogContent>
      <DialogActions>
        <Button variant="contained" onClick={onClose}>
          Done
        </Button>
      </DialogActions>
    </Dialog>
  );
}

const plainSelect = {
  font: 'inherit',
  background: 'var(--panel)',
  color: 'var(--ink)',
  border: '1px solid var(--line)',
  padding: '2px 4px',
} as const;

/** Another target for the devices of a group. */
function GroupTarget({
  label,
  groups,
  releases,
  onSet,
}: {
  label: string;
  groups: string[];
  releases: string[];
  onSet: (group: string, release: string) => void;
}) {
  const [group, setGroup] = useState('');
  if (groups.length === 0 || releases.length === 0) return null;
  return (
    <p className="small quiet" style={{ padding: '2px 0 6px' }}>
      another one in{' '}
      <PlainSelect
        aria-label={`Group of ${label} with a target of its own`}
        value={group}
        style={plainSelect}
        onChange={(event) => setGroup(event.target.value)}
      >
        <option value="">a group…</option>
        {groups.map((name) => (
          <option key={name}>{name}</option>
        ))}
      </PlainSelect>
      {group && (
        <>
          {': '}
          <PlainSelect
            aria-label={`Target of ${label} in ${group}`}
            value=""
            style={plainSelect}
            onChange={(event) => event.target.value && onSet(group, event.target.value)}
          >
            <option value="">choose a release…</option>
            {releases.map((release) => (
              <option key={release}>{release}</option>
            ))}
          </PlainSelect>
        </>
      )}
    </p>
  );
}

const emptyRelease = {
  vendor: '',
  family: '',
  release: '',
  published: '',
  memory: '',
  flash: '',
  minimumFrom: '',
  minimumBoot: '',
  excluded: '',
};

function AddRelease({ onAdded }: { onAdded: () => void }) {
  const [form, setForm] = useState(emptyRelease);
  const [mistakes, setMistakes] = useState<Record<string, string>>({});
  const field = (name: keyof typeof emptyRelease, label: string, hint = '') => (
    <TextField
      label={label}
      value={form[name]}
      error={Boolean(mistakes[name])}
      helperText={mistakes[name] ?? hint}
      onChange={(event) => setForm({ ...form, [name]: event.target.value })}
    />
  );
  const size = (text: string) => (text.trim() === '' ? null : parseQuantity(text, 'bytes'));
  const save = async () => {
    const found: Record<string, string> = {};
    for (const name of ['memory', 'flash'] as const)
      if (form[name].trim() !== '' && size(form[name]) === null) found[name] = 'Write a size like 512M or 2G';
    setMistakes(found);
    if (Object.keys(found).length > 0) return;
    try {
      await call('catalogue', {
        method: 'POST',
        body: {
          vendor: form.vendor,
          family: form.family,
          release: form.release,
          published: form.published,
          minimumMemoryBytes: size(form.memory),
          neededFlashBytes: size(form.flash),
          minimumFrom: form.minimumFrom || null,
          minimumBoot: form.minimumBoot || null,
          excludedModels: form.excluded
            .split(',')
            .map((model) => model.trim())
            .filter(Boolean),
          image: '',
        },
      });
      setForm(emptyRelease);
      onAdded();
    } catch (error) {
      const problem = error as ApiProblem;
      setMistakes(
        problem.errors.length > 0
          ? Object.fromEntries(problem.errors.map(({ path, message }) => [path, message]))
          : { release: problem.detail },
      );
    }
  };
  return (
    <section className="section">
      <h3>Add a release</h3>
      <div className="form" style={{ marginTop: 8 }}>
        <div className="pair">
          {field('vendor', 'Maker')}
          {field('family', 'Family')}
        </div>
        <div className="pair">
          {field('release', 'Release')}
          {field('published', 'Published', 'like 2026-11-23')}
        </div>
        <div className="pair">
          {field('memory', 'Memory at least', 'like 512M or 2G; empty if any')}
          {field('flash', 'Free flash needed', 'like 96M; empty if any')}
        </div>
        <div className="pair">
          {field('minimumFrom', 'From at least', 'release from which one may go directly')}
          {field('minimumBoot', 'Boot code at least')}
        </div>
        {field('excluded', 'Not for these models', 'separated by commas')}
        <div>
          <Button variant="outlined" onClick={() => void save()}>
            Add to the catalogue
          </Button>
        </div>
      </div>
    </section>
  );
}
