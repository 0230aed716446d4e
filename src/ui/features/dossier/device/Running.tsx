'use client';

import type { SectionProps } from './dossierTypes';
import { useView } from '../../../lib/useView';
import { plural } from './plural';
import { Hint } from '../../../components/Hint';
import { Link } from '@/ui/components/Link';
import { Glyph } from '../../../components/Glyph';
import { formatBytes } from '@/core/values/quantity';
import { type ThingRow } from '../../../lib/api';

/** Who listens, and which virtual machines live here. */
export function Running({ dossier: { services, machines, software, wlans, here }, whole }: SectionProps) {
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
                <Hint key={row.id} words={[row.path, row.arguments].filter(Boolean).join(' ')}>
                  <tr>
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
