'use client';

import { spoken } from '@/core/values/spoken';
import { Link } from '@/ui/components/Link';
import { useRouter } from 'next/navigation';
import { useMemo, useState } from 'react';
import { ownedThings } from '@/core/own/ownField';
import { fieldWord, thingOfChange } from '@/core/things/changeWords';
import { things, type ThingName } from '@/core/things/things';
import type { ThingField } from '@/core/things/thing';
import { mostGroupLevels } from '@/core/things/grouping';
import { ActIcon } from '../components/ActIcon';
import { sealedOf, useSurveys } from '../lib/useSurveys';
import { useView } from '../lib/useView';
import type { ThingRow } from '../lib/api';
import { PictureChooser } from '../components/pictures/PictureChooser';
import { Pictures } from '../components/pictures/Pictures';
import { usePictures } from '../components/pictures/usePictures';
import { ChangeCounts } from '../components/ChangeCounts';
import { coverGlyph } from '../features/contracts/coverGlyph';
import { CellHint } from '../components/table/CellHint';
import { DataTable } from '../components/table/DataTable';
import { useAskAhead, useFirstPage } from '../components/table/thingPages';
import { AnyDossier, useDossiersSoon } from '../features/dossier/AnyDossier';
import { useDossierAhead } from '../features/dossier/device/useDossier';
import { FilterField } from '../components/filter/FilterField';
import { deviceGlyph, Glyph } from '../components/Glyph';
import { useFieldsOf } from '../lib/ownFields';
import { useMayEdit } from '../lib/person';
import { Panel } from '../components/Panel';
import { useMarkedRows } from '../components/table/markedRows';
import { useSort } from '../components/table/useSort';
import { useTableLayout } from '../components/table/layout';
import { ColumnChooser } from '../components/table/tools/ColumnChooser';
import { ExportMenu } from '../components/table/tools/ExportMenu';
import { GroupChooser } from '../components/table/tools/GroupChooser';
import { estateTables } from '../features/goTo/estateTables';
import { Subviews } from './Subviews';
import { ViewMenu } from '../features/views/ViewMenu';
import { TextButton } from '../components/TextButton';
import { fetched } from '../lib/fetched';
import { opening } from '../components/opening';

const GroupsView = fetched(() => import('./groups/GroupsView').then((module) => module.GroupsView), opening('Estate'));
const ChecksView = fetched(() => import('./checks/ChecksView').then((module) => module.ChecksView), opening('Estate'));
const EditDialog = fetched(() => import('../features/own/EditDialog').then((module) => module.EditDialog));

const ContractsDialog = fetched(() =>
  import('../features/contracts/ContractsDialog').then((module) => module.ContractsDialog),
);

const deviceFirst = ['device'];
const none: string[] = [];

/** What do we have? Tables of devices and of everything they tell, groups of them, and the checks they must stand. */
export function EstateWorkspace() {
  const { of } = useView();
  if (of === 'groups') return <GroupsView />;
  return of === 'checks' ? <ChecksView /> : <EstateTable />;
}

