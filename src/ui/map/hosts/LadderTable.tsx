'use client';

import type { HostLadder } from '@/core/topology/hostLadder';
import { formatSpeed } from '@/core/values/quantity';
import { teamingWords } from './LadderDrawing';
import { TextButton } from '../../components/TextButton';

/** The same as the drawing, in rows. */
export function LadderTable({
  ladder: { machines, switches, adapters },
  onPort,
}: {
  ladder: HostLadder;
  onPort: (deviceId: number, port: string) => void;
}) {
  return (
    <>
      {machines.length > 0 && (
        <section className="section">
          <h3>Machines</h3>
          <table className="plain">
            <thead>
              <tr>
                <th>Machine</th>
                <th>State</th>
                <th>MAC</th>
                <th>Group</th>
                <th>VLAN</th>
                <th>On</th>
              </tr>
            </thead>
            <tbody>
              {machines.flatMap(({ name, state, adapters: own }) =>
                (own.length > 0 ? own : [null]).map((adapter, at) => (
                  <tr key={`${name} ${at}`}>
                    <td>{name}</td>
                    <td>{state}</td>
                    <td className="mono">{adapter?.mac ?? ''}</td>
                    <td>{adapter?.group ?? ''}</td>
                    <td className="mono">{adapter?.vlan ?? ''}</td>
                    <td>{adapter ? adapter.switch || 'not told' : 'no adapter'}</td>
                  </tr>
                )),
              )}
            </tbody>
          </table>
        </section>
      )}
      <section className="section">
        <h3>Uplinks</h3>
        <table className="plain">
          <thead>
            <tr>
              <th>Adapter</th>
              <th>State</th>
              <th>MAC</th>
              <th>Uplink of</th>
              <th>Shared how</th>
              <th>Plugged into</th>
              <th>How sure</th>
            </tr>
          </thead>
          <tbody>
            {adapters.map(({ name, up, speedBps, mac, team, plug }) => (
              <tr key={name}>
                <td className="mono">{name}</td>
                <td>{up ? (speedBps ? formatSpeed(speedBps) : 'up') : 'no link'}</td>
                <td className="mono">{mac ?? ''}</td>
                <td>{team ?? <span className="quiet">nothing</span>}</td>
                <td>
                  {team === null ? '' : teamingWords[switches.find((own) => own.name === team)?.teaming ?? 'other']}
                </td>
                <td>
                  {plug ? (
                    <TextButton onClick={() => onPort(plug.deviceId, plug.port)}>
                      {plug.device} <span className="mono">{plug.port}</span>
                    </TextButton>
                  ) : (
                    <span className="quiet">not known</span>
                  )}
                </td>
                <td className="quiet">{plug ? plug.confidence : ''}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
    </>
  );
}
