'use client';

import Autocomplete from '@mui/material/Autocomplete';
import TextField from '@mui/material/TextField';
import { Link } from '@/ui/components/Link';
import { useMemo } from 'react';
import { useView } from '../lib/useView';
import { standsInTheWay, type ThingRow } from '../lib/api';
import { CellHint } from '../components/table/CellHint';
import { DataTable } from '../components/table/DataTable';
import { useFirstPage, useThingPage } from '../components/table/thingPages';
import { useDossier } from '../features/dossier/device/useDossier';
import { FilterField } from '../components/filter/FilterField';
import { Glyph, portGlyph } from '../components/Glyph';
import { Panel } from '../components/Panel';
import { ProblemNote } from '../components/ProblemNote';
import { PortDossier } from '../features/dossier/PortDossier';
import { useSort } from '../components/table/useSort';
import { useTableLayout } from '../components/table/layout';
import { ViewMenu } from '../features/views/ViewMenu';
import { ColumnChooser } from '../components/table/tools/ColumnChooser';
import { ExportMenu } from '../components/table/tools/ExportMenu';
import { Faceplate } from './Faceplate';
import { TextButton } from '../components/TextButton';
import { fetched } from '../lib/fetched';
import { opening } from '../components/opening';

const bridging = 'role=switch or role=router or role=firewall';
const idleSeconds = 30 * 86_400;

const FindPort = fetched(() => import('./FindPort').then((module) => module.FindPort), opening('Find a port'));

const FloorPlans = fetched(
  () => import('./floor/FloorPlans').then((module) => module.FloorPlans),
  opening('Floor plans'),
);

/** What is plugged in where: one device at a time, or something that is looked for on all of them. */
export function PortsWorkspace() {
  const { of } = useView();
  return of === 'find' ? <FindPort /> : of === 'plan' ? <FloorPlans /> : <PortsOfDevice />;
}

/** One device as a faceplate and as a table. */
function PortsOfDevice() {
  const view = useView();
  const layout = useTableLayout('ports', view.columns, () => view.set({ columns: null }));
  const { columns } = layout;
  const { sort, onSort } = useSort('ports');
  const devices = useThingPage('devices', { survey: view.survey, where: bridging, sort: 'name', size: 1000 });
  const options = useMemo(() => (devices.data?.rows ?? []).filter(({ change }) => change !== 'gone'), [devices.data]);
  const selectedDevice = /^device:(\d+)$/.exec(view.sel ?? '')?.[1] ?? /^port:(\d+):/.exec(view.sel ?? '')?.[1];
  const id = view.device ?? selectedDevice ?? options[0]?.id ?? null;
  const listed = options.find((row) => row.id === id);
  // one that does not bridge, or is gone: only its dossier tells what it is called
  const { data: unlisted, error: unknown } = useDossier(devices.data && !listed ? id : null);
  const name = String(listed?.name ?? unlisted?.device.name ?? '');
  const portName = /^port:\d+:(.*)$/.exec(view.sel ?? '')?.[1] ?? null;
  const where = [id && `device.id=${id}`, view.where && `(${view.where})`].filter(Boolean).join(' ');
  const request = { survey: view.survey, against: view.against, where };
  const page = useFirstPage('ports', request, sort, [], name !== '');
  const select = (port: ThingRow) => view.set({ device: id, sel: `port:${id}:${String(port.name)}` });

  if (devices.data && options.length === 0) {
    return (
      <main className="work">
        <div className="empty">
          <h2>No switch is known yet</h2>
          <p className="quiet">
            <Link href={view.href('/survey')}>Run a survey</Link>; switches, routers and firewalls then stand here with
            their ports.
          </p>
        </div>
      </main>
    );
  }
  const problem = devices.error ?? unknown;
  if (problem)
    return (
      <main className="work">
        <ProblemNote problem={problem} />
        <p style={{ padding: '0 24px' }}>
          <Link href="/ports">All ports</Link>
        </p>
      </main>
    );
  return (
    <div className="area">
      <main className="work">
        <div className="titleline">
          <h1>{name || '…'}</h1>
          <WhichDevice id={id} />
          <Autocomplete
            size="small"
            sx={{ width: 150, flex: 'none', '& .MuiOutlinedInput-root': { py: 0, height: 28, fontSize: 13 } }}
            disableClearable
            options={options}
            value={options.find((row) => row.id === id) ?? (null as unknown as ThingRow)}
            getOptionLabel={(row) => String(row.name)}
            isOptionEqualToValue={(x, y) => x.id === y.id}
            onChange={(_, row) => view.set({ device: row.id, sel: null, where: null })}
            renderInput={(parameters) => (
              <TextField
                {...parameters}
                placeholder="another device"
                slotProps={{
                  ...parameters.slotProps,
                  htmlInput: { ...parameters.slotProps.htmlInput, 'aria-label': 'Device' },
                }}
              />
            )}
          />
          <FilterField
            about={{ thing: 'ports', survey: view.survey, against: view.against }}
            value={view.where}
            onChange={(text) => view.set({ where: text })}
            problem={page.error}
            hint="oper=up; vlan={vlan}; a guest"
          />
          <Link href={view.href('/ports', { of: 'find', sel: null })}>Find a port</Link>
          <Link href={view.href('/ports', { of: 'plan', sel: null })}>Plans</Link>
          <ColumnChooser thing="ports" layout={layout} />
          <ViewMenu path="/ports" columns={layout.chosen} />
          <ExportMenu thing="ports" request={{ ...request, sort }} columns={columns.map((column) => column.name)} />
          {name && <Link href={view.href('/print/switchboard', { where: `name="${name}"`, sel: null })}>Report</Link>}
          <HowFull id={id} />
        </div>
        <Metal id={id} selected={portName} onSelect={select} />
        {name && (
          <DataTable
            thing="ports"
            label={`Ports of ${name}`}
            request={request}
            columns={columns}
            layout={layout}
            sort={sort}
            onSort={onSort}
            selected={portName === null ? null : `${id}:${portName}`}
            onSelect={select}
            glyph={(row) => <Glyph name={portGlyph(row)} word />}
            cell={(row, field) =>
              field.name === 'pluggedIn' && !row.before?.pluggedIn ? (
                <CellHint
                  words={String(row.pluggedIn)}
                  style={{ fontWeight: 550, color: row.pluggedIn ? 'var(--lagoon)' : undefined }}
                >
                  {String(row.pluggedIn)}
                </CellHint>
              ) : field.name === 'duplex' && row.duplex === 'half' && row.before?.duplex === undefined ? (
                <b style={{ color: 'var(--bad)' }}>half</b>
              ) : field.name === 'duplex' && row.duplex === 'unknown' ? (
                <span />
              ) : undefined
            }
            empty={
              <>
                <h2>No port fits this filter</h2>
                <p className="quiet">
                  <TextButton onClick={() => view.set({ where: null })}>Empty the filter</TextButton>
                </p>
              </>
            }
          />
        )}
      </main>
      {portName !== null && <SelectedPort id={id} device={name} port={portName} />}
    </div>
  );
}

