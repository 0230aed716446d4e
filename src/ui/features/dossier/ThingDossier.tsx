'use client';

import { serviceId } from '@/core/dependency/serviceId';
import { rowWords } from '@/core/things/rowWords';
import { things, type ThingName } from '@/core/things/things';
import { Link } from '@/ui/components/Link';
import { useView } from '../../lib/useView';
import { standsInTheWay, type ThingRow } from '../../lib/api';
import { DossierProblem } from './DossierProblem';
import { cellText, fieldText, monoKinds } from '../../lib/format';
import { Glyph } from '../../components/Glyph';
import { OwnSection } from '../own/OwnSection';
import { PortDossier } from './PortDossier';
import { coverGlyph, type CoverState } from '../contracts/coverGlyph';
import { coverWords } from '../contracts/CoverSection';
import { ContractActs } from '../contracts/ContractActs';
import { WatchButton } from '../watch/WatchButton';
import { RestsOn } from './RestsOn';
import { TalkCalendar } from './TalkCalendar';
import { Failing, Near, ThingHistory, useThingDossier } from './ThingParts';

/** Fields that the heading says already, or that stand elsewhere. */
const told: Partial<Record<ThingName, string[]>> = {
  modules: ['device', 'path', 'site'],
  endpoints: ['site'],
  services: ['device', 'site'],
  software: ['device', 'site'],
  faults: ['device', 'action', 'site'],
  peers: ['device', 'site'],
  routes: ['device', 'site'],
  addresses: ['device', 'site'],
  wlans: ['site'],
  contracts: ['number', 'serials', 'devices', 'state', 'daysLeft'],
};

/** By which a rehearsal knows it; empty for what rests on nothing. */
function tokenOf(thing: ThingName, row: ThingRow): string {
  if (thing === 'endpoints') return `endpoint:${row.id}`;
  // what is off rests on nothing
  if (thing === 'machines') return row.state === 'running' ? `machine:${row.id}` : '';
  if (thing !== 'services') return '';
  return `service:${serviceId(Number(row.deviceId), String(row.process), String(row.protocol), Number(row.port))}`;
}

/** Everything about one thing, in the panel: what it says, what people wrote, what is near it, what happened to it. */
export function ThingDossier({ thing, id }: { thing: ThingName; id: string }) {
  const view = useView();
  const { data, error } = useThingDossier(thing, id);
  if (standsInTheWay(error, data)) return <DossierProblem problem={error} />;
  if (!data) return <p className="quiet">reading the dossier…</p>;
  const { row, near, history, failing, version } = data;
  if (thing === 'ports') return <PortDossier port={row} device={String(row.device)} deviceId={String(row.deviceId)} />;
  const skip = new Set(told[thing] ?? []);
  const fields = things[thing].fields.filter(
    ({ name, kind }) =>
      !skip.has(name) &&
      name !== 'group' &&
      (kind === 'boolean' ? row[name] !== undefined && row[name] !== null : cellText(row[name], kind) !== ''),
  );
  const device = thing === 'links' ? '' : String(row.device ?? row.host ?? '');
  const deviceId = thing === 'machines' ? null : row.deviceId;
  const evidence = (row.evidence as (string | { detail: string })[] | undefined) ?? [];
  return (
    <>
      <div className="small quiet">
        {things[thing].singular}
        {device && deviceId ? (
          <>
            {' '}
            {thing === 'endpoints' ? 'at' : 'of'}{' '}
            <Link href={view.href('/estate', { sel: `device:${String(deviceId)}` })}>{device}</Link>
          </>
        ) : device && thing === 'machines' ? (
          ` on ${device}`
        ) : (
          ''
        )}
        {row.site ? ` at ${String(row.site)}` : ''}
      </div>
      <h2>
        {thing === 'modules'
          ? String(row.name)
          : thing === 'faults'
            ? String(row.part).split(' / ').slice(1).join(', ') || String(row.part)
            : thing === 'endpoints'
              ? String(row.host || row.mac)
              : thing === 'contracts'
                ? String(row.number)
                : rowWords(thing, row)}
      </h2>
      {thing === 'modules' && <p className="small quiet">{String(row.path).replaceAll(' / ', ' › ')}</p>}
      {thing === 'faults' && (
        <p style={{ marginTop: 6 }}>
          <span className="state">
            <Glyph name="fault" word={String(row.severity)} />
            {String(row.message)}
          </span>
        </p>
      )}
      {thing === 'contracts' && (
        <p style={{ marginTop: 6 }}>
          <span className="state">
            <Glyph name={coverGlyph(row.state)} word={String(row.state)} />
            {coverWords({
              state: row.state as CoverState,
              until: String(row.until) || null,
              daysLeft: row.daysLeft as number | null,
            })}
          </span>
        </p>
      )}
      {thing === 'faults' && row.action ? (
        <section className="section">
          <h3>What to do</h3>
          <p>{String(row.action)}</p>
        </section>
      ) : null}
      <dl className="facts">
        {fields.map(({ name, label, kind, isSpoken }) => [
          <dt key={name}>{label}</dt>,
          <dd key={`${name} is`} className={monoKinds.has(kind) || name === 'serial' ? 'mono' : undefined}>
            {kind === 'boolean' ? (
              row[name] ? (
                'yes'
              ) : (
                'no'
              )
            ) : thing === 'endpoints' && name === 'port' && row.deviceId ? (
              <Link
                className="mono"
                href={view.href('/ports', {
                  device: String(row.deviceId),
                  sel: `port:${String(row.deviceId)}:${String(row.port)}`,
                })}
              >
                {String(row.port)}
              </Link>
            ) : (
              fieldText(row[name], { kind, isSpoken })
            )}
          </dd>,
        ])}
      </dl>
      {thing === 'conversations' && <TalkCalendar id={id} />}
      {tokenOf(thing, row) && <RestsOn key={tokenOf(thing, row)} of={tokenOf(thing, row)} />}
      {thing !== 'faults' && <Failing failing={failing} />}
      {thing === 'contracts' && <ContractActs row={row} version={version} />}
      {thing === 'contracts' && <NotInService serials={(row.notInService as string[] | undefined) ?? []} />}
      {thing === 'endpoints' && (
        <p style={{ marginTop: 8 }}>
          <Link href={view.href('/ports', { of: 'find', find: String(row.mac), sel: null })}>where it was before</Link>{' '}
          · <Link href={view.href('/map', { of: 'trace', from: String(row.mac), sel: null })}>trace from here</Link>
        </p>
      )}
      {thing === 'endpoints' && <WatchButton thing="endpoints" rowId={id} />}
      {thing === 'endpoints' && <OwnSection thing="endpoints" row={row} version={version} />}
      {evidence.length > 0 && (
        <section className="section">
          <h3>How we know</h3>
          <ul className="small quiet">
            {evidence
              .slice(0, 20)
              .map((one) => (typeof one === 'string' ? one : one.detail))
              .map((words) => (
                <li key={words}>{words}</li>
              ))}
          </ul>
        </section>
      )}
      <Near near={near} />
      <ThingHistory history={history} />
    </>
  );
}

/** Serials a contract names that are in no device. */
function NotInService({ serials }: { serials: string[] }) {
  if (serials.length === 0) return null;
  const shown = 30;
  return (
    <section className="section">
      <h3>Not in service</h3>
      <p className="small quiet">Named by the contract and in no device: on a shelf, gone, or mistyped.</p>
      <p className="small mono">
        {serials.slice(0, shown).join(' ')}
        {serials.length > shown && <span className="quiet"> and {serials.length - shown} more</span>}
      </p>
    </section>
  );
}
