'use client';

import { Link } from '@/ui/kit/Link';
import { useRouter } from 'next/navigation';
import { useMemo } from 'react';
import { things, type ThingField, type ThingName } from '@/core/things/fields';
import { mostGroupLevels } from '@/core/things/grouping';
import { sealedOf, useSurveys } from '../frame/useSurveys';
import { useView } from '../frame/useView';
import type { ThingRow } from '../kit/api';
import { PictureChooser } from '../kit/pictures/PictureChooser';
import { Pictures } from '../kit/pictures/Pictures';
import { usePictures } from '../kit/pictures/usePictures';
import { DataTable, useAskAhead, useFirstPage } from '../kit/DataTable';
import { DeviceDossier, useDossierAhead } from '../kit/DeviceDossier';
import { FilterField } from '../kit/filter/FilterField';
import { deviceGlyph, Glyph } from '../kit/Glyph';
import { Panel } from '../kit/Panel';
import { useTableLayout } from '../kit/table/layout';
import { ColumnChooser, ExportMenu, GroupChooser } from '../kit/TableTools';
import { ViewMenu } from '../kit/table/ViewMenu';

const subviews: { of: ThingName; hint: string; pictures: string[] }[] = [
  { of: 'devices', hint: 'a name, address or serial; role=switch site=RPW', pictures: ['release', 'site', 'role'] },
  { of: 'modules', hint: 'a serial or model; class=powerSupply', pictures: ['class', 'model', 'vendor'] },
  { of: 'ports', hint: 'an alias or what is plugged in; oper=up speed<100M', pictures: ['oper', 'speedBps', 'kind'] },
  { of: 'endpoints', hint: 'a MAC, address or host; vlan=30', pictures: ['vlan', 'maker', 'via'] },
  { of: 'machines', hint: 'a name; state=off; host=sgh-hv-1', pictures: ['state', 'host', 'cluster'] },
  { of: 'services', hint: 'a process or port; port=5432', pictures: ['process', 'port', 'protocol'] },
  { of: 'software', hint: 'a name; kind=firmware', pictures: ['kind', 'name', 'version'] },
  { of: 'vlans', hint: 'a number or name', pictures: [] },
  { of: 'addresses', hint: '10.72.4.0/24 as address:10.72.4.0/24', pictures: [] },
  { of: 'networks', hint: 'a network; vrf=ticketing', pictures: [] },
  { of: 'routes', hint: 'a destination; learned by protocol=static', pictures: ['protocol', 'vrf', 'device'] },
  { of: 'peers', hint: 'a device or address; up=no', pictures: ['state', 'protocol', 'device'] },
  { of: 'wlans', hint: 'a name; vlan=40', pictures: [] },
  { of: 'faults', hint: 'a part; subsystem=power', pictures: ['subsystem', 'severity', 'device'] },
  { of: 'changes', hint: 'kind=replaced; thing=port', pictures: ['day', 'kind', 'thing'] },
];

const deviceFirst = ['device'];

