'use client';

import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { Link } from '@/ui/kit/Link';
import { useEffect, useMemo, useState } from 'react';
import type { MapLayout } from '@/core/layout/terraces';
import type { Role } from '@/core/estate/facts';
import { formatSpeed } from '@/core/values/quantity';
import { useView } from '../frame/useView';
import type { ThingRow } from '../kit/api';
import { DataTable, useFirstPage, useThingPage } from '../kit/DataTable';
import { DeviceDossier } from '../kit/DeviceDossier';
import { FilterField } from '../kit/filter/FilterField';
import { Glyph } from '../kit/Glyph';
import { Panel } from '../kit/Panel';
import { ProblemNote } from '../kit/ProblemNote';
import { useTableLayout } from '../kit/table/layout';
import { ExportMenu } from '../kit/TableTools';
import { paletteOf, tabs, writeSvg, type DrawnLink, type DrawnPlate, type Picture } from './drawing';
import { MapCanvas } from './MapCanvas';

interface End { deviceId: number; device: string; port: string }

/** How devices are joined, each link with who claims it; the same content stands in the list below. */
export function MapWorkspace() {
  const view = useView();
  const tableLayout = useTableLayout('links');
  const { columns } = tableLayout;
  const moments = { survey: view.survey, against: view.against };
  const devices = useThingPage('devices', { ...moments, size: 1000 });
  const links = useThingPage('links', { ...moments, size: 1000 });
  const listed = useFirstPage('links', { ...moments, where: view.where }, view.sort);
  const layout = useLayout(devices.data?.rows, links.data?.rows);
  const picture = useMemo(() => (layout && devices.data && links.data ? pictureOf(layout, devices.data.rows, links.data.rows) : null), [layout, devices.data, links.data]);
  const linkId = /^link:(.*)$/.exec(view.sel ?? '')?.[1] ?? null;
  const deviceId = /^device:(\d+)$/.exec(view.sel ?? '')?.[1] ?? null;
  const link = links.data?.rows.find(({ id }) => id === linkId);
  const empty = devices.data?.total === 0;
  const problem = devices.error ?? links.error;
  if (problem) return <main className="work"><ProblemNote problem={problem} /></main>;
  return (
    <div className="area">
      <main className="work">
        <div className="titleline">
          <h1>Map</h1>
          <span className="quiet" style={{ whiteSpace: 'nowrap' }}>{picture && `${picture.plates.length} devices, ${picture.links.length} links`}</span>
          <FilterField about={{ thing: 'links', survey: view.survey, against: view.against }} value={view.where} onChange={(where) => view.set({ where })} problem={listed.error} hint="a device; confidence=claimed" />
          <PictureExport picture={picture} survey={devices.data?.survey ?? 0} />
          <ExportMenu thing="links" request={{ ...moments, where: view.where, sort: view.sort }} columns={columns.map(({ name }) => name)} />
        </div>
        {empty ? (
          <div className="empty"><h2>There is nothing to draw yet</h2><p className="quiet"><Link href={view.href('/survey')}>Run a survey</Link>: devices and the links their neighbour reports and forwarding tables tell stand here.</p></div>
        ) : (
          <>
            <div className="map">
              {picture ? <MapCanvas picture={picture} chosen={view.sel} onChoose={(sel) => view.set({ sel })} label={`Map of ${picture.plates.length} devices. Arrow keys walk along links; the list below holds the same.`} /> : <p className="empty quiet">placing the devices…</p>}
              {picture && <Legend picture={picture} />}
            </div>
            <div style={{ height: '28%', display: 'flex', minHeight: 120, borderTop: '1px solid var(--line)' }}>
              <DataTable
                thing="links" label="Links" request={{ ...moments, where: view.where }} columns={columns} layout={tableLayout} sort={view.sort} onSort={(sort) => view.set({ sort })}
                selected={linkId} onSelect={(row) => view.set({ sel: `link:${row.id}` })}
                glyph={(row) => ((row.issues as unknown[]).length > 0 ? <Glyph name="fault" word="ends disagree" /> : row.blocked ? <Glyph name="off" word="blocked" /> : <Glyph name="up" word="no finding" />)}
                empty={<><h2>No link {view.where ? 'fits this filter' : 'is known'}</h2><p className="quiet">Links come from LLDP neighbour reports and forwarding tables.</p></>}
              />
            </div>
          </>
        )}
      </main>
      {link && <Panel label="Link"><LinkDossier link={link} /></Panel>}
      {deviceId && <Panel label="Dossier"><DeviceDossier id={deviceId} /></Panel>}
    </div>
  );
}

