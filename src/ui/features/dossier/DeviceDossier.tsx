'use client';

import { TalkSection } from './TalkSection';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import dynamic from 'next/dynamic';
import { useState } from 'react';
import { Link } from '@/ui/components/Link';
import { changeValue } from '@/core/things/changeWords';
import { formatBytes, formatAge } from '@/core/values/quantity';
import { useView } from '../../lib/useView';
import { call, standsInTheWay, type ApiProblem, type ThingRow } from '../../lib/api';
import { DossierProblem } from './DossierProblem';
import { cellText, moment } from '../../lib/format';
import { BayPicture } from './BayPicture';
import { deviceGlyph, Glyph, portGlyph, verdictGlyph } from '../../components/Glyph';
import { CoverSection, type DeviceCover } from '../contracts/CoverSection';
import { WhereSection } from '../outlets/WhereSection';
import { OwnSection } from '../own/OwnSection';
import { SiteSection } from '../sites/SiteSection';
import { useMarkedRows } from '../../components/table/markedRows';
import { ReadingLine, type ReadingSeries } from '../../components/ReadingLine';
import { TextButton } from '../../components/TextButton';
import { Hint } from '../../components/Hint';

const IdentityDialog = dynamic(() => import('../identity/IdentityDialog').then((module) => module.IdentityDialog), {
  loading: () => null,
});

interface Storage {
  name: string;
  kind: string;
  sizeBytes: number;
  usedBytes: number;
}
interface Sensor {
  name: string;
  type: string;
  unit: string;
  value: number | null;
  state: string;
}
interface History {
  survey: number;
  at: string;
  words: string;
  field: string;
  before: unknown;
  after: unknown;
}

/** What loses its way without the device. */
interface Dependants {
  devices: { id: string; name: string }[];
  spared: number;
  endpoints: { total: number; where: string };
  machines: number;
}

interface Way {
  kind: string;
  address: string;
  release: string;
  lastAnswered?: string;
}

/** The ways in to a device beside SNMP, by what answers there. */
const wayWords: Record<string, string> = {
  redfish: 'Controller',
  restconf: 'RESTCONF',
  wireless: 'Wireless',
  fabric: 'Fabric',
  hypervisors: 'Manager',
};

export interface Dossier {
  /** in which it was read */
  version: number;
  device: ThingRow & { name: string };
  modules: ThingRow[];
  cover: DeviceCover;
  ports: ThingRow[];
  addresses: ThingRow[];
  links: ThingRow[];
  readiness: ThingRow[];
  storage: Storage[];
  sensors: Sensor[];
  readings: ReadingSeries[];
  faults: ThingRow[];
  /** a filter of what belongs to it */
  here: string;
  services: ThingRow[];
  conversations: ThingRow[];
  machines: ThingRow[];
  dependants: Dependants;
  peers: ThingRow[];
  routeCounts: Record<string, number>;
  wlans: ThingRow[];
  software: ThingRow[];
  faceplate: { rows: 1 | 2; groupOf?: number } | null;
  history: History[];
}

const dossierQuery = (id: string | null, survey: string | null) => ({
  queryKey: ['dossier', id, survey],
  queryFn: ({ signal }: { signal: AbortSignal }) =>
    call<Dossier>(`devices/${id}${survey ? `?survey=${survey}` : ''}`, { signal }),
});

export function useDossier(id: string | null) {
  const { survey } = useView();
  return useQuery<Dossier, ApiProblem>({ ...dossierQuery(id, survey), enabled: id !== null });
}

/** Asks for a dossier at once, before the page is drawn anew for it. */
export function useDossierAhead() {
  const client = useQueryClient();
  const { survey } = useView();
  return (id: string) => void client.prefetchQuery({ ...dossierQuery(id, survey), staleTime: 60_000 });
}

interface DossierProps {
  id: string;
  whole?: boolean;
  /** nothing to press, and no long lists unless it is whole */
  paper?: boolean;
}

/** Everything about a device, short for the panel, whole on its own page. */
export function DeviceDossier(props: DossierProps) {
  // who is who may change while it is asked: the dialog stays, whatever becomes of the dossier
  const [doubted, setDoubted] = useState<{ id: string; name: string } | null>(null);
  return (
    <>
      <DossierOf {...props} onDoubt={setDoubted} />
      {doubted && <IdentityDialog {...doubted} onClose={() => setDoubted(null)} />}
    </>
  );
}

