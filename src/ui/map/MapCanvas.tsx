'use client';

import { useCallback, useEffect, useImperativeHandle, useMemo, useRef, useState, type Ref } from 'react';
import { plateHeight, plateWidth } from '@/core/layout/bay';
import { neighbourSocket } from '@/core/layout/faceplateRows';
import { useThemeChoice } from '../theme/ThemeRegistry';
import {
  insideVisible,
  inSightOf,
  portsToldFrom,
  portsVisible,
  restingScale,
  segmentBox,
  sitePlate,
  touches,
  type Folding,
  type InSight,
  type Window,
} from './distance';
import { draw, shownCurve } from './drawing';
import { paletteOf, type Palette } from './palette';
import { MapCard } from './MapCard';
import { MiniMap } from './MiniMap';
import { CanvasPen, forgetWidths } from './pen';
import { around, boxOf, centreOf, pointOnCurve, type DrawnPlate, type DrawnSite, type Picture } from './picture';
import { portOfSel, socketAt, socketPlanOf, type PortsNear } from './sockets';

interface Sight {
  x: number;
  y: number;
  scale: number;
}

/** What others may ask of the map. */
export interface MapHandle {
  focus: () => void;
  /** brings something into the middle, large enough to read */
  bring: (sel: string) => void;
  scale: () => number;
}

interface MapCanvasProps {
  picture: Picture;
  folding: Folding;
  /** ports of those that are near, as far as they are there */
  ports: PortsNear;
  /** which devices are near enough for their ports, whenever that are others */
  onNear: (devices: number[]) => void;
  chosen: string | null;
  onChoose: (sel: string | null) => void;
  onFold: (site: string) => void;
  /** the chosen device or site was dragged so far on the plane */
  onMove: (sel: string, dx: number, dy: number) => void;
  /** everything back to where it is placed */
  onAutomatic: () => void;
  /** the words of the legend, when they are others */
  onSight: (words: InSight) => void;
  label: string;
  handle: Ref<MapHandle>;
}

const [nearest, farthest] = [6, 0.06];
/** how much nearer each further step leads, once ports are told apart */
const nearerBy = 1.5;
const directions: Record<string, { x: number; y: number } | undefined> = {
  ArrowLeft: { x: -1, y: 0 },
  ArrowRight: { x: 1, y: 0 },
  ArrowUp: { x: 0, y: -1 },
  ArrowDown: { x: 0, y: 1 },
};
/** a map that was let alone for so long is drawn whole */
const restMs = 120;
/** what one may move */
const movable = /^(device|site):/;
/** how far a key moves something on the plane */
const stride = 16;

/** The box around some devices; null where none of them is shown. */
function aroundPlates(
  { plates }: Picture,
  ids: ReadonlySet<number>,
): { x: number; y: number; width: number; height: number } | null {
  const found = plates.filter(({ device }) => ids.has(device.id));
  if (found.length === 0) return null;
  const [x, y] = [Math.min(...found.map((plate) => plate.x)), Math.min(...found.map((plate) => plate.y))];
  return {
    x,
    y,
    width: Math.max(...found.map((plate) => plate.x)) + plateWidth - x,
    height: Math.max(...found.map((plate) => plate.y)) + plateHeight - y,
  };
}

interface Fitted {
  sight: Sight;
  box: ReturnType<typeof boxOf>;
}

