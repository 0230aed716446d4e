import { useMemo, useState } from 'react';
import type { MapLayout } from '@/core/layout/estateLayout';
import { applyPins, parsePins, withPin, writePins, type Pin } from '@/core/layout/pins';
import type { MapData } from '@/core/map/mapData';
import type { useView } from '../lib/useView';
import { usePreference } from '../lib/usePreference';

/** So many moves can be taken back. */
const mostSteps = 100;

/** What a person moved on the map: kept for them, and in the address, so that whoever opens it sees the same. */
export function usePins(view: ReturnType<typeof useView>, layout: MapLayout | null, data: MapData | undefined) {
  const [own, keep] = usePreference('map.pins', '');
  const [past, setPast] = useState<Pin[][]>([]);
  const written = view.pins ?? own;
  const pins = useMemo(() => parsePins(written), [written]);
  const siteOf = useMemo(() => new Map(data?.ever.devices.map(({ id, site }) => [id, site])), [data?.ever]);
  const placed = useMemo(
    () => (layout ? applyPins(layout, pins, (id) => siteOf.get(id)) : null),
    [layout, pins, siteOf],
  );
  const remember = () => setPast((steps) => [...steps, pins].slice(-mostSteps));
  const put = (next: Pin[]) => {
    const text = writePins(next);
    keep(text);
    view.set({ pins: text });
  };
  return {
    pins,
    placed,
    /** @param dx how far on the plane */
    move: (sel: string, dx: number, dy: number) => {
      const site = /^site:(.*)$/.exec(sel)?.[1];
      const id = Number(/^device:(\d+)$/.exec(sel)?.[1] ?? 0);
      const from =
        site !== undefined
          ? placed?.bays.find((bay) => bay.site === site)
          : placed?.plates.find((plate) => plate.id === id);
      if (!from) return;
      remember();
      // what was put somewhere by itself goes along with its site
      const carried =
        site === undefined
          ? pins
          : pins.map((pin) =>
              'device' in pin.of && siteOf.get(pin.of.device) === site
                ? { ...pin, x: Math.round(pin.x + dx), y: Math.round(pin.y + dy) }
                : pin,
            );
      put(withPin(carried, { of: site === undefined ? { device: id } : { site }, x: from.x + dx, y: from.y + dy }));
    },
    automatic: () => {
      if (pins.length === 0) return;
      remember();
      put([]);
    },
    /** takes back what was moved last, or that everything was put back; null where nothing was */
    undo:
      past.length === 0
        ? null
        : () => {
            put(past.at(-1) ?? []);
            setPast((steps) => steps.slice(0, -1));
          },
  };
}
