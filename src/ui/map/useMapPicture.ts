import { useMemo } from 'react';
import { within } from '@/core/map/focus';
import { netOf, overlayRule, parseOverlay, tracedRule, vlanOf } from '@/core/map/overlay';
import type { useView } from '../lib/useView';
import { useThingPage } from '../components/table/thingPages';
import { pictureOf } from './picture';
import { useTrace } from './trace/useTrace';
import { useMapData, useMapLayout } from './useMapData';
import { usePins } from './usePins';

export const mostLinks = 1000;

/** The picture that the address of a page asks for: of which survey, coloured by what, around what, with what somebody moved. */
export function useMapPicture(view: ReturnType<typeof useView>) {
  const overlay = parseOverlay(view.over);
  const data = useMapData(view.survey, view.against, vlanOf(overlay), netOf(overlay));
  const pinned = usePins(view, useMapLayout(data.data), data.data);
  const layout = pinned.placed;
  const filtered = useThingPage(
    'links',
    { survey: view.survey, against: view.against, where: view.where, size: mostLinks },
    view.where !== '',
  );
  const tracing = view.of === 'trace';
  const lit = useTrace(tracing, view.from, view.to, view.survey);
  const rule = useMemo(() => (lit.lit ? tracedRule(lit.lit) : overlayRule(overlay)), [overlay, lit.lit]);
  const wanted = useMemo(() => {
    const links = view.where && filtered.data ? new Set(filtered.data.rows.map(({ id }) => id)) : null;
    return {
      devices: around(data.data?.devices ?? [], data.data?.links ?? [], view.near, stepsOf(view.steps), links),
      links,
      hide: view.rest === 'hide',
      outlined: view.outline,
    };
  }, [data.data, view.where, filtered.data, view.near, view.steps, view.rest, view.outline]);
  const picture = useMemo(
    () => (layout && data.data ? pictureOf(data.data, layout, rule, wanted) : null),
    [layout, data.data, rule, wanted],
  );
  return { overlay, data, pinned, layout, filtered, tracing, lit, rule, picture };
}

type Devices = NonNullable<ReturnType<typeof useMapData>['data']>['devices'];
type Links = NonNullable<ReturnType<typeof useMapData>['data']>['links'];

/** The devices that are looked for: around something, and at the ends of links that fit. Null for all. */
function around(
  devices: Devices,
  links: Links,
  near: string | null,
  steps: number,
  fitting: ReadonlySet<string> | null,
): Set<number> | null {
  const ends =
    fitting === null ? null : new Set(links.flatMap(({ id, a, b }) => (fitting.has(id) ? [a.device, b.device] : [])));
  if (near === null) return ends;
  const start = near.startsWith('site:')
    ? devices.filter(({ site }) => `site:${site}` === near).map(({ id }) => id)
    : [Number(near.slice('device:'.length))];
  const found = within(
    start,
    links.map(({ a, b }) => ({ a: a.device, b: b.device })),
    steps,
  );
  return ends === null ? found : new Set([...found].filter((id) => ends.has(id)));
}

export const nearWords = (near: string, devices: Devices): string =>
  near.startsWith('site:')
    ? near.slice(5) || 'no site'
    : (devices.find(({ id }) => `device:${id}` === near)?.name ?? 'a device that is not there');

export const stepsOf = (text: string | null): number => (text !== null && /^[0-9]$/.test(text) ? Number(text) : 1);
