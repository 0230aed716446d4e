'use client';

import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react';
import { compareNaturally } from '@/core/values/naturalOrder';
import { Glyph, deviceGlyph, portGlyph } from '../components/Glyph';
import { newsOf } from './newsOf';
import type { DrawnLink, DrawnPlate, Picture } from './picture';
import { joinedIn, portOfSel, type PortsNear } from './sockets';
import { PlainInput } from '../components/PlainInput';

/** `key` tells the two lines of a link apart, one below each of its devices. */
type Line = {
  key: string;
  sel: string;
  depth: 0 | 1 | 2;
  words: string;
  more: string;
  state: 'up' | 'fault' | 'silent' | 'none';
  open: boolean | null;
};

const lineHeight = 24;

/** The same as the map as a list: sites, their devices, and of what is chosen its links, and its ports once one is near. Arrow keys walk it, right and left open and close, Enter goes to it on the map. */
export function MapList({
  picture,
  ports,
  chosen,
  onChoose,
  onShow,
}: {
  picture: Picture;
  ports: PortsNear;
  chosen: string | null;
  onChoose: (sel: string) => void;
  onShow: (sel: string) => void;
}) {
  const [text, setText] = useState('');
  const [closed, setClosed] = useState<ReadonlySet<string>>(new Set());
  const box = useRef<HTMLDivElement>(null);
  const [here, setHere] = useState('');
  const lines = useMemo(
    () => linesOf(picture, ports, chosen, here, text.trim().toLowerCase(), closed),
    [picture, ports, chosen, here, text, closed],
  );
  const walked = lines.findIndex(({ key, sel }) => key === here && sel === chosen);
  const at = walked >= 0 ? walked : lines.findIndex(({ sel }) => sel === chosen);
  const take = ({ key, sel }: Line) => {
    setHere(key);
    onChoose(sel);
  };
  const rows = useVirtualizer({
    count: lines.length,
    getScrollElement: () => box.current,
    estimateSize: () => lineHeight,
    overscan: 12,
  });
  // what was chosen on the map is brought into sight, once; whoever scrolls on is left alone
  const shown = useRef<string | null>(null);
  useEffect(() => {
    if (shown.current === chosen || at < 0) return;
    shown.current = chosen;
    rows.scrollToIndex(at, { align: 'auto' });
  }, [chosen, at, rows]);
  const go = (place: number) => {
    const line = lines[Math.max(0, Math.min(lines.length - 1, place))];
    if (!line) return;
    take(line);
    rows.scrollToIndex(Math.max(0, Math.min(lines.length - 1, place)));
  };
  const fold = (site: string, shut: boolean) =>
    setClosed((before) => (shut ? new Set([...before, site]) : new Set([...before].filter((own) => own !== site))));
  const onKeyDown = (event: KeyboardEvent) => {
    const line = lines[at];
    switch (event.key) {
      case 'ArrowDown':
        go(at + 1);
        break;
      case 'ArrowUp':
        go(at < 0 ? 0 : at - 1);
        break;
      case 'Home':
        go(0);
        break;
      case 'End':
        go(lines.length - 1);
        break;
      case 'ArrowRight':
        if (line?.open === false) fold(line.sel, false);
        else go(at + 1);
        break;
      case 'ArrowLeft':
        if (line?.open) fold(line.sel, true);
        else go(lines.findLastIndex(({ depth }, place) => place < at && depth < (line?.depth ?? 0)));
        break;
      case 'Enter':
        if (line) onShow(line.sel);
        break;
      default:
        return;
    }
    event.preventDefault();
  };
  return (
    <div className="maplist">
      <PlainInput
        type="search"
        className="mapfind"
        value={text}
        aria-label="Find on the map"
        placeholder="a device, a site, a model"
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === 'ArrowDown') {
            box.current?.focus();
            go(at < 0 ? 0 : at);
            event.preventDefault();
          } else if (event.key === 'Enter' && lines.length > 0) {
            // the first hit, as it would be pressed
            box.current?.focus();
            const hit = lines.findIndex(({ words }) => words.toLowerCase().includes(text.trim().toLowerCase()));
            // found by its model: the first below its site
            go(hit < 0 ? 1 : hit);
            event.preventDefault();
          }
        }}
      />
      <div
        ref={box}
        role="tree"
        aria-label="On the map"
        tabIndex={0}
        className="maplines"
        aria-activedescendant={at < 0 ? undefined : `mapline-${at}`}
        onKeyDown={onKeyDown}
      >
        <div style={{ height: rows.getTotalSize(), position: 'relative' }} role="presentation">
          {rows.getVirtualItems().map(({ index, start }) => {
            const line = lines[index];
            if (!line) return null;
            return (
              <div
                key={line.key}
                id={`mapline-${index}`}
                role="treeitem"
                aria-level={line.depth + 1}
                aria-selected={index === at}
                aria-expanded={line.open ?? undefined}
                className="mapline"
                style={{
                  transform: `translateY(${start}px)`,
                  paddingLeft: 8 + line.depth * 14,
                  fontWeight: line.depth === 0 ? 600 : 400,
                }}
                onClick={() =>
                  line.depth === 0 && line.sel === chosen ? fold(line.sel, line.open === true) : take(line)
                }
                onDoubleClick={() => onShow(line.sel)}
              >
                {line.depth === 0 && (
                  <span aria-hidden="true" className="quiet">
                    {line.open ? '▾' : '▸'}
                  </span>
                )}
                {line.state !== 'none' && <Glyph name={line.state} size={9} />}
                <span className="cut">{line.words}</span>
                <span className="quiet small end">{line.more}</span>
              </div>
            );
          })}
        </div>
        {lines.length === 0 && (
          <p className="quiet small" style={{ padding: '8px 12px' }}>
            {text ? `Nothing on the map has “${text}” in its name, site or model.` : 'Nothing is on the map.'}
          </p>
        )}
      </div>
    </div>
  );
}

