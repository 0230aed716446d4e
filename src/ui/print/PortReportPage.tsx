'use client';

import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { basisWords } from '@/core/things/placementWords';
import { formatSpeed } from '@/core/values/quantity';
import { useView } from '../lib/useView';
import { call, type ApiProblem } from '../lib/api';
import { moment } from '../lib/format';
import { Link } from '../components/Link';
import { ProblemNote } from '../components/ProblemNote';
import { PrintedBy } from '../components/PrintedBy';
import { TextButton } from '../components/TextButton';
import { PlainSelect } from '../components/PlainSelect';

interface Summary {
  sockets: number;
  up: number;
  uplinks: number;
  inUse: number;
  quiet: number;
  free: number;
  idle: number;
  switchedOff: number;
}
interface Machine {
  port: string;
  alias: string;
  vlan: number | null;
  words: string;
  addresses: string[];
  mac: string;
  maker: string;
  via: string;
  basis: string;
}
interface SwitchReport {
  id: string;
  name: string;
  site: string;
  model: string;
  release: string;
  address: string;
  location: string;
  state: string;
  summary: Summary;
  spanningTree: string[];
  attached: {
    port: string;
    device: string;
    devicePort: string;
    role: string;
    speedBps: number | null;
    confidence: string;
    findings: string;
  }[];
  machines: Machine[];
  sources: { by: string; told: string; count: number }[];
  questions: { part: string; seconds: number }[];
  seconds: number | null;
}
interface Report {
  at: string;
  idleDays: number;
  total: Summary;
  left: number;
  switches: SwitchReport[];
}

const partWords: Record<string, string> = {
  probe: 'who it is',
  interfaces: 'ports',
  modules: 'modules',
  sensors: 'sensors',
  addresses: 'addresses and ARP',
  neighbourAddresses: 'neighbours’ addresses',
  bridge: 'forwarding table and VLANs',
  lldp: 'neighbours',
  host: 'host',
  power: 'power',
  services: 'listeners',
  software: 'software',
  routing: 'routes',
  machines: 'virtual machines',
  security: 'default communities',
  private: 'own objects of its maker',
  system: 'system',
  interpret: 'reading the answers',
  commit: 'writing down',
};
const viaWords: Record<string, string> = {
  unmanaged: 'unmanaged segment',
  phone: 'behind a phone',
  wireless: 'by radio',
  virtual: 'virtual',
};

/** How many ports are used and free, what hangs on each, and how that is known: of one switch, or of a site, on paper. */
export function PortReportPage({ by }: { by: string }) {
  const view = useView();
  const [idleDays, setIdleDays] = useState(30);
  const { data, error } = useQuery<Report, ApiProblem>({
    queryKey: ['portReport', view.where, view.survey, idleDays],
    retry: false,
    queryFn: ({ signal }) =>
      call<Report>(
        `reports/ports?${new URLSearchParams({ where: view.where, idleDays: String(idleDays), ...(view.survey && { survey: view.survey }) }).toString()}`,
        { signal },
      ),
  });
  if (error)
    return (
      <main className="paper">
        <ProblemNote problem={error} />
      </main>
    );
  if (!data)
    return (
      <main className="paper">
        <p>reading the ports…</p>
      </main>
    );
  const { switches, total } = data;
  const [only] = switches;
  const title = switches.length === 1 && only ? `Ports of ${only.name}` : `Ports of ${switches.length} switches`;
  return (
    <main className="paper dossiers">
      <div className="screen-only">
        <p>
          <TextButton onClick={() => window.print()}>Print</TextButton>{' '}
          <label>
            idle from{' '}
            <PlainSelect value={idleDays} onChange={(event) => setIdleDays(Number(event.target.value))}>
              {[7, 30, 90, 180, 365].map((days) => (
                <option key={days} value={days}>
                  {days} days
                </option>
              ))}
            </PlainSelect>
          </label>{' '}
          {switches.length === 1 && only && only.site !== '' && (
            <Link href={view.href('/print/switchboard', { where: `site=${only.site}`, sel: null })}>
              the whole site {only.site}
            </Link>
          )}
          {data.left > 0 && (
            <span className="quiet">
              {' '}
              The first {switches.length}; {data.left} more fit.
            </span>
          )}
        </p>
      </div>
      <article>
        <h1>{title}</h1>
        <p className="about">
          As of {moment(data.at)}
          {view.where && (
            <>
              , where <span className="mono">{view.where}</span>
            </>
          )}
          . <PrintedBy by={by} />
        </p>
        {switches.length === 0 && <p>No switch, router or firewall fits.</p>}
        {switches.length > 1 && (
          <table>
            <thead>
              <tr>
                <th scope="col">Switch</th>
                {summaryHeads(data.idleDays)}
              </tr>
            </thead>
            <tbody>
              {switches.map(({ id, name, summary }) => (
                <tr key={id}>
                  <td>{name}</td>
                  {summaryCells(summary)}
                </tr>
              ))}
              <tr className="heading">
                <th scope="row">together</th>
                {summaryCells(total)}
              </tr>
            </tbody>
          </table>
        )}
      </article>
      {switches.map((one) => (
        <SwitchPages key={one.id} report={one} idleDays={data.idleDays} alone={switches.length === 1} />
      ))}
    </main>
  );
}

