import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import type { MapLayout } from '@/core/layout/estateLayout';
import type { MapData } from '@/core/map/mapData';
import { call, type ApiProblem } from '../lib/api';

/** Devices and links of a survey. @param vlan also who carries it @param network also who has to do with it */
export function useMapData(survey: string | null, against: string | null, vlan: number | null, network: string | null) {
  const asked = new URLSearchParams({
    ...(survey && { survey }),
    ...(against && { against }),
    ...(vlan !== null && { vlan: String(vlan) }),
    ...(network !== null && { network }),
  }).toString();
  return useQuery<MapData, ApiProblem>({
    queryKey: ['map', asked],
    queryFn: ({ signal }) => call<MapData>(`map${asked ? `?${asked}` : ''}`, { signal }),
    placeholderData: keepPreviousData,
  });
}

/** Where things stand, worked out in a worker; null until it is known. */
export function useMapLayout(data: MapData | undefined): MapLayout | null {
  const [layout, setLayout] = useState<MapLayout | null>(null);
  const ever = data?.ever;
  useEffect(() => {
    if (!ever) return undefined;
    const worker = new Worker(new URL('./layout.worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data: found }: MessageEvent<MapLayout>) => setLayout(found);
    worker.postMessage(ever);
    return () => worker.terminate();
  }, [ever]);
  return layout;
}
