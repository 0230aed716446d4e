'use client';

import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { isSameLine, mayBeTarget, type CatalogueRelease } from '@/core/firmware/catalogue';
import { componentKinds } from '@/core/firmware/components';
import { compareReleases } from '@/core/firmware/release';
import { compareNaturally } from '@/core/values/naturalOrder';
import { formatBytes } from '@/core/values/quantity';
import { DoneFoot } from '../../components/dialogFeet';
import { Fold } from '../../components/Fold';
import { PlainSelect } from '../../components/PlainSelect';
import { TextButton } from '../../components/TextButton';
import { UndoNote, type Done } from '../../features/edits/UndoNote';
import { useWritten } from '../../features/edits/useWritten';
import { CsvImport } from '../../features/imports/CsvImport';
import { type ApiProblem, call } from '../../lib/api';
import { useMayEdit } from '../../lib/person';
import { ReleaseForm, releasePath } from './ReleaseForm';

interface Target {
  vendor: string;
  family: string;
  release: string;
  setBy: string;
  setAt: string;
  group: string;
}

/** Targets of families, and the releases there are of each. */
export function CatalogueDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
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
      (catalogue.data?.rows ?? []).map(({ vendor, family, component }) => [
        `${vendor}\t${family}\t${component}`,
        { vendor, family, component },
      ]),
    ).values(),
  ].sort(
    (x, y) =>
      compareNaturally(`${x.vendor} ${x.family}`, `${y.vendor} ${y.family}`) ||
      componentKinds.indexOf(x.component) - componentKinds.indexOf(y.component),
  );
  const releasesOf = (line: Pick<CatalogueRelease, 'vendor' | 'family' | 'component'>) =>
    (catalogue.data?.rows ?? [])
      .filter((entry) => isSameLine(entry, line))
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
        {families.map(({ vendor, family, component }) => {
          const isSystem = component === 'system';
          // a family may have the name of its maker in it
          const called = family.startsWith(vendor) ? family : `${vendor} ${family}`;
          const title = `${called}${isSystem ? '' : `, ${component}`}`;
          const own = (targets.data?.rows ?? []).filter(
            (row) => isSystem && row.vendor === vendor && row.family === family,
          );
          const target = own.find(({ group }) => group === '');
          const byGroup = own.filter(({ group }) => group !== '');
          const releases = releasesOf({ vendor, family, component });
          return (
            <section key={`${vendor}\t${family}\t${component}`} className="section">
              <h3>
                {title}
                {isSystem && (
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
                    {releases
                      .filter((one) => mayBeTarget(one) || one.release === target?.release)
                      .map(({ release }) => (
                        <option key={release}>{release}</option>
                      ))}
                  </PlainSelect>
                </label>
                )}
              </h3>
              {byGroup.map(({ group, release }) => (
                <p key={group} className="small">
                  in <b>{group}</b>: <span className="mono">{release}</span>{' '}
                  {mayEdit && <TextButton onClick={() => void set(vendor, family, null, group)}>Take away</TextButton>}
                </p>
              ))}
              {mayEdit && isSystem && (
                <GroupTarget
                  key={byGroup.length}
                  label={`${vendor} ${family}`}
                  groups={ofDevices.filter((name) => !byGroup.some(({ group }) => group === name))}
                  releases={releases.filter(mayBeTarget).map(({ release }) => release)}
                  onSet={(group, release) => void set(vendor, family, release, group)}
                />
              )}
              <table className="plain">
                <thead>
                  <tr>
                    <th>Release</th>
                    <th>Status</th>
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
                  {releases.map((entry) => (
                    <tr key={entry.release}>
                      <td className={mayBeTarget(entry) ? 'mono' : 'mono struck'}>{entry.release}</td>
                      <td>{entry.status === 'ended' && entry.ends ? `ended ${entry.ends}` : entry.status}</td>
                      <td>{entry.published}</td>
                      <td>{entry.minimumMemoryBytes === null ? '–' : formatBytes(entry.minimumMemoryBytes)}</td>
                      <td>{entry.neededFlashBytes === null ? '–' : formatBytes(entry.neededFlashBytes)}</td>
                      <td className="mono">{entry.minimumFrom ?? '–'}</td>
                      <td className="mono">{entry.minimumBoot ?? '–'}</td>
                      <td>{entry.excludedModels.join(', ') || '–'}</td>
                      {mayEdit && (
                        <td style={{ whiteSpace: 'nowrap' }}>
                          <TextButton
                            aria-label={`Change the release ${entry.release} of ${title}`}
                            onClick={() => setChanged(entry)}
                          >
                            Change
                          </TextButton>{' '}
                          ·{' '}
                          <TextButton
                            aria-label={`Remove the release ${entry.release} of ${title}`}
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
          <Fold title="Many at once" says="from a CSV file">
            <CsvImport name="catalogue" />
          </Fold>
        )}
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