/** A table of the Estate, with the dossier beside it. */
function EstateTable() {
  const view = useView();
  const fieldsOf = useFieldsOf();
  const router = useRouter();
  const thing = estateTables.find((of) => of === view.of) ?? 'devices';
  const { hint = '', pictures: picturesAtFirst = none } = things[thing];
  const {
    pictures,
    written,
    choose: choosePictures,
  } = usePictures(thing, picturesAtFirst, view.pictures, () => view.set({ pictures: null }));
  const counted = useMemo(() => pictures.flatMap(({ field, other }) => (other ? [] : [field])), [pictures]);
  const sealed = sealedOf(useSurveys().data);
  const now = (sealed.find(({ id }) => String(id) === view.survey) ?? sealed.at(-1))?.startedAt ?? '';
  // of all devices together, a port says whose it is
  const layout = useTableLayout(
    thing,
    view.columns,
    () => view.set({ columns: null }),
    thing === 'ports' ? deviceFirst : undefined,
  );
  const { columns } = layout;
  const { sort, onSort } = useSort(thing);
  const request = { survey: view.survey, against: view.against, where: view.where };
  const group = useMemo(() => groupOf(fieldsOf(thing), view.group), [fieldsOf, thing, view.group]);
  const summary = useFirstPage(thing, { ...request, ...(group.length > 0 && { group }) }, sort, counted);
  const deviceId = deviceOf(view.sel);
  const selected = thing === 'devices' ? deviceId : (view.sel?.replace(/^[a-z]+:/, '') ?? null);
  const askAhead = useAskAhead();
  const dossierAhead = useDossierAhead();
  const narrow = (where: string) => {
    askAhead(thing, { ...request, where, ...(group.length > 0 && { group }) }, sort, counted);
    view.set({ where });
  };
  const select = (row: ThingRow) => {
    const id = thing === 'devices' ? row.id : row.deviceId;
    if (id && thing === 'devices') dossierAhead(String(id));
    view.set({ sel: thing === 'devices' ? `device:${row.id}` : `${oneWord(thing)}:${row.id}` });
  };
  const open = (row: ThingRow) => {
    const id = thing === 'devices' ? row.id : row.deviceId;
    if (id) router.push(view.href(`/estate/${String(id)}`));
  };
  const { counts } = summary.data ?? {};
  const owned = ownedThings.find((name) => name === thing);
  const mayEdit = useMayEdit();
  const [editing, setEditing] = useState(false);
  const { marked } = useMarkedRows(thing);
  useDossiersSoon();
  const inPanel = deviceId
    ? { thing: 'devices' as const, id: deviceId }
    : view.sel?.startsWith(`${oneWord(thing)}:`)
      ? chosenThing(thing, view.sel.slice(oneWord(thing).length + 1))
      : null;
  return (
    <div className="area">
      <main className="work">
        <div className="titleline">
          <h1>{things[thing].title}</h1>
          <span className="quiet" aria-live="polite">
            {summary.data?.total ?? ''}
          </span>
          <FilterField
            about={{ thing, survey: view.survey, against: view.against }}
            value={view.where}
            onChange={narrow}
            problem={summary.error}
            hint={hint}
          />
          <ColumnChooser thing={thing} layout={layout} />
          <GroupChooser
            thing={thing}
            group={group}
            onGroup={(names) => {
              if (names.length > 0) askAhead(thing, { ...request, group: names }, sort, counted);
              view.set({ group: names.join(',') });
            }}
          />
          <PictureChooser thing={thing} pictures={pictures} onChoose={choosePictures} />
          {thing === 'contracts' && mayEdit && (
            <TextButton onClick={() => setEditing(true)}>
              <ActIcon act="add" />
              Enter
            </TextButton>
          )}
          {owned && mayEdit && (
            <TextButton onClick={() => setEditing(true)}>
              <ActIcon act="edit" />
              Edit
            </TextButton>
          )}
          <ViewMenu path="/estate" columns={layout.chosen} pictures={written} />
          <ExportMenu
            thing={thing}
            request={{ ...request, sort }}
            columns={columns.map(({ name }) => name)}
            group={group}
          />
          {counts && thing !== 'changes' && <ChangeCounts counts={counts} where={view.where} onNarrow={narrow} />}
        </div>
        <Subviews current={thing} />
        <Pictures thing={thing} request={request} page={summary.data} pictures={pictures} now={now} onNarrow={narrow} />
        <DataTable
          key={thing}
          thing={thing}
          label={things[thing].title}
          request={request}
          count={counted}
          columns={columns}
          layout={layout}
          group={group}
          sort={sort}
          onSort={onSort}
          selected={selected}
          onSelect={select}
          onOpen={open}
          {...(thing === 'devices' && {
            glyph: (row: ThingRow) => <Glyph name={deviceGlyph(row.state)} word={String(row.state)} />,
          })}
          {...(thing === 'contracts' && {
            glyph: (row: ThingRow) => <Glyph name={coverGlyph(row.state)} word={String(row.state)} />,
          })}
          cell={(row, field) => cellOf(thing, row, field, view.href)}
          empty={<EmptyTable thing={thing} where={view.where} onEmpty={() => view.set({ where: null })} />}
        />
      </main>
      {editing && owned && (
        <EditDialog
          thing={owned}
          request={request}
          total={summary.data?.total ?? 0}
          selected={selected}
          marked={[...marked]}
          onClose={() => setEditing(false)}
        />
      )}
      {editing && thing === 'contracts' && <ContractsDialog editing={null} onClose={() => setEditing(false)} />}
      {inPanel && (
        <Panel label="Dossier">
          <AnyDossier {...inPanel} />
        </Panel>
      )}
    </div>
  );
}

