'use client';

import { formatAge, formatBytes } from '@/core/values/quantity';
import { Link } from '@/ui/components/Link';
import { deviceGlyph, Glyph } from '../../../components/Glyph';
import { moment } from '../../../lib/format';
import { useView } from '../../../lib/useView';
import type { SectionProps } from './dossierTypes';

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

/** What it is, how it fares, and how it is reached. */
export function Facts({ dossier: data, id, whole }: SectionProps) {
  const view = useView();
  const { device } = data;
  const text = (field: string) => String(device[field] ?? '');
  const missing = (device.missing as { part: string; reason: string }[] | undefined) ?? [];
  const ways = (device.interfaces as Way[] | undefined) ?? [];
  return (
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
}
