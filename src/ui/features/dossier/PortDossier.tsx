'use client';

import { compareNaturally } from '@/core/values/naturalOrder';
import { actWords } from '@/core/acting/portAct';
import { formatAge, formatSpeed } from '@/core/values/quantity';
import { Link } from '@/ui/components/Link';
import { useView } from '../../lib/useView';
import type { ThingRow } from '../../lib/api';
import { useThingPage } from '../../components/table/thingPages';
import { PortActs } from '../acting/PortActs';
import { useActedSince } from '../acting/useActedSince';
import { Ago } from '../../components/Ago';
import { cellText, moment } from '../../lib/format';
import { Glyph, portGlyph } from '../../components/Glyph';
import { useWhereabouts } from '../outlets/useOutlets';
import { WhereSection } from '../outlets/WhereSection';
import { OwnSection } from '../own/OwnSection';
import { WatchButton } from '../watch/WatchButton';
import { Failing, Near, ThingHistory, useThingDossier } from './ThingParts';

interface Guest {
  mac: string;
  vlan: number | null;
  address: string;
  host: string;
  maker: string;
  device: string | null;
  via: string;
}

/** A port: its state, what is plugged in, and how that is known. */
export function PortDossier({ port, device, deviceId }: { port: ThingRow; device: string; deviceId: string }) {
  const view = useView();
  const dossier = useThingDossier('ports', port.id);
  const more = dossier.data;
  const whereOf = `port=${encodeURIComponent(port.id)}`;
  const where = useWhereabouts(whereOf);
  // what stands above has its height by then: no press lands on what has just come there
  const standsStill = dossier.isFetched && where.isFetched;
  const guests = [...(port.endpoints as Guest[])].sort(
    (x, y) =>
      Number(y.via === 'direct') - Number(x.via === 'direct') || compareNaturally(x.host || x.mac, y.host || y.mac),
  );
  const neighbour = port.neighbour as { device: string; port: string; source: string } | null;
  const stp = port.stp as { state: string; role: string; edge?: boolean } | null;
  const endpoints = useThingPage('endpoints', {
    survey: view.survey,
    where: `device.id=${deviceId} port="${String(port.name)}"`,
    size: 200,
  });
  const evidence = [...new Set((endpoints.data?.rows ?? []).flatMap((row) => row.evidence as string[]))];
  const acted = useActedSince(port.id);
  const state = port.admin === 'down' ? 'switched off' : String(port.oper);
  const tagged = port.taggedVlans as number[];
  const untagged = [...(port.vlan === null ? [] : [Number(port.vlan)]), ...((port.untaggedVlans as number[]) ?? [])];
  return (
    <>
      <div className="small quiet">
        port of <Link href={view.href('/estate', { sel: `device:${deviceId}` })}>{device}</Link>
      </div>
      <h2>
        Port {String(port.name)}{' '}
        <span className="quiet" style={{ fontWeight: 400 }}>
          {String(port.alias)}
        </span>
      </h2>
      <dl className="facts">
        <dt>State</dt>
        <dd>
          <span className="state">
            <Glyph name={portGlyph(port)} />
            {state}
            {port.disabledBy ? <b className="bad">&nbsp;by the switch: {String(port.disabledBy)}</b> : null}
            {port.lastChangeSeconds !== null && !acted && ` for ${formatAge(Number(port.lastChangeSeconds))}`}
            {port.speedBps ? `, ${formatSpeed(Number(port.speedBps))}` : ''}
            {port.oper === 'up' && port.duplex !== 'unknown' ? ` ${String(port.duplex)}` : ''}
            {acted && <span className="quiet">&nbsp;at the survey</span>}
          </span>
          {acted && (
            <div>
              {actWords(acted.act)} since, by {acted.who}, <Ago at={acted.at} />
            </div>
          )}
        </dd>
        <dt>VLAN</dt>
        <dd>
          {untagged.length === 0 ? '–' : `${untagged.join(', ')} untagged`}
          {tagged.length > 0 && `, ${tagged.join(', ')} tagged`}
          {port.voiceVlan !== null && port.voiceVlan !== undefined && `, ${String(port.voiceVlan)} for phones`}
        </dd>
        {port.media || port.transceiver ? (
          <>
            <dt>Medium</dt>
            <dd>{[port.media, port.transceiver].filter(Boolean).join(', ')}</dd>
          </>
        ) : null}
        <dt>Kind</dt>
        <dd>
          {String(port.kind)}
          {port.lag ? `, member of ${String(port.lag)}` : ''}
        </dd>
        {port.access ? (
          <>
            <dt>Let in</dt>
            <dd>
              {port.access === 'unauthorized' || port.access === 'blocked' ? (
                <b className="bad">{String(port.access)}</b>
              ) : (
                String(port.access)
              )}
            </dd>
          </>
        ) : null}
        {port.neighbourSays ? (
          <>
            <dt>Neighbour says</dt>
            <dd>{String(port.neighbourSays)}</dd>
          </>
        ) : null}
        {stp && (
          <>
            <dt>Spanning tree</dt>
            <dd>
              {stp.state}, {stp.role}
              {stp.edge === true && ', edge'}
            </dd>
          </>
        )}
        {port.power ? (
          <>
            <dt>Power</dt>
            <dd>
              {String(port.power)}
              {port.watts !== null && port.watts !== undefined && `, ${String(port.watts)} W`}
            </dd>
          </>
        ) : null}
        {port.errors !== null && port.errors !== undefined && (
          <>
            <dt>Lost frames</dt>
            <dd>
              {Number(port.errors) + Number(port.discards) === 0 ? (
                'none since the survey before'
              ) : (
                <>
                  {Number(port.errors) > 0 && (
                    <b className={Number(port.errors) >= 100 ? 'bad' : undefined}>
                      {Number(port.errors).toLocaleString('en')} damaged
                    </b>
                  )}
                  {Number(port.errors) > 0 && Number(port.discards) > 0 && ', '}
                  {Number(port.discards) > 0 && `${Number(port.discards).toLocaleString('en')} thrown away`} since the
                  survey before
                </>
              )}
            </dd>
          </>
        )}
        <dt>MTU</dt>
        <dd>{cellText(port.mtu, 'number')}</dd>
        <dt>MAC</dt>
        <dd className="mono">{String(port.mac ?? '–')}</dd>
        {(port.addresses as string[]).length > 0 && (
          <>
            <dt>Addresses</dt>
            <dd className="mono">{(port.addresses as string[]).join(', ')}</dd>
          </>
        )}
        <dt>Description</dt>
        <dd>{String(port.description) || '–'}</dd>
      </dl>
      <Failing failing={more?.failing ?? []} />
      <WatchButton key={port.id} thing="ports" rowId={port.id} />
      <section className="section">
        <h3>Plugged in</h3>
        {neighbour && !guests.some(({ host }) => host === neighbour.device) && (
          <p>
            {neighbour.device} <span className="mono">{neighbour.port}</span>
          </p>
        )}
        {guests.map((guest) => (
          <div
            key={guest.mac}
            style={{ marginLeft: guest.via === 'phone' || guest.via === 'wireless' ? 14 : 0, padding: '2px 0' }}
          >
            {guest.via !== 'direct' && guest.via !== 'unmanaged' && (
              <span className="small quiet">
                {guest.via === 'phone' ? 'behind it ' : guest.via === 'wireless' ? 'by radio ' : `${guest.via} `}
              </span>
            )}
            <b style={{ fontWeight: 550 }}>{guest.host || guest.address || guest.mac}</b>{' '}
            {guest.host && guest.address && <span className="mono quiet">{guest.address}</span>}
            <div className="small quiet">
              <span className="mono">{guest.mac}</span> {guest.maker}
              {guest.vlan !== null && `, VLAN ${guest.vlan}`}
            </div>
          </div>
        ))}
        {!neighbour && guests.length === 0 && (
          <p className="quiet">
            {port.oper === 'up' ? 'Something is up here, but it sent nothing while the table was kept.' : 'Nothing.'}
          </p>
        )}
      </section>
      <WhereSection
        key={`where ${port.id}`}
        what={whereOf}
        sel={`port:${port.id}`}
        proposed={{ site: String(port.site ?? ''), device, port: String(port.name) }}
      />
      {standsStill && <PortActs key={`acts ${port.id}`} port={port} device={device} />}
      <section className="section">
        <h3>How we know</h3>
        {port.how ? <p>{String(port.how)}</p> : <p className="quiet">No table names a guest here.</p>}
        <ul className="small quiet">
          {evidence.slice(0, 20).map((words) => (
            <li key={words}>{words}</li>
          ))}
        </ul>
      </section>
      <OwnSection key={port.id} thing="ports" row={more?.row ?? port} version={more?.version ?? null} />
      <Near near={more?.near ?? []} />
      <ThingHistory history={more?.history ?? []} />
      <p className="small quiet" style={{ marginTop: 14 }}>
        as of {moment(endpoints.data?.rows[0]?.lastSeen as string) || 'this survey'}
      </p>
    </>
  );
}