function DossierOf({
  id,
  whole,
  paper = false,
  onDoubt,
}: DossierProps & { onDoubt: (device: { id: string; name: string }) => void }) {
  const { data, error } = useDossier(id);
  const view = useView();
  if (standsInTheWay(error, data)) return <DossierProblem problem={error} />;
  if (!data) return <p className="quiet">reading the dossier…</p>;
  const { device } = data;
  const text = (field: string) => String(device[field] ?? '');
  const missing = (device.missing as { part: string; reason: string }[] | undefined) ?? [];
  const ways = (device.interfaces as Way[] | undefined) ?? [];
  const facts = (
    <dl className="facts">
      <dt>State</dt>
      <dd>
        <span className="state">
          <Glyph name={deviceGlyph(device.state)} />
          {text('state')}
          {device.state === 'answering' && device.askedSeconds !== null
            ? `, ${Number(device.askedSeconds).toFixed(2)} s`
            : device.state === 'silent'
              ? `, last answered ${moment(text('lastAnswered'))}`
              : ''}
        </span>
      </dd>
      {missing.map(({ part, reason }) => [
        <dt key={part}>Missing</dt>,
        <dd key={reason}>
          {part}: {reason}. What was known stays.
        </dd>,
      ])}
      <dt>Unit</dt>
      <dd>
        {text('model').startsWith(text('vendor'))
          ? text('model')
          : [text('vendor'), text('model')].filter(Boolean).join(' ')}{' '}
        {device.serial ? <span className="mono">{text('serial')}</span> : <span className="quiet">no serial told</span>}
      </dd>
      <dt>Release</dt>
      <dd>
        <span className="mono">{text('release') || '–'}</span>
        {data.readiness.map((row) => (
          <span key={row.id} className="quiet">
            {' '}
            target <span className="mono">{String(row.target)}</span>,{' '}
            <Link href={view.href('/firmware', { where: data.here })}>{String(row.verdict)}</Link>
          </span>
        ))}
      </dd>
      <dt>Address</dt>
      <dd className="mono">{text('address')}</dd>
      {Number(device.cutsDevices) > 0 && (
        <>
          <dt>Hangs on it alone</dt>
          <dd>
            <Link href={view.href('/map', { over: 'spare ways', sel: `device:${String(device.id)}` })}>
              {Number(device.cutsDevices)} {Number(device.cutsDevices) === 1 ? 'device' : 'devices'}
            </Link>
            {Number(device.cutsEndpoints) > 0 && `, ${Number(device.cutsEndpoints)} endpoints`}
          </dd>
        </>
      )}
      {device.role === 'hypervisor' && (
        <>
          <dt>Its machines</dt>
          <dd>
            <Link href={view.href('/map', { of: 'hosts', host: id, sel: null })}>
              from the machines to the switch ports
            </Link>
          </dd>
        </>
      )}
      {text('pluggedInto') && (
        <>
          <dt>Plugged into</dt>
          <dd>{text('pluggedInto')}</dd>
        </>
      )}
      {ways
        .filter(({ kind }) => kind !== 'snmp')
        .map(({ kind, address, release, lastAnswered }) => [
          <dt key={kind}>{wayWords[kind] ?? kind}</dt>,
          <dd key={address}>
            <span className="mono">{address}</span>
            {release && <span className="quiet">, release {release}</span>}
            {lastAnswered && lastAnswered !== device.lastAnswered && (
              <span className="quiet">, answered {moment(lastAnswered)}</span>
            )}
          </dd>,
        ])}
      {device.uptimeSeconds !== null && (
        <>
          <dt>Up for</dt>
          <dd>{formatAge(Number(device.uptimeSeconds))}</dd>
        </>
      )}
      {device.memoryBytes !== null && (
        <>
          <dt>Memory</dt>
          <dd>{formatBytes(Number(device.memoryBytes))}</dd>
        </>
      )}
      {device.flashBytes !== null && (
        <>
          <dt>Flash</dt>
          <dd>
            {formatBytes(Number(device.flashBytes))}
            {device.flashFreeBytes !== null && `, ${formatBytes(Number(device.flashFreeBytes))} free`}
          </dd>
        </>
      )}
      {(device.group as string[]).length > 0 && (
        <>
          <dt>Groups</dt>
          <dd>
            {(device.group as string[]).map((name, at) => (
              <span key={name}>
                {at > 0 && ', '}
                <Link href={view.href('/estate', { where: `group="${name}"`, sel: null })}>{name}</Link>
              </span>
            ))}
          </dd>
        </>
      )}
      {device.maintenance === true && (
        <>
          <dt>Maintenance</dt>
          <dd>
            <span className="state">
              <Glyph name="off" word="in maintenance" />
              now{device.maintenanceUntil ? `, until ${moment(text('maintenanceUntil'))}` : ''}
            </span>
          </dd>
        </>
      )}
      {whole && (
        <>
          <dt>Description</dt>
          <dd>{text('description')}</dd>
          <dt>Object id</dt>
          <dd className="mono">{text('objectId')}</dd>
          <dt>Contact</dt>
          <dd>{text('contact') || '–'}</dd>
          <dt>Credential</dt>
          <dd>{text('credential')}</dd>
        </>
      )}
      <dt>First seen</dt>
      <dd>{moment(text('firstSeen'))}</dd>
    </dl>
  );
  const ours = (
    <>
      {!paper && <WhereSection key={`where ${id}`} what={`device=${id}`} sel={`device:${id}`} />}
      {!paper && <SiteSection key={`${id} site`} id={id} site={String(device.site ?? '')} version={data.version} />}
      <OwnSection key={id} thing="devices" row={device} version={data.version} readOnly={paper} />
    </>
  );
  const heading = (
    <div className="small quiet">
      {text('role').replaceAll('-', ' ')}
      {text('site') && ` at ${text('site')}`}
      {text('location') && `, ${text('location')}`}
    </div>
  );
  const modules = <ModuleTree modules={data.modules} faults={data.faults} />;
  const readiness = <Readiness rows={data.readiness} />;
  const ports = <Ports dossier={data} id={id} whole={whole ?? false} />;
  const storage = <Storage storage={data.storage} />;
  const neighbours = <Neighbours dossier={data} />;
  const dependants = <DependsOnIt dependants={data.dependants} paper={paper} />;
  const cover = <CoverSection cover={data.cover} paper={paper} />;
  const addresses = <Addresses rows={data.addresses} />;
  const faults = <Faults rows={data.faults} />;
  const running = (
    <>
      <Running dossier={data} whole={whole ?? false} />
      <TalkSection
        conversations={data.conversations}
        deviceId={Number(device.id)}
        name={String(device.name)}
        whole={whole ?? false}
      />
    </>
  );
  const peers = <Peers rows={data.peers} routes={data.routeCounts} />;
  const sensors = <Readings lines={data.readings} sensors={data.sensors} />;
  const history = <History history={data.history} />;
  if (whole) {
    return (
      <>
        {heading}
        <h1>{device.name}</h1>
        <h2 className="unseen">Identity, modules, ports and history</h2>
        <div className="columns">
          <div>
            {faults}
            {facts}
            {cover}
            {ours}
            {dependants}
            {readiness}
            {history}
          </div>
          <div>
            {modules}
            {sensors}
            {storage}
            {neighbours}
            {peers}
            {addresses}
          </div>
          <div>
            {running}
            {ports}
          </div>
        </div>
      </>
    );
  }
  return (
    <>
      {heading}
      <h2>{device.name}</h2>
      {paper && (
        <>
          {faults}
          {facts}
          {cover}
          {ours}
          {dependants}
          {modules}
          {readiness}
          {neighbours}
          {addresses}
        </>
      )}
      {!paper && (
        <>
          {faults}
          {facts}
          <p style={{ marginTop: 8 }}>
            <Link href={view.href(`/estate/${id}`)}>open dossier</Link>
            {data.ports.some(({ physical }) => physical) && (
              <>
                {' '}
                · <Link href={view.href('/ports', { device: id })}>ports</Link>
              </>
            )}{' '}
            · <Link href={view.href('/map', { sel: `device:${id}` })}>on the map</Link> ·{' '}
            <Link href={view.href('/map', { of: 'trace', from: device.name, sel: `device:${id}` })}>trace</Link> ·{' '}
            <TextButton onClick={() => onDoubt({ id, name: device.name })}>is it one device?</TextButton>
          </p>
          {cover}
          {ours}
          {dependants}
          {modules}
          {readiness}
          {running}
          {ports}
          {sensors}
          {storage}
          {neighbours}
          {peers}
          {addresses}
          {history}
        </>
      )}
    </>
  );
}