/** What do we have? Tables of devices and of everything they tell, with the dossier beside them. */
export function EstateWorkspace() {
  const view = useView();
  const router = useRouter();
  const { of: thing, hint, pictures: picturesAtFirst } = subviews.find(({ of }) => of === view.of) ?? { of: 'devices' as const, hint: subviews[0]?.hint ?? '', pictures: subviews[0]?.pictures ?? [] };
  const { pictures, written, choose: choosePictures } = usePictures(thing, picturesAtFirst, view.pictures, () => view.set({ pictures: null }));
  const counted = useMemo(() => pictures.flatMap(({ field, other }) => (other ? [] : [field])), [pictures]);
  const sealed = sealedOf(useSurveys().data);
  const now = (sealed.find(({ id }) => String(id) === view.survey) ?? sealed.at(-1))?.startedAt ?? '';
  // of all devices together, a port says whose it is
  const layout = useTableLayout(thing, view.columns, () => view.set({ columns: null }), thing === 'ports' ? deviceFirst : undefined);
  const { columns } = layout;
  const request = { survey: view.survey, against: view.against, where: view.where };
  const group = useMemo(() => groupOf(thing, view.group), [thing, view.group]);
  const summary = useFirstPage(thing, { ...request, ...(group.length > 0 && { group }) }, view.sort, counted);
  const deviceId = deviceOf(view.sel);
  const selected = thing === 'devices' ? deviceId : (view.sel?.replace(/^[a-z]+:/, '') ?? null);
  const askAhead = useAskAhead();
  const dossierAhead = useDossierAhead();
  const narrow = (where: string) => {
    askAhead(thing, { ...request, where, ...(group.length > 0 && { group }) }, view.sort, counted);
    view.set({ where });
  };
  const select = (row: ThingRow) => {
    const id = thing === 'devices' ? row.id : row.deviceId;
    if (id && thing !== 'endpoints') dossierAhead(String(id));
    view.set({ sel: thing === 'devices' ? `device:${row.id}` : `${thing.replace(/s$/, '')}:${row.id}` });
  };
  const open = (row: ThingRow) => {
    const id = thing === 'devices' ? row.id : row.deviceId;
    if (id) router.push(view.href(`/estate/${String(id)}`));
  };
  const { counts } = summary.data ?? {};
  const panelDevice = thing === 'devices' ? deviceId : panelOf(view.sel);
  return (
    <div className="area">
      <main className="work">
        <div className="titleline">
          <h1>{things[thing].title}</h1>
          <span className="quiet" aria-live="polite">{summary.data?.total ?? ''}</span>
          <FilterField about={{ thing, survey: view.survey, against: view.against }} value={view.where} onChange={narrow} problem={summary.error} hint={hint} />
          <ColumnChooser thing={thing} layout={layout} />
          <GroupChooser thing={thing} group={group} onGroup={(names) => {
            if (names.length > 0) askAhead(thing, { ...request, group: names }, view.sort, counted);
            view.set({ group: names.join(',') });
          }} />
          <PictureChooser thing={thing} pictures={pictures} onChoose={choosePictures} />
          <ViewMenu path="/estate" columns={layout.chosen} pictures={written} />
          <ExportMenu thing={thing} request={{ ...request, sort: view.sort }} columns={columns.map(({ name }) => name)} group={group} />
          {counts && thing !== 'changes' && <span className="quiet small end" title="added, gone and changed against the survey compared with">+{counts.added} −{counts.gone} ~{counts.changed}</span>}
        </div>
        <nav className="subviews" aria-label="Tables">
          {subviews.map(({ of }) => <Link key={of} href={view.href('/estate', { of: of === 'devices' ? null : of, sel: null })} aria-current={of === thing ? 'page' : undefined}>{things[of].title}</Link>)}
        </nav>
        <Pictures thing={thing} request={request} page={summary.data} pictures={pictures} now={now} onNarrow={narrow} />
        <DataTable
          key={thing} thing={thing} label={things[thing].title} request={request} count={counted} columns={columns} layout={layout} group={group} sort={view.sort} onSort={(sort) => view.set({ sort })}
          selected={selected} onSelect={select} onOpen={open}
          {...(thing === 'devices' && { glyph: (row: ThingRow) => <Glyph name={deviceGlyph(row.state)} word={String(row.state)} /> })}
          cell={(row, field) => cellOf(thing, row, field, view.href)}
          empty={<EmptyTable thing={thing} where={view.where} onEmpty={() => view.set({ where: null })} />}
        />
      </main>
      {panelDevice && <Panel label="Dossier"><DeviceDossier id={panelDevice} /></Panel>}
    </div>
  );
}

/** Fields of a group in the address that the thing has. */
const groupOf = (thing: ThingName, text: string | null) => (text ?? '').split(',').filter((name) => things[thing].fields.some((field) => field.name === name && !field.list)).slice(0, mostGroupLevels);

const deviceOf = (sel: string | null) => /^device:(\d+)$/.exec(sel ?? '')?.[1] ?? null;

/** Modules and addresses belong to a device: their dossier is its. */
const panelOf = (sel: string | null) => /^(?:module|port|addresse|service|software|fault|route|peer|wlan|machine):(\d+):/.exec(sel ?? '')?.[1] ?? deviceOf(sel);

function cellOf(thing: ThingName, row: ThingRow, field: ThingField, href: ReturnType<typeof useView>['href']) {
  if (thing === 'endpoints' && field.name === 'port' && row.deviceId) {
    return <Link href={href('/ports', { device: String(row.deviceId), sel: `port:${String(row.deviceId)}:${String(row.port)}` })} className="mono">{String(row.port)}</Link>;
  }
  if (thing === 'devices' && field.name === 'role') return row.before?.role === undefined ? <span className="quiet">{String(row.role).replaceAll('-', ' ')}</span> : undefined;
  return undefined;
}

function EmptyTable({ thing, where, onEmpty }: { thing: ThingName; where: string; onEmpty: () => void }) {
  const view = useView();
  if (where) return <><h2>Nothing fits this filter</h2><p className="quiet">Other words may, or another survey on the time strip. <button type="button" className="textlink" onClick={onEmpty}>Empty the filter</button></p></>;
  if (thing === 'changes') return <><h2>Nothing changed</h2><p className="quiet">Against the survey before, or the one you compare with, nothing is different.</p></>;
  return <><h2>Nothing is known yet</h2><p className="quiet">No survey has found any {things[thing].title.toLowerCase()}. <Link href={view.href('/survey')}>Run the first survey</Link>: give it address ranges and a credential.</p></>;
}
