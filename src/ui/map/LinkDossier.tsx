'use client';

import { useQuery } from '@tanstack/react-query';
import { formatSpeed } from '@/core/values/quantity';
import { Link } from '@/ui/components/Link';
import { useView } from '../lib/useView';
import { call, standsInTheWay, type ApiProblem, type ThingRow } from '../lib/api';
import { DossierProblem } from '../features/dossier/DossierProblem';
import { moment } from '../lib/format';
import { Glyph } from '../components/Glyph';
import { ThingHistory, useThingDossier } from '../features/dossier/ThingParts';
import { cutWords } from './cutWords';

interface End {
  deviceId: number;
  device: string;
  port: string;
}

const confidenceWords: Record<string, string> = {
  confirmed: 'both ends say so',
  claimed: 'one end says so',
  concluded: 'concluded from tables',
};
const kindWords: Record<string, string> = {
  lag: 'aggregate',
  l3: 'link of layer 3',
  virtual: 'virtual link',
  stack: 'stack',
  ethernet: 'link',
};

/** A link: what its two ends say, what is wrong, who says that it is there. */
export function LinkDossier({ id }: { id: string }) {
  const view = useView();
  const found = useThingDossier('links', id);
  const link = found.data?.row;
  const [a, b] = [link?.a as End | undefined, link?.b as End | undefined];
  const ends = useQuery<{ rows: ThingRow[] }, ApiProblem>({
    queryKey: ['linkEnds', id, view.survey],
    enabled: a !== undefined && b !== undefined,
    queryFn: ({ signal }) =>
      call(
        `ports?${new URLSearchParams({ where: [a, b].map((end) => `(device.id=${end?.deviceId ?? 0} name="${end?.port ?? ''}")`).join(' or '), size: '4', ...(view.survey && { survey: view.survey }) }).toString()}`,
        { signal },
      ),
  });
  if (standsInTheWay(found.error, found.data)) return <DossierProblem problem={found.error} />;
  if (!link || !a || !b) return <p className="quiet">reading the dossier…</p>;
  const portOf = (end: End) => ends.data?.rows.find((row) => row.deviceId === end.deviceId && row.name === end.port);
  const [pa, pb] = [portOf(a), portOf(b)];
  const issues = link.issues as { kind: string; words: string }[];
  const evidence = link.evidence as { source: string; detail: string }[];
  const members = (link.members as { a: string; b: string }[] | undefined) ?? [];
  const [cutsDevices, lostBy] = [Number(link.cutsDevices ?? 0), String(link.spareLostBy ?? '')];
  const text = (value: unknown) =>
    Array.isArray(value) ? value.join(', ') : value === null || value === undefined ? '–' : String(value);
  const compared: [string, unknown, unknown][] = [
    ['MTU', pa?.mtu, pb?.mtu],
    ['Native VLAN', pa?.vlan, pb?.vlan],
    ['Allowed VLANs', pa?.taggedVlans, pb?.taggedVlans],
    [
      'Speed',
      pa?.speedBps ? formatSpeed(Number(pa.speedBps)) : null,
      pb?.speedBps ? formatSpeed(Number(pb.speedBps)) : null,
    ],
    ['Duplex', pa?.duplex, pb?.duplex],
    [
      'Spanning tree',
      (pa?.stp as { state: string; role: string } | null)?.role,
      (pb?.stp as { state: string; role: string } | null)?.role,
    ],
    ['State', pa?.oper, pb?.oper],
  ];
  const mayDiffer = new Set(['Spanning tree']);
  return (
    <>
      <div className="small quiet">
        {kindWords[String(link.kind)] ?? 'link'}, {confidenceWords[String(link.confidence)]}
        {link.blocked ? ', blocked by spanning tree' : ''}
        {link.segment ? ', through something that nobody asked' : ''}
      </div>
      <h2>
        {a.device} {a.port} — {b.device} {b.port}
      </h2>
      <p className="small">
        <Link href={view.href('/dependencies', { of: 'rehearse', down: `port:${a.deviceId}:${a.port}`, sel: null })}>
          Rehearse its loss
        </Link>
      </p>
      <section className="section">
        <h3>{issues.length > 0 ? 'What is wrong with it' : 'The two ends'}</h3>
        <ul>
          {issues.map(({ words }) => (
            <li key={words} className="state" style={{ display: 'flex', padding: '2px 0' }}>
              <Glyph name="fault" /> {words}
            </li>
          ))}
        </ul>
        <table className="plain" style={{ marginTop: 6 }}>
          <thead>
            <tr>
              <th></th>
              <th>
                {a.device} {a.port}
              </th>
              <th>
                {b.device} {b.port}
              </th>
            </tr>
          </thead>
          <tbody>
            {compared.map(([words, left, right]) => {
              const differs =
                !mayDiffer.has(words) &&
                left !== undefined &&
                right !== undefined &&
                left !== null &&
                right !== null &&
                text(left) !== text(right) &&
                text(left) !== 'unknown' &&
                text(right) !== 'unknown';
              return (
                <tr key={words}>
                  <td>{words}</td>
                  {[left, right].map((value, at) => (
                    <td key={at} className="mono" style={differs ? { color: 'var(--bad)', fontWeight: 600 } : {}}>
                      {text(value)}
                    </td>
                  ))}
                </tr>
              );
            })}
          </tbody>
        </table>
      </section>
      {(cutsDevices > 0 || lostBy !== '') && (
        <section className="section">
          <h3>Its spare</h3>
          {cutsDevices > 0 && (
            <p className="small">
              There is no other way: without it {cutWords(cutsDevices, Number(link.cutsEndpoints ?? 0))} cut off.
            </p>
          )}
          {lostBy !== '' && (
            <p className="small state" style={{ display: 'flex' }}>
              <Glyph name="fault" />{' '}
              <span>
                It had one until {moment(String(link.spareLostSince))}: {lostBy}.
              </span>
            </p>
          )}
        </section>
      )}
      {members.length > 0 && (
        <section className="section">
          <h3>Its cables</h3>
          <ul className="small">
            {members.map((pair) => (
              <li key={`${pair.a} ${pair.b}`} style={{ padding: '2px 0' }}>
                {pair.a && pair.b ? (
                  <>
                    <span className="mono">{pair.a}</span> — <span className="mono">{pair.b}</span>
                  </>
                ) : (
                  <>
                    <span className="mono">{pair.a || pair.b}</span> of {pair.a ? a.device : b.device}, at whose other
                    end nobody says who is
                  </>
                )}
              </li>
            ))}
          </ul>
        </section>
      )}
      <section className="section">
        <h3>Who says so</h3>
        <ul className="small">
          {evidence.map(({ detail }) => (
            <li key={detail} style={{ padding: '2px 0' }}>
              {detail}
            </li>
          ))}
        </ul>
      </section>
      <p className="section small">
        {[a, b].map((end, at) => (
          <span key={at}>
            {at > 0 && ' · '}
            {end.port ? (
              <Link
                href={view.href('/ports', { device: String(end.deviceId), sel: `port:${end.deviceId}:${end.port}` })}
              >
                {end.device} {end.port}
              </Link>
            ) : (
              <Link href={view.href('/estate', { sel: `device:${end.deviceId}` })}>{end.device}</Link>
            )}
          </span>
        ))}
      </p>
      <ThingHistory history={found.data?.history ?? []} />
    </>
  );
}
