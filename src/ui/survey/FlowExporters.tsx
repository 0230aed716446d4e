'use client';

import { useQuery } from '@tanstack/react-query';
import { Glyph } from '../components/Glyph';
import { call } from '../lib/api';

interface Exporter {
  exporter: string;
  version: number;
  domain: number;
  records: number;
  missed: number;
  waiting: number;
  givenUp: number;
  restarts: number;
  sampling: number;
}
interface FlowState {
  listens: string;
  exporters: Exporter[];
  strangers: { address: string; datagrams: number }[];
  unreadable: number;
  lastFault: string;
  overflowed: number;
  unwritten?: number;
  givenUp?: number;
  dropped: number | null;
}

const everyMs = 5000;
const count = (number: number) => number.toLocaleString('en');
const counted = (number: number, one: string) => `${count(number)} ${one}${number === 1 ? '' : 's'}`;

/** Who exports flows to here, and what of it was lost; nothing where nobody was asked to hear them. */
export function FlowExporters() {
  const { data } = useQuery<{ state: FlowState | null }>({
    queryKey: ['flows'],
    queryFn: () => call('flows'),
    refetchInterval: everyMs,
  });
  const state = data?.state;
  if (!state) return null;
  const { exporters, strangers, unreadable, lastFault, overflowed, givenUp, dropped } = state;
  const losses = [
    ...(dropped ? [`${counted(dropped, 'datagram')} came faster than could be read.`] : []),
    ...(givenUp ? [`${counted(givenUp, 'conversation')} could not be written for long, and were given up.`] : []),
    ...(overflowed ? [`${counted(overflowed, 'record')} more than could be counted.`] : []),
    ...(unreadable ? [`${counted(unreadable, 'datagram')} could not be read; the last one: ${lastFault}.`] : []),
  ];
  return (
    <div style={{ padding: '0 16px 16px' }}>
      <h2 className="sub">Exporters of flows: heard at {state.listens}</h2>
      {exporters.length === 0 ? (
        <p className="small quiet">
          Nothing was heard yet. Devices that are known are let in, and those that --flows-from names.
        </p>
      ) : (
        <table className="plain">
          <thead>
            <tr>
              <th>Exporter</th>
              <th>By</th>
              <th>Records</th>
              <th>Lost on the way</th>
              <th>One of so many counted</th>
            </tr>
          </thead>
          <tbody>
            {exporters.map((one) => (
              <tr key={`${one.exporter} ${one.version} ${one.domain}`}>
                <td className="mono">{one.exporter}</td>
                <td>{one.version === 10 ? 'IPFIX' : `NetFlow ${one.version}`}</td>
                <td>{count(one.records)}</td>
                <td>
                  {one.missed > 0 ? <Glyph name="fault" word="lost" /> : null} {count(one.missed)}
                  {one.waiting + one.givenUp > 0 && (
                    <span className="quiet"> {counted(one.waiting + one.givenUp, 'set')} without a template</span>
                  )}
                </td>
                <td>{one.sampling === 1 ? 'all' : count(one.sampling)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {losses.map((words) => (
        <p key={words} className="small bad">
          {words}
        </p>
      ))}
      {strangers.length > 0 && (
        <p className="small quiet">
          Not let in:{' '}
          {strangers.map(({ address, datagrams }) => `${address} (${counted(datagrams, 'datagram')})`).join(', ')}
        </p>
      )}
    </div>
  );
}