/** Whose dossier a row opens: its own, or that of what changed. */
const chosenThing = (thing: ThingName, id: string) => (thing === 'changes' ? thingOfChange(id) : { thing, id });

/** How a selected row is called in the address: `module:12:…`. */
const oneWord = (thing: ThingName) => thing.replace(/s$/, '');

/** Fields of a group in the address that the thing has. */
const groupOf = (fields: ThingField[], text: string | null) =>
  (text ?? '')
    .split(',')
    .filter((name) => fields.some((field) => field.name === name && !field.list))
    .slice(0, mostGroupLevels);

const deviceOf = (sel: string | null) => /^device:(\d+)$/.exec(sel ?? '')?.[1] ?? null;

function cellOf(thing: ThingName, row: ThingRow, field: ThingField, href: ReturnType<typeof useView>['href']) {
  if (thing === 'endpoints' && field.name === 'port' && row.deviceId) {
    return (
      <Link
        href={href('/ports', { device: String(row.deviceId), sel: `port:${String(row.deviceId)}:${String(row.port)}` })}
        className="mono"
      >
        {String(row.port)}
      </Link>
    );
  }
  if (thing === 'modules' && field.name === 'class' && row.empty && row.before?.class === undefined)
    return <span className="quiet">{row.holds ? `empty, for ${spoken(String(row.holds))}` : 'empty'}</span>;
  if (thing === 'changes' && field.name === 'field')
    return <CellHint words={String(row.field)}>{fieldWord(String(row.thing), String(row.field))}</CellHint>;
  if (thing === 'devices' && field.name === 'role')
    return row.before?.role === undefined ? (
      <span className="quiet">{String(row.role).replaceAll('-', ' ')}</span>
    ) : undefined;
  return undefined;
}

function EmptyTable({ thing, where, onEmpty }: { thing: ThingName; where: string; onEmpty: () => void }) {
  const view = useView();
  if (where)
    return (
      <>
        <h2>Nothing fits this filter</h2>
        <p className="quiet">
          Other words may, or another survey on the time strip.{' '}
          <TextButton onClick={onEmpty}>Empty the filter</TextButton>
        </p>
      </>
    );
  if (thing === 'contracts')
    return (
      <>
        <h2>No contract is entered yet</h2>
        <p className="quiet">
          Warranties, contracts and licences say which serials are covered, and until when. Enter them one by one, or
          take them from a CSV file.
        </p>
      </>
    );
  if (thing === 'changes')
    return (
      <>
        <h2>Nothing changed</h2>
        <p className="quiet">Against the survey before, or the one you compare with, nothing is different.</p>
      </>
    );
  return (
    <>
      <h2>Nothing is known yet</h2>
      <p className="quiet">
        No survey has found any {things[thing].title.toLowerCase()}.{' '}
        <Link href={view.href('/survey')}>Run the first survey</Link>: give it address ranges and a credential.
      </p>
    </>
  );
}