function Addresses({ rows }: { rows: ThingRow[] }) {
  if (rows.length === 0) return null;
  return (
    <section className="section">
      <h3>Addresses</h3>
      <table className="plain">
        <tbody>
          {rows.map((row) => (
            <tr key={row.id}>
              <td className="mono">
                {String(row.address)}
                {row.prefixLength !== null && `/${String(row.prefixLength)}`}
              </td>
              <td>
                {String(row.port)}
                {Boolean(row.vrf) && <span className="quiet"> in virtual router {String(row.vrf)}</span>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** What is broken comes before everything else. */
function Faults({ rows }: { rows: ThingRow[] }) {
  if (rows.length === 0) return null;
  return (
    <section className="section">
      <h3>Broken</h3>
      {rows.map((row) => (
        <p key={row.id} className="small" style={{ padding: '2px 0' }}>
          <span className="state">
            <Glyph name="fault" word={String(row.severity)} />
            <b style={{ fontWeight: 600 }}>{String(row.part).split(' / ').slice(1).join(' / ') || String(row.part)}</b>
          </span>{' '}
          {String(row.message).replace(/\.$/, '')}
          {Boolean(row.since) && `, since ${moment(String(row.since))}`}. {String(row.action)}
        </p>
      ))}
    </section>
  );
}

/** Who listens, and which virtual machines live here. */
function Running({
  dossier: { services, machines, software, wlans, here },
  whole,
}: {
  dossier: Dossier;
  whole: boolean;
}) {
  const view = useView();
  const sockets = oncePerFamily(services);
  const listed = whole ? sockets : sockets.slice(0, 8);
  return (
    <>
      {services.length > 0 && (
        <section className="section">
          <h3>
            Listens{' '}
            <span className="quiet" style={{ fontWeight: 400 }}>
              {plural(sockets.length, 'socket')}
            </span>
          </h3>
          <table className="plain">
            <tbody>
              {listed.map((row) => (
                <Hint words={[row.path, row.arguments].filter(Boolean).join(' ')}>
                  <tr key={row.id}>
                    <td>{String(row.process) || <span className="quiet">not told</span>}</td>
                    <td className="mono">
                      {String(row.protocol)} {String(row.port)}
                    </td>
                    <td className="mono quiet">
                      {anyAddress.has(String(row.address)) ? 'any address' : String(row.address)}
                    </td>
                  </tr>
                </Hint>
              ))}
            </tbody>
          </table>
          <p className="small" style={{ marginTop: 4 }}>
            {listed.length < sockets.length && (
              <>
                <Link href={view.href('/estate', { of: 'services', where: here, sel: null })}>all services</Link> ·{' '}
              </>
            )}
            {software.length > 0 && (
              <Link href={view.href('/estate', { of: 'software', where: here, sel: null })}>
                {plural(software.length, 'package')} installed
              </Link>
            )}
          </p>
        </section>
      )}
      {machines.length > 0 && (
        <section className="section">
          <h3>
            Virtual machines{' '}
            <span className="quiet" style={{ fontWeight: 400 }}>
              {machines.filter(({ state }) => state === 'running').length} of {machines.length} running
            </span>
          </h3>
          <table className="plain">
            <tbody>
              {machines.map((row) => (
                <tr key={row.id}>
                  <td>
                    <span className="state">
                      <Glyph name={row.state === 'running' ? 'up' : 'off'} word={String(row.state)} />
                      {String(row.name)}
                    </span>
                  </td>
                  <td className="quiet">{String(row.system)}</td>
                  <td className="quiet">
                    {[
                      row.processors && `${String(row.processors)} CPU`,
                      row.memoryBytes && formatBytes(Number(row.memoryBytes)),
                    ]
                      .filter(Boolean)
                      .join(', ')}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
      {wlans.length > 0 && (
        <section className="section">
          <h3>On air</h3>
          <table className="plain">
            <tbody>
              {wlans.map((row) => (
                <tr key={row.id}>
                  <td>{String(row.name)}</td>
                  <td className="quiet">{String(row.security)}</td>
                  <td>{row.vlan !== null && `VLAN ${String(row.vlan)}`}</td>
                  <td className="quiet">{row.clients !== null && plural(Number(row.clients), 'machine')}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
    </>
  );
}

/** A process that listens on any address of both families has one line. */
const oncePerFamily = (services: ThingRow[]) =>
  services.filter(
    (row, at) =>
      !anyAddress.has(String(row.address)) ||
      services.findIndex(
        (other) =>
          other.process === row.process &&
          other.protocol === row.protocol &&
          other.port === row.port &&
          anyAddress.has(String(other.address)),
      ) === at,
  );

const anyAddress = new Set(['*', '0.0.0.0', '::']);

function Peers({ rows, routes }: { rows: ThingRow[]; routes: Record<string, number> }) {
  const counts = Object.entries(routes).sort(([, x], [, y]) => y - x);
  if (rows.length === 0 && counts.length === 0) return null;
  return (
    <section className="section">
      <h3>Routing</h3>
      {counts.length > 0 && (
        <p className="small quiet">
          Routes: {counts.map(([protocol, count]) => `${count.toLocaleString('en')} ${protocol}`).join(', ')}
        </p>
      )}
      <table className="plain">
        <tbody>
          {rows.map((row) => (
            <tr key={row.id}>
              <td>{String(row.protocol).toUpperCase()}</td>
              <td>
                {String(row.peer) || <span className="mono">{String(row.address)}</span>}
                {row.remoteAs !== null && <span className="quiet"> AS {String(row.remoteAs)}</span>}
              </td>
              <td>
                <span className="state">
                  <Glyph name={row.up ? 'up' : 'fault'} word={row.up ? 'talks' : 'does not talk'} />
                  {stateWords(String(row.state))}
                </span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** `openConfirm` as words. */
const stateWords = (state: string) => state.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`);

/** Readings and sensors over the surveys, and the sensors that tell no value now. */
function Readings({ lines, sensors }: { lines: ReadingSeries[]; sensors: Sensor[] }) {
  const mute = sensors.filter(({ value }) => value === null);
  if (lines.length === 0 && mute.length === 0) return null;
  return (
    <section className="section">
      <h3>Readings</h3>
      <table className="plain">
        <tbody>
          {lines.map((series) => (
            <ReadingLine key={series.name} series={series} />
          ))}
          {mute.map(({ name, state }) => (
            <tr key={name}>
              <td>{name.split(' / ').slice(1).join(' / ') || name}</td>
              <td />
              <td className="quiet">{state === 'nonoperational' ? 'broken' : 'no value'}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

const plural = (count: number, word: string) => `${count} ${word}${count === 1 ? '' : 's'}`;

const holders = new Set(['container', 'backplane']);

/** Slots and what is in them, empty ones too. A slot and its only content are one line. */
function ModuleTree({ modules, faults }: { modules: ThingRow[]; faults: ThingRow[] }) {
  const { marked } = useMarkedRows('modules');
  if (modules.length === 0)
    return (
      <section className="section">
        <h3>Modules</h3>
        <p className="small quiet">The device tells nothing of its modules (no ENTITY table).</p>
      </section>
    );
  const byParent = new Map<string | null, ThingRow[]>();
  for (const row of modules) {
    const parent = (row.parent as string | null) ?? null;
    byParent.set(parent, [...(byParent.get(parent) ?? []), row]);
  }
  const lines: { row: ThingRow; slot: string; depth: number }[] = [];
  const visit = (row: ThingRow, slot: string, depth: number) => {
    const below = byParent.get(String(row.path)) ?? [];
    const only = below[0];
    if (holders.has(String(row.class)) && below.length === 1 && only) return visit(only, String(row.name), depth);
    lines.push({ row, slot, depth });
    below.forEach((child) => visit(child, '', depth + 1));
  };
  (byParent.get(null) ?? []).forEach((row) => visit(row, '', 0));
  const vacant = modules.filter(({ empty }) => empty).length;
  return (
    <section className="section">
      <h3>
        Modules{' '}
        <span className="quiet" style={{ fontWeight: 400 }}>
          {plural(modules.filter((row) => row.serial).length, 'serial')}
          {vacant > 0 && `, ${vacant} empty`}
        </span>
      </h3>
      <BayPicture modules={modules} faults={faults} />
      <div className="bays">
        {lines.map(({ row, slot, depth }) => (
          <Hint
            words={[
              row.description,
              row.model,
              row.hardwareRevision && `hardware ${String(row.hardwareRevision)}`,
              row.firmwareRevision && `firmware ${String(row.firmwareRevision)}`,
              row.softwareRevision && `software ${String(row.softwareRevision)}`,
            ]
              .filter(Boolean)
              .join(', ')}
          >
            <div
              key={row.id}
              className={`bay ${row.empty ? 'vacant' : ''} ${marked.has(row.id) ? 'marked-line' : ''}`}
              style={{ marginLeft: Math.min(depth, 4) * 12 }}
            >
              {row.empty ? (
                <>{String(row.name)}: empty</>
              ) : (
                <>
                  <span>
                    {slot && <span className="quiet">{slot} </span>}
                    {String(row.name)}{' '}
                    <span className="quiet">{String(row.model) !== String(row.name) ? String(row.model) : ''}</span>
                  </span>
                  <span className="mono">{String(row.serial)}</span>
                </>
              )}
            </div>
          </Hint>
        ))}
      </div>
    </section>
  );
}

function Readiness({ rows }: { rows: ThingRow[] }) {
  return rows.map((row) => (
    <section key={row.id} className="section">
      <h3>May it go to {String(row.target)}?</h3>
      <p>
        <span className="state">
          <Glyph name={verdictGlyph(row.verdict)} />
          <b style={{ fontWeight: 600 }}>{String(row.verdict)}</b>
        </span>
      </p>
      <ul className="small">
        {(row.reasons as { kind: string; words: string }[]).map(({ words }) => (
          <li key={words} style={{ padding: '2px 0' }}>
            {words}
          </li>
        ))}
      </ul>
    </section>
  ));
}

function Ports({ dossier, id, whole }: { dossier: Dossier; id: string; whole: boolean }) {
  const view = useView();
  const { marked } = useMarkedRows('ports');
  const ports = dossier.ports.filter(
    ({ physical, oper, addresses }) => physical || oper === 'up' || (addresses as unknown[]).length > 0,
  );
  if (ports.length === 0) return null;
  const up = ports.filter(({ oper }) => oper === 'up');
  const listed = whole ? ports : up.filter(({ pluggedIn }) => pluggedIn).slice(0, 12);
  return (
    <section className="section">
      <h3>
        Ports{' '}
        <span className="quiet" style={{ fontWeight: 400 }}>
          {up.length} of {ports.length} up
        </span>
      </h3>
      <table className="plain">
        {whole && (
          <thead>
            <tr>
              <th>Port</th>
              <th>State</th>
              <th>Plugged in</th>
              <th>Speed</th>
              <th>VLAN</th>
            </tr>
          </thead>
        )}
        <tbody>
          {listed.map((row) => (
            <tr key={row.id} className={marked.has(row.id) ? 'marked-line' : undefined}>
              <td>
                <Link
                  className="mono"
                  href={view.href('/ports', { device: id, sel: `port:${id}:${String(row.name)}` })}
                >
                  {String(row.name)}
                </Link>
              </td>
              {whole && (
                <td>
                  <span className="state">
                    <Glyph name={portGlyph(row)} />
                    {row.admin === 'down' ? 'off' : String(row.oper)}
                  </span>
                </td>
              )}
              <td>
                {String(row.pluggedIn)} {whole && <span className="quiet small">{String(row.alias)}</span>}
              </td>
              <td className="mono">{cellText(row.speedBps, 'bitsPerSecond')}</td>
              {whole && <td>{cellText(row.vlan, 'number')}</td>}
            </tr>
          ))}
        </tbody>
      </table>
      {!whole && (
        <p className="small" style={{ marginTop: 4 }}>
          <Link href={view.href('/ports', { device: id })}>all ports</Link>
        </p>
      )}
    </section>
  );
}

function Storage({ storage }: { storage: Storage[] }) {
  const shown = storage.filter(({ sizeBytes }) => sizeBytes > 0).slice(0, 12);
  if (shown.length === 0) return null;
  return (
    <section className="section">
      <h3>Memory and storage</h3>
      {shown.map(({ name, sizeBytes, usedBytes }) => (
        <div key={name} style={{ marginBottom: 6 }}>
          <div className="small" style={{ display: 'flex', justifyContent: 'space-between', gap: 8 }}>
            <span>{name}</span>
            <span className="quiet">
              {formatBytes(usedBytes)} of {formatBytes(sizeBytes)}
            </span>
          </div>
          <div className="meter">
            <i style={{ width: `${Math.min(100, (100 * usedBytes) / sizeBytes)}%` }} />
          </div>
        </div>
      ))}
    </section>
  );
}

function Neighbours({ dossier }: { dossier: Dossier }) {
  const view = useView();
  if (dossier.links.length === 0) return null;
  const here = dossier.device.name;
  return (
    <section className="section">
      <h3>Neighbours</h3>
      <table className="plain">
        <tbody>
          {dossier.links.map((row) => {
            const own = row.from === here;
            return (
              <tr key={row.id}>
                <td className="mono">{String(own ? row.fromPort : row.toPort)}</td>
                <td>
                  <Link href={view.href('/map', { sel: `link:${row.id}` })}>{String(own ? row.to : row.from)}</Link>{' '}
                  <span className="mono">{String(own ? row.toPort : row.fromPort)}</span>
                </td>
                <td className="quiet small">
                  {String(row.confidence)}
                  {(row.issues as unknown[]).length > 0 && (
                    <>
                      {' '}
                      <Glyph name="fault" word="ends disagree" />
                    </>
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}

const mostNamed = 6;

/** May it be taken away? What reaches the rest only through it, and what hangs there. */
function DependsOnIt({
  dependants: { devices, spared, endpoints, machines },
  paper,
}: {
  dependants: Dependants;
  paper: boolean;
}) {
  const view = useView();
  const named = paper ? devices : devices.slice(0, mostNamed);
  const alone = devices.length === 0;
  const hanging = plural(endpoints.total, 'endpoint');
  return (
    <section className="section small">
      <h3>What depends on it</h3>
      {!alone && (
        <p>
          {plural(devices.length, 'device')} reached only through it:{' '}
          {named.map(({ id, name }, at) => (
            <span key={id}>
              {at > 0 && ', '}
              <Link href={view.href(`/estate/${id}`)}>{name}</Link>
            </span>
          ))}
          {devices.length > named.length && `, and ${devices.length - named.length} more`}
        </p>
      )}
      {endpoints.total > 0 && (
        <p>
          {endpoints.where ? (
            <Link href={view.href('/estate', { of: 'endpoints', where: endpoints.where, sel: null })}>{hanging}</Link>
          ) : (
            hanging
          )}{' '}
          {alone ? 'at it or passed on by it' : 'at it and at them'}
        </p>
      )}
      {machines > 0 && (
        <p>
          {plural(machines, 'virtual machine')} {alone ? 'on it' : 'on it and on them'}
        </p>
      )}
      {alone && endpoints.total === 0 && machines === 0 && <p className="quiet">Nothing that is known.</p>}
      {spared > 0 && (
        <p className="quiet">
          {spared === 1 ? 'One neighbour keeps' : `${spared} neighbours keep`} another way without it.
        </p>
      )}
    </section>
  );
}

function History({ history }: { history: History[] }) {
  return (
    <section className="section">
      <h3>History</h3>
      <ul className="small">
        {history.map((entry, at) => (
          <li key={at} style={{ padding: '2px 0' }}>
            <span className="quiet">{moment(entry.at)}</span> {entry.words}
            {entry.field && (
              <span className="mono">
                {' '}
                {changeValue('device', entry.field, entry.before) || 'nothing'} →{' '}
                {changeValue('device', entry.field, entry.after) || 'nothing'}
              </span>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
