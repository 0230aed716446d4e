'use client';

import { UndoNote, type Done } from '../features/edits/UndoNote';
import { useWritten } from '../features/edits/useWritten';
import { ReleaseForm, releasePath } from './ReleaseForm';
import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { compareReleases } from '@/core/firmware/release';
import { verdicts, type CatalogueRelease } from '@/core/firmware/readiness';
import { formatBytes } from '@/core/values/quantity';
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
import { DoneFoot } from '../components/dialogFeet';

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
    queryFn: () => call<{ rows: CatalogueRelease[]; version: number }>('catalogue'),
  });
  const targets = useQuery({
    queryKey: ['targets'],
    enabled: open,
    queryFn: () => call<{ rows: Target[] }>('targets'),
  });
  const [problem, setProblem] = useState<string | null>(null);
  const [changed, setChanged] = useState<CatalogueRelease | null>(null);
  const [done, setDone] = useState<Done | null>(null);
  const written = useWritten();
  const remove = async (entry: CatalogueRelease) => {
    try {
      const seen = catalogue.data?.version ?? null;
      const { edit } = await call<{ edit: number }>(releasePath(entry), { method: 'DELETE', seen });
      setDone({ words: `${entry.release} is out of the catalogue.`, edit });
    } catch (error) {
      setDone({ words: `${entry.release}: ${(error as ApiProblem).words}` });
    }
    await written();
  };
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
                    {mayEdit && <td />}
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
                      {mayEdit && (
                        <td style={{ whiteSpace: 'nowrap' }}>
                          <TextButton
                            aria-label={`Change the release ${entry.release} of ${vendor} ${family}`}
                            onClick={() => setChanged(entry)}
                          >
                            Change
                          </TextButton>{' '}
                          ·{' '}
                          <TextButton
                            aria-label={`Remove the release ${entry.release} of ${vendor} ${family}`}
                            onClick={() => void remove(entry)}
                          >
                            Remove
                          </TextButton>
                        </td>
                      )}
                    </tr>
                  ))}
                </tbody>
              </table>
            </section>
          );
        })}
        <UndoNote done={done} onDone={setDone} />
        {mayEdit && (
          <ReleaseForm
            key={changed ? releasePath(changed) : 'new'}
            editing={changed}
            version={catalogue.data?.version ?? null}
            onDone={() => setChanged(null)}
          />
        )}
      </DialogContent>
      <DoneFoot onDone={onClose} />
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