const summaryHeads = (idleDays: number) =>
  ['Sockets', 'Up', 'Uplinks', 'In use', 'Up, nothing heard', 'Free', `Idle over ${idleDays} d`, 'Switched off'].map(
    (words) => (
      <th key={words} scope="col">
        {words}
      </th>
    ),
  );
const summaryCells = ({ sockets, up, uplinks, inUse, quiet, free, idle, switchedOff }: Summary) =>
  [sockets, up, uplinks, inUse, quiet, free, idle, switchedOff].map((count, at) => <td key={at}>{count}</td>);

function SwitchPages({ report, idleDays, alone }: { report: SwitchReport; idleDays: number; alone: boolean }) {
  const {
    name,
    site,
    model,
    release,
    address,
    location,
    state,
    summary,
    spanningTree,
    attached,
    machines,
    sources,
    questions,
    seconds,
  } = report;
  return (
    <article className={alone ? 'follows' : ''}>
      {!alone && <h1>{name}</h1>}
      <p>
        {[model, release && `release ${release}`, address, [site, location].filter(Boolean).join(', ')]
          .filter(Boolean)
          .join('; ')}
        {state !== 'answering' && <b> {state}: what follows is as it was last told</b>}
      </p>
      <table>
        <thead>
          <tr>{summaryHeads(idleDays)}</tr>
        </thead>
        <tbody>
          <tr>{summaryCells(summary)}</tr>
        </tbody>
      </table>
      <h2>Spanning tree</h2>
      <p>{spanningTree.join(' ')}</p>
      <h2>Switches and routers attached</h2>
      {attached.length === 0 ? (
        <p>None is known.</p>
      ) : (
        <table>
          <thead>
            <tr>
              <th scope="col">Port</th>
              <th scope="col">Leads to</th>
              <th scope="col">Speed</th>
              <th scope="col">Known</th>
              <th scope="col">Findings</th>
            </tr>
          </thead>
          <tbody>
            {attached.map(({ port, device, devicePort, role, speedBps, confidence, findings }) => (
              <tr key={`${port} ${device}`}>
                <td className="mono">{port}</td>
                <td>
                  {device} <span className="mono">{devicePort}</span> ({role})
                </td>
                <td>{speedBps ? formatSpeed(speedBps) : ''}</td>
                <td style={{ whiteSpace: 'nowrap' }}>{confidence}</td>
                <td>{findings}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <h2>
        Machines <span className="count">{machines.length}</span>
      </h2>
      {machines.length === 0 ? (
        <p>None was heard on its own ports.</p>
      ) : (
        <table>
          <thead>
            <tr>
              <th scope="col">Port</th>
              <th scope="col">Alias</th>
              <th scope="col">VLAN</th>
              <th scope="col">Machine</th>
              <th scope="col">Addresses</th>
              <th scope="col">MAC</th>
              <th scope="col">Maker</th>
              <th scope="col">How</th>
            </tr>
          </thead>
          <tbody>
            {machines.map((machine, at) => (
              <tr key={machine.mac}>
                <td className="mono">{machines[at - 1]?.port === machine.port ? '' : machine.port}</td>
                <td>{machines[at - 1]?.port === machine.port ? '' : machine.alias}</td>
                <td>{machine.vlan}</td>
                <td>{machine.words}</td>
                <td className="mono">
                  {machine.addresses.map((address, nth) => (
                    <div key={address}>
                      {address}
                      {nth < machine.addresses.length - 1 && ','}
                    </div>
                  ))}
                </td>
                <td className="mono">{machine.mac}</td>
                <td>{machine.maker}</td>
                <td>
                  {[viaWords[machine.via], basisWords[machine.basis as keyof typeof basisWords]]
                    .filter(Boolean)
                    .join(', ')}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <h2>Who told of the machines</h2>
      {sources.length === 0 ? (
        <p>Nobody.</p>
      ) : (
        <table>
          <tbody>
            {sources.map(({ by, told, count }) => (
              <tr key={`${by} ${told}`}>
                <td>{by}</td>
                <td>{told}</td>
                <td>{count}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <h2>What asking it took</h2>
      {seconds === null ? (
        <p>It was not asked in this survey.</p>
      ) : (
        <p>
          {seconds.toFixed(2)} s in all
          {questions.length > 0 &&
            `: ${questions.map(({ part, seconds: own }) => `${partWords[part] ?? part} ${own.toFixed(3)} s`).join(', ')}`}
          .
        </p>
      )}
    </article>
  );
}