function linesOf(
  picture: Picture,
  ports: PortsNear,
  chosen: string | null,
  here: string,
  text: string,
  closed: ReadonlySet<string>,
): Line[] {
  const { sites, links, segments } = picture;
  const chosenPort = portOfSel(chosen);
  const linksOf = new Map<number, DrawnLink[]>();
  for (const link of links)
    for (const end of new Set([link.from, link.to]))
      linksOf.set(end.device.id, [...(linksOf.get(end.device.id) ?? []), link]);
  const chosenLink = links.find(({ link }) => chosen === `link:${link.id}`);
  return [...sites]
    .sort((x, y) => compareNaturally(x.bay.site, y.bay.site))
    .flatMap((site): Line[] => {
      const { bay, devices, worst } = site;
      const fits = ({ device }: DrawnPlate) =>
        text === '' || [device.name, device.model, bay.site].some((words) => words.toLowerCase().includes(text));
      const own = devices
        .filter((plate) => fits(plate) && (text !== '' || !plate.pale || plate.shown.pale))
        .sort((x, y) => compareNaturally(x.device.name, y.device.name));
      if (own.length === 0) return [];
      const sel = `site:${bay.site}`;
      const open = text !== '' || !closed.has(sel);
      const head: Line = {
        key: sel,
        sel,
        depth: 0,
        words: bay.site || 'no site',
        more: [...newsOf(site), String(own.length)].join(', '),
        state: worst === 'fault' || worst === 'silent' ? worst : 'none',
        open,
      };
      if (!open) return [head];
      return [
        head,
        ...own.flatMap((plate): Line[] => {
          const around = linksOf.get(plate.device.id) ?? [];
          const own = `device:${plate.device.id}`;
          // a chosen link stands below the device from which one came to it
          const isOpen =
            chosen === own ||
            chosenPort?.device === plate.device.id ||
            (chosenLink !== undefined &&
              (here.startsWith(`${own} `)
                ? around.includes(chosenLink)
                : chosenLink.from === plate && !here.includes(' ')));
          const line: Line = {
            key: own,
            sel: own,
            depth: 1,
            words: plate.device.name,
            more: [
              around.length > 0 && `${around.length} ${around.length === 1 ? 'link' : 'links'}`,
              // what it is: the rest stands in its card
              plate.device.works?.[0]?.split(',')[0],
            ]
              .filter(Boolean)
              .join(', '),
            state: stateOf(plate),
            open: null,
          };
          const unasked = segments
            .filter(({ joins, sel }) => joins.length === 1 && joins[0] === plate && sel.startsWith('port:'))
            .map(({ sel, words }): Line => ({
              key: `${own} ${sel}`,
              sel,
              depth: 2,
              words: words.replace(':', ' →'),
              more: 'nobody asked',
              state: 'none',
              open: null,
            }));
          return isOpen || unasked.some(({ sel }) => sel === chosen)
            ? [
                line,
                ...around.map((link) => lineOfLink(link, plate)).sort((x, y) => compareNaturally(x.words, y.words)),
                ...unasked,
                ...portLines(picture, plate, ports, unasked),
              ]
            : [line];
        }),
      ];
    });
}

/** Ports of a device that is near, but for those of which its links and what nobody asked tell already. */
function portLines(picture: Picture, { device }: DrawnPlate, ports: PortsNear, told: readonly Line[]): Line[] {
  const own = ports.get(device.id)?.ports ?? [];
  return own
    .filter((port) => !joinedIn(picture)(device.id, port))
    .map((port): Line => {
      const sel = `port:${device.id}:${port.name}`;
      const glyph = portGlyph({ ...port });
      return {
        key: `device:${device.id} ${sel}`,
        sel,
        depth: 2,
        words: port.pluggedIn ? `${port.name} → ${port.pluggedIn}` : port.name,
        more: port.pluggedIn ? '' : port.admin === 'down' ? 'off' : port.oper,
        state: glyph === 'up' || glyph === 'fault' ? glyph : 'none',
        open: null,
      };
    })
    .filter(({ sel }) => !told.some((line) => line.sel === sel));
}

function stateOf({ device, mark }: DrawnPlate): Line['state'] {
  const glyph = mark === 'fault' ? 'fault' : deviceGlyph(device.state);
  return glyph === 'up' || glyph === 'fault' || glyph === 'silent' ? glyph : 'none';
}

function lineOfLink({ link, from, to }: DrawnLink, plate: DrawnPlate): Line {
  const here = from === plate;
  const [own, far] = here ? [link.a, link.b] : [link.b, link.a];
  return {
    key: `device:${plate.device.id} ${link.id}`,
    sel: `link:${link.id}`,
    depth: 2,
    words: `${own.port || '–'} → ${(here ? to : from).device.name} ${far.port}`.trim(),
    more: link.blocked ? 'rests' : link.segment ? 'not direct' : '',
    state: link.issues.length > 0 ? 'fault' : 'none',
    open: null,
  };
}