/** The drawn map: drag pans, the wheel zooms, a click selects; arrows walk along links, + and − zoom, 0 shows everything, Enter goes nearer, P to the ports of a device and back, F folds a site. What is chosen is moved by dragging it or by Shift and arrows; A puts everything back. */
export function MapCanvas({
  picture,
  folding,
  ports,
  onNear,
  chosen,
  onChoose,
  onFold,
  onMove,
  onAutomatic,
  onSight,
  label,
  handle,
}: MapCanvasProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [sight, setSight] = useState<Sight | null>(null);
  /** how all of it was fitted before a panel took some of the room: so it stays as long as the same is drawn */
  const [held, setHeld] = useState<Fitted | null>(null);
  const fitted = useRef<Fitted | null>(null);
  const showAll = () => {
    setSight(null);
    setHeld(null);
  };
  const [size, setSize] = useState({ width: 0, height: 0 });
  const { name: theme } = useThemeChoice();
  const drag = useRef<{ x: number; y: number; moved: boolean; carries: string | null } | null>(null);
  const [ghost, setGhost] = useState<{ sel: string; dx: number; dy: number } | null>(null);
  const box = useMemo(() => boxOf(picture), [picture]);

  useEffect(() => {
    if (!canvas.current) return undefined;
    let screen = `${window.innerWidth} ${window.innerHeight}`;
    const observer = new ResizeObserver(([entry]) => {
      if (!entry) return;
      const now = `${window.innerWidth} ${window.innerHeight}`;
      // a panel that opens beside the map must not move it; another window may
      setHeld(now === screen ? fitted.current : null);
      screen = now;
      setSize({ width: entry.contentRect.width, height: entry.contentRect.height });
    });
    observer.observe(canvas.current);
    return () => observer.disconnect();
  }, []);
  const whole = useMemo((): Sight => {
    const scale = restingScale(
      Math.max(
        farthest,
        Math.min(1.25, (size.width - 32) / Math.max(1, box.width), (size.height - 60) / Math.max(1, box.height)),
      ),
    );
    return {
      scale,
      x: (size.width - box.width * scale) / 2 - box.x * scale,
      y: (size.height - 26 - box.height * scale) / 2 - box.y * scale,
    };
  }, [size, box]);
  const isHeld = held !== null && JSON.stringify(held.box) === JSON.stringify(box);
  const current = sight ?? (isHeld ? held.sight : whole);
  useEffect(() => {
    // nothing is fitted before the size is known
    if (size.width > 0) fitted.current = { sight: current, box };
  });
  const windowOf = useCallback(
    ({ x, y, scale }: Sight): Window => ({
      left: -x / scale,
      top: -y / scale,
      right: (size.width - x) / scale,
      bottom: (size.height - y) / scale,
    }),
    [size],
  );

  const placeOf = useCallback(
    (sel: string): { x: number; y: number; width: number; height: number } | null => {
      if (sel.startsWith('devices:'))
        return aroundPlates(picture, new Set(sel.slice('devices:'.length).split(',').map(Number)));
      const own = /^(?:device|port):(\d+)/.exec(sel)?.[1];
      const plate = picture.plates.find(({ device }) => own === String(device.id));
      if (plate) return { x: plate.x, y: plate.y, width: plateWidth, height: plateHeight };
      const link = picture.links.find((own) => sel === `link:${own.link.id}`);
      if (link)
        return {
          x: Math.min(link.from.x, link.to.x),
          y: Math.min(link.from.y, link.to.y),
          width: Math.abs(link.from.x - link.to.x) + plateWidth,
          height: Math.abs(link.from.y - link.to.y) + plateHeight,
        };
      return picture.sites.find(({ bay }) => sel === `site:${bay.site}`)?.bay ?? null;
    },
    [picture],
  );
  const show = useCallback(
    (sel: string, how: 'walk' | 'bring' | 'nearer') => {
      const place = placeOf(sel);
      const nearer = how === 'nearer';
      if (!place || size.width === 0) return;
      setSight((before) => {
        const now = before ?? whole;
        const fits = Math.min((size.width - 60) / place.width, (size.height - 80) / place.height);
        const step = now.scale < portsToldFrom ? portsToldFrom : Math.min(nearest, now.scale * nearerBy);
        const wanted =
          sel.startsWith('site:') || sel.startsWith('devices:')
            ? Math.min(1.2, fits)
            : Math.min(fits, nearer ? step : Math.max(now.scale, 0.8));
        // who walks from site to site stays as far
        const scale = restingScale(
          (
            how === 'walk' && sel.startsWith('site:')
              ? false
              : nearer || wanted > now.scale || sel.startsWith('devices:')
          )
            ? wanted
            : now.scale,
        );
        const [x, y] = [place.x * scale + now.x, place.y * scale + now.y];
        if (
          !nearer &&
          scale === now.scale &&
          x > 8 &&
          y > 8 &&
          x + place.width * scale < size.width - 8 &&
          y + place.height * scale < size.height - 40
        )
          return before;
        return {
          scale,
          x: size.width / 2 - (place.x + place.width / 2) * scale,
          y: size.height / 2 - (place.y + place.height / 2) * scale,
        };
      });
    },
    [placeOf, size, whole],
  );
  useImperativeHandle(
    handle,
    () => ({ focus: () => canvas.current?.focus(), bring: (sel) => show(sel, 'bring'), scale: () => current.scale }),
    [show, current.scale],
  );

  const begun = useRef(false);
  useEffect(() => {
    // a map opened on something begins there, large enough to read
    if (size.width === 0 || begun.current) return;
    begun.current = true;
    if (chosen && !chosen.startsWith('site:')) show(chosen, 'bring');
  }, [size.width, chosen, show]);
  const wasWide = useRef(0);
  useEffect(() => {
    // a panel that opens beside the map covers nothing that is chosen
    const narrower = size.width < wasWide.current;
    wasWide.current = size.width;
    if (narrower && chosen && sight) show(chosen, 'walk');
  }, [size.width, chosen, sight, show]);

  // read once for each theme: to read them makes the browser work out all styles
  const palette = useRef<{ theme: string; colours: Palette } | null>(null);
  const coloursOf = useCallback((element: Element, name: string): Palette => {
    if (palette.current?.theme !== name) palette.current = { theme: name, colours: paletteOf(element) };
    return palette.current.colours;
  }, []);

  const told = useRef('');
  const changed = useRef(0);
  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext('2d');
    if (!element || !context || size.width === 0) return undefined;
    const ratio = window.devicePixelRatio || 1;
    const [width, height] = [Math.round(size.width * ratio), Math.round(size.height * ratio)];
    if (element.width !== width) element.width = width;
    if (element.height !== height) element.height = height;
    const inSight = windowOf(current);
    const pen = new CanvasPen(context);
    const colours = coloursOf(element, theme);
    const paint = (quick = false) => {
      context.setTransform(1, 0, 0, 1, 0, 0);
      context.clearRect(0, 0, width, height);
      context.setTransform(ratio * current.scale, 0, 0, ratio * current.scale, ratio * current.x, ratio * current.y);
      draw(pen, picture, colours, { scale: current.scale, window: inSight, folding, chosen, ports, quick });
      pen.flush();
    };
    // many turns of a wheel are one picture, and while it moves nobody reads the small print
    const moves = performance.now() - changed.current < restMs;
    changed.current = performance.now();
    const frame = requestAnimationFrame(() => paint(moves));
    const settled = setTimeout(() => {
      if (moves) paint();
      if (portsVisible(current.scale) > 0)
        onNear(
          picture.plates
            .filter(
              ({ device, x, y }) =>
                insideVisible(device.site, current.scale, folding) > 0 &&
                touches(inSight, x, y, plateWidth, plateHeight),
            )
            .map(({ device }) => device.id),
        );
      const words = inSightOf(picture, inSight, current.scale, folding, ports);
      const text = JSON.stringify(words);
      if (text !== told.current) onSight(words);
      told.current = text;
    }, restMs);
    let dropped = false;
    // once the fonts are there, what was drawn without them is drawn again
    if (document.fonts.status !== 'loaded')
      void document.fonts.ready.then(() => {
        forgetWidths();
        if (!dropped) requestAnimationFrame(() => !dropped && paint());
      });
    return () => {
      dropped = true;
      cancelAnimationFrame(frame);
      clearTimeout(settled);
    };
  }, [picture, current, size, chosen, theme, folding, ports, onNear, windowOf, onSight, coloursOf]);

  const zoom = useCallback(
    (factor: number, atX = size.width / 2, atY = size.height / 2) => {
      setSight((before) => {
        const now = before ?? whole;
        const scale = Math.max(Math.min(farthest, whole.scale), Math.min(nearest, now.scale * factor));
        return { scale, x: atX - ((atX - now.x) / now.scale) * scale, y: atY - ((atY - now.y) / now.scale) * scale };
      });
    },
    [whole, size],
  );
  useEffect(() => {
    const element = canvas.current;
    if (!element) return undefined;
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      zoom(Math.exp(-event.deltaY * 0.0015), event.offsetX, event.offsetY);
    };
    element.addEventListener('wheel', wheel, { passive: false });
    return () => element.removeEventListener('wheel', wheel);
  }, [zoom]);

  const hit = (offsetX: number, offsetY: number): string | null => {
    const { scale } = current;
    const [x, y] = [(offsetX - current.x) / scale, (offsetY - current.y) / scale];
    const inside = new Map(picture.sites.map(({ bay }) => [bay.site, insideVisible(bay.site, scale, folding) >= 0.5]));
    const isIn = (place: { x: number; y: number; width: number; height: number }) =>
      x >= place.x && x <= place.x + place.width && y >= place.y && y <= place.y + place.height;
    const plate = picture.plates.findLast(
      (own) => inside.get(own.device.site) && isIn({ x: own.x, y: own.y, width: plateWidth, height: plateHeight }),
    );
    if (plate) {
      const own = portsVisible(scale) > 0.5 ? ports.get(plate.device.id) : undefined;
      const port = own && socketAt(plate, own, x, y);
      return port ? `port:${plate.device.id}:${port.name}` : `device:${plate.device.id}`;
    }
    const segment = picture.segments.find(
      (own) => own.joins.some(({ device }) => inside.get(device.site)) && isIn(segmentBox(own, scale)),
    );
    if (segment) return segment.sel;
    const site = picture.sites.find((own) => !inside.get(own.bay.site) && isIn(sitePlate(own, scale)));
    if (site) return `site:${site.bay.site}`;
    const reach = 7 / Math.min(1.4, scale);
    const siteBy = (name: string) => picture.sites.find(({ bay }) => bay.site === name) ?? null;
    let best: { id: string; distance: number } | null = null;
    for (const own of picture.links) {
      const [near, far] = [own.from.device.site, own.to.device.site];
      const folded = { from: inside.get(near) ? null : siteBy(near), to: inside.get(far) ? null : siteBy(far) };
      if ((folded.from && folded.to) || own.link.segment) continue;
      const curve = shownCurve(own, scale, folded);
      const { left, top, right, bottom } = folded.from || folded.to ? around(curve) : own.within;
      if (x < left - reach || x > right + reach || y < top - reach || y > bottom + reach) continue;
      for (let step = 0; step <= 30; step++) {
        const point = pointOnCurve(curve, step / 30);
        const distance = Math.hypot(point.x - x, point.y - y);
        if (distance < reach && (!best || distance < best.distance)) best = { id: own.link.id, distance };
      }
    }
    if (best) return `link:${best.id}`;
    // the empty part of a bay is the site
    return picture.sites.find(({ bay }) => inside.get(bay.site) && isIn({ ...bay, height: 22 }))
      ? `site:${picture.sites.find(({ bay }) => isIn({ ...bay, height: 22 }))?.bay.site ?? ''}`
      : null;
  };

  const intoPorts = useCallback(
    (device: number) => {
      const own = ports.get(device);
      const first = own && socketPlanOf(own).sockets[0]?.port;
      if (first) onChoose(`port:${device}:${first.name}`);
    },
    [ports, onChoose],
  );
  /** the device whose ports are gone to once they are there, unless something else was chosen meanwhile */
  const awaited = useRef<number | null>(null);
  useEffect(() => {
    const device = awaited.current;
    if (device === null || !ports.has(device)) return;
    awaited.current = null;
    if (chosen === `device:${device}`) intoPorts(device);
  }, [ports, chosen, intoPorts]);

  /** From a device to its ports, and from a port back to its device. */
  const toPorts = () => {
    const port = portOfSel(chosen);
    if (port) {
      onChoose(`device:${port.device}`);
      return;
    }
    const device = Number(/^device:(\d+)$/.exec(chosen ?? '')?.[1]);
    if (!device) return;
    if (current.scale < portsToldFrom) show(`device:${device}`, 'nearer');
    if (ports.has(device)) intoPorts(device);
    else awaited.current = device;
  };

  /** Along the ports of a device, as they stand on its plate. Whether a port is chosen. */
  const walkPorts = (key: string): boolean => {
    const port = portOfSel(chosen);
    const own = port && ports.get(port.device);
    const next = own && neighbourSocket(socketPlanOf(own).rows, port.name, key);
    if (next) onChoose(`port:${port.device}:${next.name}`);
    return port !== null;
  };

  /** Along the links from what is chosen: devices where they are to be seen, sites where they stand for their devices. */
  const walk = (key: string) => {
    const direction = directions[key];
    if (!direction) return;
    const here = chosen?.startsWith('device:')
      ? picture.plates.find(({ device }) => chosen === `device:${device.id}`)
      : undefined;
    const site = chosen?.startsWith('site:')
      ? picture.sites.find(({ bay }) => chosen === `site:${bay.site}`)
      : undefined;
    const steps: { sel: string; dx: number; dy: number }[] = [];
    if (here) {
      for (const { from, to } of picture.links) {
        const other: DrawnPlate | null = from === here ? to : to === here ? from : null;
        if (other && other !== here)
          steps.push({ sel: `device:${other.device.id}`, dx: other.x - here.x, dy: other.y - here.y });
      }
    } else if (site && insideVisible(site.bay.site, current.scale, folding) >= 0.5) {
      // one that is open is walked into
      const [first] = [...site.devices].sort((a, b) => a.y - b.y || a.x - b.x);
      if (first) steps.push({ sel: `device:${first.device.id}`, dx: direction.x, dy: direction.y });
    } else if (site) {
      const at = centreOf(site);
      for (const { from, to } of picture.bundles) {
        const other: DrawnSite | null = from === site ? to : to === site ? from : null;
        if (other)
          steps.push({ sel: `site:${other.bay.site}`, dx: centreOf(other).x - at.x, dy: centreOf(other).y - at.y });
      }
    } else {
      const far = picture.sites[0];
      const first = picture.plates[0];
      const start =
        far && insideVisible(far.bay.site, current.scale, folding) < 0.5
          ? `site:${far.bay.site}`
          : first && `device:${first.device.id}`;
      if (start) {
        onChoose(start);
        show(start, 'walk');
      }
      return;
    }
    const [ahead] = steps
      .map(({ sel, dx, dy }) => ({
        sel,
        along: dx * direction.x + dy * direction.y,
        aside: Math.abs(dx * direction.y) + Math.abs(dy * direction.x),
      }))
      .filter(({ along }) => along > 0)
      .sort((a, b) => a.aside / a.along - b.aside / b.along || a.along - b.along);
    if (!ahead) return;
    onChoose(ahead.sel);
    show(ahead.sel, 'walk');
  };
  const [pointed, setPointed] = useState<{ sel: string; x: number; y: number; seen: Sight } | null>(null);
  const pointing = useRef(0);
  /** what is under a pointer that came to rest is told */
  const point = (at: { clientX: number; clientY: number; currentTarget: Element } | null) => {
    clearTimeout(pointing.current);
    if (pointed) setPointed(null);
    if (!at) return;
    const { clientX: x, clientY: y } = at;
    const corner = at.currentTarget.getBoundingClientRect();
    pointing.current = window.setTimeout(() => {
      const sel = hit(x - corner.left, y - corner.top);
      if (sel) setPointed({ sel, x, y, seen: current });
    }, restMs);
  };
  useEffect(() => () => clearTimeout(pointing.current), []);
  const fold = () => {
    const site = chosen?.startsWith('site:')
      ? chosen.slice(5)
      : picture.plates.find(({ device }) => chosen === `device:${device.id}`)?.device.site;
    if (site !== undefined) onFold(site);
  };

  return (
    <>
      <canvas
        ref={canvas}
        role="application"
        aria-label={label}
        tabIndex={0}
        data-scale={current.scale.toFixed(3)}
        data-at={`${Math.round(current.x)},${Math.round(current.y)}`}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          const corner = event.currentTarget.getBoundingClientRect();
          const under =
            chosen !== null && movable.test(chosen)
              ? hit(event.clientX - corner.left, event.clientY - corner.top)
              : null;
          drag.current = { x: event.clientX, y: event.clientY, moved: false, carries: under === chosen ? under : null };
        }}
        onPointerMove={(event) => {
          const held = drag.current;
          point(held ? null : event);
          if (!held) return;
          const [dx, dy] = [event.clientX - held.x, event.clientY - held.y];
          if (!held.moved && Math.hypot(dx, dy) < 4) return;
          if (held.carries !== null) {
            drag.current = { ...held, moved: true };
            setGhost({ sel: held.carries, dx, dy });
            return;
          }
          drag.current = { x: event.clientX, y: event.clientY, moved: true, carries: null };
          setSight((before) => {
            const now = before ?? whole;
            return { ...now, x: now.x + dx, y: now.y + dy };
          });
        }}
        onPointerLeave={() => point(null)}
        onPointerUp={(event) => {
          const held = drag.current;
          drag.current = null;
          setGhost(null);
          if (held?.carries && held.moved)
            onMove(held.carries, (event.clientX - held.x) / current.scale, (event.clientY - held.y) / current.scale);
          else if (held && !held.moved) {
            const corner = event.currentTarget.getBoundingClientRect();
            onChoose(hit(event.clientX - corner.left, event.clientY - corner.top));
          }
        }}
        onDoubleClick={(event) => {
          const corner = event.currentTarget.getBoundingClientRect();
          const sel = hit(event.clientX - corner.left, event.clientY - corner.top);
          if (sel) show(sel, 'nearer');
          else zoom(1.6, event.clientX - corner.left, event.clientY - corner.top);
        }}
        onKeyDown={(event) => {
          if (event.ctrlKey || event.metaKey || event.altKey) return;
          if (event.key === '+' || event.key === '=') zoom(1.25);
          else if (event.key === '-') zoom(0.8);
          else if (event.key === '0') showAll();
          else if (event.key === 'Enter' && chosen) show(chosen, 'nearer');
          else if (event.key === 'f') fold();
          else if (event.key === 'p') toPorts();
          else if ((event.key === 'Home' || event.key === 'End') && walkPorts(event.key)) {
            /* it went there */
          } else if (event.key === 'a') onAutomatic();
          else if (event.key.startsWith('Arrow')) {
            const by = directions[event.key];
            if (event.shiftKey && chosen && by && movable.test(chosen)) onMove(chosen, by.x * stride, by.y * stride);
            else if (!walkPorts(event.key)) walk(event.key);
          } else return;
          event.preventDefault();
        }}
      />
      {pointed?.seen === current && (
        <MapCard sel={pointed.sel} x={pointed.x} y={pointed.y} picture={picture} ports={ports} />
      )}
      {ghost && <Ghost place={placeOf(ghost.sel)} sight={current} ghost={ghost} />}
      <div className="zoomer">
        <button type="button" aria-label="Zoom in" onClick={() => zoom(1.25)}>
          +
        </button>
        <button type="button" aria-label="Zoom out" onClick={() => zoom(0.8)}>
          −
        </button>
        <button type="button" aria-label="0, show everything" title="Show everything (0)" onClick={showAll}>
          0
        </button>
      </div>
      <MiniMap
        picture={picture}
        window={windowOf(current)}
        onMove={(x, y) =>
          setSight({
            scale: current.scale,
            x: size.width / 2 - x * current.scale,
            y: size.height / 2 - y * current.scale,
          })
        }
      />
    </>
  );
}

/** Where something will be when it is let go. */
function Ghost({
  place,
  sight: { x, y, scale },
  ghost: { dx, dy },
}: {
  place: { x: number; y: number; width: number; height: number } | null;
  sight: Sight;
  ghost: { dx: number; dy: number };
}) {
  if (!place) return null;
  return (
    <div
      className="mapghost"
      style={{
        left: place.x * scale + x + dx,
        top: place.y * scale + y + dy,
        width: place.width * scale,
        height: place.height * scale,
      }}
    />
  );
}
