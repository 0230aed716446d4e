'use client';

import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { basisWords } from '@/core/things/placementWords';
import { Link } from '@/ui/components/Link';
import { useTypedFind } from '../lib/useTypedFind';
import { useView } from '../lib/useView';
import { call, type ApiProblem } from '../lib/api';
import { moment } from '../lib/format';
import { Glyph } from '../components/Glyph';
import { ProblemNote } from '../components/ProblemNote';
import { PlaceTimeline, type Stay } from './PlaceTimeline';
import { PlainInput } from '../components/PlainInput';

interface Span extends Stay {
  deviceId: number | null;
  vlan: number | null;
  via: string | null;
  basis: keyof typeof basisWords | 'heard' | null;
  addresses: string[];
}
interface FoundPort {
  kind: 'endpoint' | 'device';
  id: string;
  words: string;
  mac: string;
  maker: string;
  spans: Span[];
  evidence: string[];
}
interface Answer {
  found: FoundPort[];
  surveys: string[];
}

const mostLinks = 4;
const viaWords: Record<string, string> = {
  unmanaged: 'with others, on an unmanaged segment',
  phone: 'behind a phone',
  wireless: 'by radio, through the access point there',
  virtual: 'a virtual machine on the hypervisor there',
};

/** On which port is it, and where was it before? */
export function FindPort() {
  const view = useView();
  const [text, setText] = useTypedFind();
  const input = useRef<HTMLInputElement>(null);
  const wanted = (view.find ?? '').trim();
  useEffect(() => input.current?.focus(), []);
  const { data, error } = useQuery<Answer, ApiProblem>({
    queryKey: ['places', wanted, view.survey],
    enabled: wanted !== '',
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: ({ signal }) =>
      call<Answer>(
        `places?${new URLSearchParams({ text: wanted, ...(view.survey && { survey: view.survey }) }).toString()}`,
        { signal },
      ),
  });
  return (
    <main className="work scrolls">
      <div className="titleline">
        <h1>Find a port</h1>
        <div className="filter" style={{ maxWidth: 460 }}>
          <PlainInput
            ref={input}
            type="text"
            aria-label="A MAC, address, host or serial"
            placeholder="a MAC in any notation, an address, a host or a serial"
            value={text}
            spellCheck={false}
            autoComplete="off"
            onChange={(event) => setText(event.target.value)}
          />
        </div>
        <Link href={view.href('/ports', { sel: null })}>Ports</Link>
      </div>
      <div className="foundports" aria-live="polite">
        {error && <ProblemNote problem={error} />}
        {wanted === '' && (
          <p className="quiet">Where something is plugged in, and where it was at every survey up to the one viewed.</p>
        )}
        {wanted !== '' && data && data.found.length === 0 && (
          <p>
            No survey up to the one viewed has heard of “{wanted}”.{' '}
            <span className="quiet">A MAC that was never heard, a name that nothing told, or a letter wrong.</span>
          </p>
        )}
        {wanted !== '' && data?.found.map((found) => <Found key={found.id} found={found} surveys={data.surveys} />)}
      </div>
    </main>
  );
}

function Found({
  found: { kind, id, words, mac, maker, spans, evidence },
  surveys,
}: {
  found: FoundPort;
  surveys: string[];
}) {
  const view = useView();
  const now = spans.filter(({ holds }) => holds);
  const placed = now.filter(({ deviceId }) => deviceId !== null);
  const [latest] = spans;
  const portLink = ({ deviceId, device, port }: Span) => (
    <Link href={view.href('/ports', { device: String(deviceId), sel: `port:${String(deviceId)}:${port ?? ''}` })}>
      <b>{device}</b> port <b className="mono">{port}</b>
    </Link>
  );
  return (
    <section className="section" aria-label={words}>
      <h2 className="sub">
        {kind === 'device' ? (
          <Link href={view.href('/estate', { sel: id })}>{words}</Link>
        ) : (
          <Link href={view.href('/estate', { of: 'endpoints', where: mac, sel: id })}>{words}</Link>
        )}
      </h2>
      <p className="quiet small">
        {mac !== words && <span className="mono">{mac}</span>} {maker}
        {kind === 'device' && 'inventoried device'}
      </p>
      {placed.slice(0, mostLinks).map((span) => (
        <p key={`${span.device} ${span.port ?? ''}`} className="state">
          <Glyph name="up" word="is there now" />
          <span>
            {kind === 'device' ? 'linked to ' : 'on '}
            {portLink(span)} since {moment(span.from)}
            {span.vlan !== null && `, VLAN ${span.vlan}`}
            {span.via && viaWords[span.via] && <span className="quiet">, {viaWords[span.via]}</span>}
            {span.basis && span.basis !== 'heard' && (
              <span className="quiet">; known by: {basisWords[span.basis]}</span>
            )}
          </span>
        </p>
      ))}
      {placed.length > mostLinks && (
        <p className="quiet">
          and {placed.length - mostLinks} more links,{' '}
          <Link href={view.href('/estate', { sel: id })}>in its dossier</Link>
        </p>
      )}
      {now.length > 0 && placed.length === 0 && (
        <p className="state">
          <Glyph name="unknown" word="place not known" />
          <span>is there now, and no table names its port</span>
        </p>
      )}
      {now.length === 0 && latest && (
        <p className="state">
          <Glyph name="down" word="not there now" />
          <span>
            not seen at the survey viewed; last {latest.deviceId === null ? 'heard' : <>on {portLink(latest)}</>}{' '}
            {moment(latest.last)}
          </span>
        </p>
      )}
      {spans.length === 0 && (
        <p className="quiet">No link of it is known: it speaks no LLDP, and no switch hears it.</p>
      )}
      {evidence.length > 0 && (
        <ul className="small quiet">
          {evidence.slice(0, 6).map((one) => (
            <li key={one}>{one}</li>
          ))}
        </ul>
      )}
      {spans.length > 0 && (kind === 'endpoint' || spans.length <= mostLinks) && (
        <PlaceTimeline label={words} stays={spans} surveys={surveys} />
      )}
      {spans.length > 1 && (kind === 'endpoint' || spans.length <= 2 * mostLinks) && (
        <table className="plain" style={{ maxWidth: 720 }}>
          <thead>
            <tr>
              <th>Port</th>
              <th>VLAN</th>
              <th>From</th>
              <th>Seen there last</th>
              <th>Addresses</th>
            </tr>
          </thead>
          <tbody>
            {spans.map((span, nth) => (
              <tr key={nth}>
                <td>{span.deviceId === null ? <span className="quiet">not known</span> : portLink(span)}</td>
                <td>{span.vlan}</td>
                <td>{moment(span.from)}</td>
                <td>{span.holds ? 'now' : moment(span.last)}</td>
                <td className="mono">{span.addresses.join(', ')}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
