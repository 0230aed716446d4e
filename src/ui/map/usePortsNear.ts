import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { DevicePorts } from '@/core/map/mapPorts';
import { againMs, ApiProblem, call } from '../lib/api';
import type { PortsNear } from './sockets';

/** As many as one question may name. */
export const mostAtOnce = 500;

/** Asks for the ports of devices. */
export type PortsAsked = (devices: readonly number[]) => Promise<PortsNear>;

/**
 * Ports of the devices that came near enough for them, kept while the same survey is looked at.
 * `near` tells which are in sight now: what is not there yet is asked for.
 */
export function usePortsNear(
  survey: number | null,
  against: number | null,
  vlan: number | null,
): { ports: PortsNear; near: (devices: readonly number[]) => void; ask: PortsAsked; problem: string } {
  const queries = useQueryClient();
  const asked = useMemo(
    () =>
      new URLSearchParams({
        ...(survey !== null && { survey: String(survey) }),
        ...(against !== null && { against: String(against) }),
        ...(vlan !== null && { vlan: String(vlan) }),
      }).toString(),
    [survey, against, vlan],
  );
  const [known, setKnown] = useState<{ asked: string; ports: PortsNear }>({ asked, ports: new Map() });
  const [problem, setProblem] = useState('');
  const pending = useRef(new Set<string>());
  const latest = useRef(asked);
  useEffect(() => {
    latest.current = asked;
  }, [asked]);
  const ask = useCallback<PortsAsked>(
    async (devices) => {
      const { rows } = await queries.fetchQuery({
        queryKey: ['map', 'ports', asked, devices],
        queryFn: ({ signal }) =>
          call<{ rows: DevicePorts[] }>(
            `map/ports?${new URLSearchParams([...new URLSearchParams(asked), ['devices', devices.join(',')]]).toString()}`,
            { signal },
          ),
        staleTime: 60_000,
      });
      return new Map(rows.map((row) => [row.device, row]));
    },
    [queries, asked],
  );
  // until those of another survey are there, the ones that were there stay
  const { ports } = known;
  const isKnown = useCallback((device: number) => known.asked === asked && known.ports.has(device), [known, asked]);
  const near = useCallback(
    (devices: readonly number[]) => {
      if (survey === null) return;
      const missing = devices
        .filter((device) => !isKnown(device) && !pending.current.has(`${asked} ${device}`))
        .slice(0, mostAtOnce);
      if (missing.length === 0) return;
      for (const device of missing) pending.current.add(`${asked} ${device}`);
      ask(missing)
        .then((found) => {
          if (latest.current !== asked) return;
          setProblem('');
          setKnown((before) => ({
            asked,
            ports: new Map([...(before.asked === asked ? before.ports : []), ...found]),
          }));
        })
        .catch((error: unknown) => setProblem(error instanceof ApiProblem ? error.words : 'That did not work.'))
        .finally(() => missing.forEach((device) => pending.current.delete(`${asked} ${device}`)));
    },
    [survey, isKnown, asked, ask],
  );
  // the map stands without them meanwhile
  const sought = useRef<readonly number[]>([]);
  const seek = useCallback(
    (devices: readonly number[]) => {
      sought.current = devices;
      near(devices);
    },
    [near],
  );
  useEffect(() => {
    if (!problem) return undefined;
    const again = setInterval(() => near(sought.current), againMs);
    return () => clearInterval(again);
  }, [problem, near]);
  return { ports, near: seek, ask, problem };
}