/*
 * What the dossier of the device tells, each part for itself: when it arrives, they are drawn and the table beside them is not.
 */

const socketsOf = (ports: ThingRow[] = []) => ports.filter(({ physical }) => physical);

/** Its sockets, compared with another survey where one is chosen. */
function Metal({
  id,
  selected,
  onSelect,
}: {
  id: string | null;
  selected: string | null;
  onSelect: (port: ThingRow) => void;
}) {
  const view = useView();
  const { data: dossier, error } = useDossier(id);
  const sockets = useMemo(() => socketsOf(dossier?.ports), [dossier]);
  // how each port differs from the survey compared with, whatever the table is narrowed to
  const differing = useThingPage(
    'ports',
    { survey: view.survey, against: view.against, where: `device.id=${id ?? 0}`, size: 1000 },
    view.against !== null && id !== null,
  );
  const compared = useMemo(() => {
    const changes = new Map((differing.data?.rows ?? []).map(({ id: port, change }) => [port, change]));
    return view.against === null
      ? sockets
      : sockets.map((row) => ({ ...row, change: changes.get(row.id) }) as ThingRow);
  }, [differing.data, sockets, view.against]);
  if (standsInTheWay(error, dossier)) return <ProblemNote problem={error} />;
  if (!dossier) return null;
  return (
    <Faceplate
      ports={compared}
      plan={dossier.faceplate}
      selected={selected}
      onSelect={onSelect}
      onNarrow={(text) => view.set({ where: text })}
      compared={view.against !== null}
    />
  );
}

function WhichDevice({ id }: { id: string | null }) {
  const { data: dossier } = useDossier(id);
  return (
    <span className="quiet" style={{ whiteSpace: 'nowrap' }}>
      {dossier && [dossier.device.site, dossier.device.model].filter(Boolean).join(', ')}
    </span>
  );
}

function HowFull({ id }: { id: string | null }) {
  const { data: dossier } = useDossier(id);
  if (!dossier) return null;
  const sockets = socketsOf(dossier.ports);
  const used = sockets.filter(({ oper }) => oper === 'up').length;
  const idle = sockets.filter(
    ({ oper, lastChangeSeconds }) => oper !== 'up' && Number(lastChangeSeconds ?? 0) > idleSeconds,
  ).length;
  return (
    <span className="quiet small end">
      {used} used, {sockets.length - used} free, {idle} idle over 30 d
    </span>
  );
}

function SelectedPort({ id, device, port: name }: { id: string | null; device: string; port: string }) {
  const { data: dossier } = useDossier(id);
  const port = dossier?.ports.find((row) => row.name === name);
  return port ? (
    <Panel label="Port">
      <PortDossier port={port} device={device} deviceId={id ?? ''} />
    </Panel>
  ) : null;
}