function useLayout(devices: ThingRow[] | undefined, links: ThingRow[] | undefined): MapLayout | null {
  const [layout, setLayout] = useState<MapLayout | null>(null);
  useEffect(() => {
    if (!devices || !links) return undefined;
    const worker = new Worker(new URL('./layout.worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<MapLayout>) => setLayout(data);
    worker.postMessage({
      devices: devices.map((row) => ({ id: Number(row.id), name: String(row.name), role: row.role as Role, site: String(row.site ?? '') })),
      links: links.map((row) => ({ a: (row.a as End).deviceId, b: (row.b as End).deviceId })),
    });
    return () => worker.terminate();
  }, [devices, links]);
  return layout;
}

function pictureOf(layout: MapLayout, devices: ThingRow[], links: ThingRow[]): Picture {
  const byId = new Map(devices.map((row) => [Number(row.id), row]));
  const plates = new Map<number, DrawnPlate>();
  for (const { id, x, y } of layout.plates) {
    const row = byId.get(id);
    if (!row) continue;
    const state = row.change === 'gone' ? 'gone' : row.change === 'added' ? 'added' : row.state === 'silent' ? 'silent' : row.state === 'partial' ? 'fault' : 'up';
    plates.set(id, { id: String(id), x, y, name: String(row.name), tab: tabs[String(row.role)] ?? '?', state });
  }
  const between = new Map<string, number>();
  const drawn: DrawnLink[] = links.flatMap((row) => {
    const ends = [(row.a as End | undefined)?.deviceId, (row.b as End | undefined)?.deviceId];
    const [from, to] = ends.map((id) => plates.get(id ?? -1));
    if (!from || !to) return [];
    const pair = ends.join(' ');
    const nth = between.get(pair) ?? 0;
    between.set(pair, nth + 1);
    const speed = Number(row.speedBps ?? 0);
    return [{
      id: row.id, from, to,
      width: speed >= 1e11 ? 5 : speed >= 1e10 ? 3 : speed >= 1e9 ? 2 : 1.5,
      dash: row.change === 'gone' ? [2, 6] : row.confidence === 'confirmed' ? [] : row.confidence === 'claimed' ? [9, 5] : [1.5, 4],
      fault: (row.issues as unknown[]).length > 0, change: row.change,
      offset: nth === 0 ? 0 : (nth % 2 ? 1 : -1) * Math.ceil(nth / 2) * 7,
    }];
  });
  return { layout, plates: [...plates.values()], links: drawn };
}

/** Only what is on the picture. */
function Legend({ picture }: { picture: Picture }) {
  const has = (test: (link: DrawnLink) => boolean) => picture.links.some(test);
  const line = (dash: string, colour = 'var(--ink-3)') => <svg width="28" height="8" aria-hidden><line x1="0" x2="28" y1="4" y2="4" stroke={colour} strokeWidth="2.5" strokeDasharray={dash} /></svg>;
  return (
    <div className="legend">
      {has(({ dash }) => dash.length === 0) && <span>{line('')} both ends say so</span>}
      {has(({ dash }) => dash[0] === 9) && <span>{line('9 5')} one end says so</span>}
      {has(({ dash }) => dash[0] === 1.5) && <span>{line('1.5 4')} concluded</span>}
      {has(({ fault }) => fault) && <span><Glyph name="fault" /> ends disagree</span>}
      {has(({ change }) => change === 'gone') && <span>{line('2 6', 'var(--caution)')} gone</span>}
      {picture.plates.some(({ state }) => state === 'silent') && <span><Glyph name="silent" /> silent</span>}
    </div>
  );
}

function PictureExport({ picture, survey }: { picture: Picture | null; survey: number }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const save = (blob: Blob, name: string) => {
    const link = document.createElement('a');
    link.href = URL.createObjectURL(blob);
    link.download = name;
    link.click();
    setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
  };
  const svg = () => (picture ? writeSvg(picture, paletteOf(document.documentElement), `Network map, survey ${survey}`) : '');
  const asSvg = () => {
    setAnchor(null);
    save(new Blob([svg()], { type: 'image/svg+xml' }), `bolide-map-survey-${survey}.svg`);
  };
  const asPng = () => {
    setAnchor(null);
    if (!picture) return;
    const image = new Image();
    image.onload = () => {
      const canvas = document.createElement('canvas');
      canvas.width = image.width * 2;
      canvas.height = image.height * 2;
      canvas.getContext('2d')?.drawImage(image, 0, 0, canvas.width, canvas.height);
      canvas.toBlob((blob) => blob && save(blob, `bolide-map-survey-${survey}.png`), 'image/png');
    };
    image.src = URL.createObjectURL(new Blob([svg()], { type: 'image/svg+xml' }));
  };
  return (
    <>
      <button type="button" className="textlink" disabled={!picture} aria-haspopup="menu" onClick={(event) => setAnchor(event.currentTarget)}>Picture</button>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        <MenuItem dense onClick={asSvg}>SVG</MenuItem>
        <MenuItem dense onClick={asPng}>PNG</MenuItem>
      </Menu>
    </>
  );
}

const confidenceWords: Record<string, string> = { confirmed: 'both ends say so', claimed: 'one end says so', concluded: 'concluded from a forwarding table' };

function LinkDossier({ link }: { link: ThingRow }) {
  const view = useView();
  const [a, b] = [link.a as End, link.b as End];
  const ends = useThingPage('ports', { survey: view.survey, where: `(device="${a.device}" name="${a.port}") or (device="${b.device}" name="${b.port}")`, size: 4 });
  const portOf = (end: End) => ends.data?.rows.find((row) => row.device === end.device && row.name === end.port);
  const [pa, pb] = [portOf(a), portOf(b)];
  const issues = link.issues as { kind: string; words: string }[];
  const evidence = link.evidence as { detail: string }[];
  const text = (value: unknown) => (Array.isArray(value) ? value.join(', ') : value === null || value === undefined ? '–' : String(value));
  const compared: [string, unknown, unknown][] = [
    ['MTU', pa?.mtu, pb?.mtu],
    ['Native VLAN', pa?.vlan, pb?.vlan],
    ['Allowed VLANs', pa?.taggedVlans, pb?.taggedVlans],
    ['Speed', pa?.speedBps ? formatSpeed(Number(pa.speedBps)) : null, pb?.speedBps ? formatSpeed(Number(pb.speedBps)) : null],
    ['Duplex', pa?.duplex, pb?.duplex],
    ['State', pa?.oper, pb?.oper],
  ];
  return (
    <>
      <div className="small quiet">link, {confidenceWords[String(link.confidence)]}{link.blocked ? ', blocked by spanning tree' : ''}</div>
      <h2>{a.device} {a.port} — {b.device} {b.port}</h2>
      <section className="section">
        <h3>{issues.length > 0 ? 'The two ends disagree' : 'The two ends'}</h3>
        <ul>{issues.map(({ words }) => <li key={words} className="state" style={{ display: 'flex', padding: '2px 0' }}><Glyph name="fault" /> {words}</li>)}</ul>
        <table className="plain" style={{ marginTop: 6 }}>
          <thead><tr><th></th><th>{a.device} {a.port}</th><th>{b.device} {b.port}</th></tr></thead>
          <tbody>{compared.map(([words, left, right]) => {
            const differs = left !== undefined && right !== undefined && left !== null && right !== null && text(left) !== text(right) && text(left) !== 'unknown' && text(right) !== 'unknown';
            return <tr key={words}><td>{words}</td>{[left, right].map((value, at) => <td key={at} className="mono" style={differs ? { color: 'var(--bad)', fontWeight: 600 } : {}}>{text(value)}</td>)}</tr>;
          })}</tbody>
        </table>
      </section>
      <section className="section">
        <h3>Who says so</h3>
        <ul className="small">{evidence.map(({ detail }) => <li key={detail} style={{ padding: '2px 0' }}>{detail}</li>)}</ul>
      </section>
      <p className="section small">
        <Link href={view.href('/ports', { device: String(a.deviceId), sel: `port:${a.deviceId}:${a.port}` })}>{a.device} {a.port}</Link> · <Link href={view.href('/ports', { device: String(b.deviceId), sel: `port:${b.deviceId}:${b.port}` })}>{b.device} {b.port}</Link>
      </p>
    </>
  );
}
