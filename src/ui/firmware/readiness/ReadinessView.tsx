'use client';

import { useState } from 'react';
import { verdicts } from '@/core/firmware/readiness';
import { chosenTerms, withChosen } from '@/core/filter/terms';
import { FilterField } from '../../components/filter/FilterField';
import { Glyph, verdictGlyph } from '../../components/Glyph';
import { Link } from '../../components/Link';
import { Panel } from '../../components/Panel';
import { BarChart } from '../../components/pictures/BarChart';
import { DataTable } from '../../components/table/DataTable';
import { useTableLayout } from '../../components/table/layout';
import { useFirstPage } from '../../components/table/thingPages';
import { ColumnChooser } from '../../components/table/tools/ColumnChooser';
import { ExportMenu } from '../../components/table/tools/ExportMenu';
import { useSort } from '../../components/table/useSort';
import { TextButton } from '../../components/TextButton';
import { AnyDossier } from '../../features/dossier/AnyDossier';
import { ViewMenu } from '../../features/views/ViewMenu';
import { useMayEdit } from '../../lib/person';
import { useView } from '../../lib/useView';
import { FirmwareViews } from '../FirmwareViews';
import { StandingChart } from './StandingChart';
import { WhatIf } from './WhatIf';

const pictures = ['verdict', 'family', 'site'];
const verdictColours: Record<string, string> = {
  ready: 'var(--good)',
  'already there': 'var(--lagoon)',
  'ready after': 'var(--caution)',
  blocked: 'var(--bad)',
  unknown: 'var(--idle)',
};

/** Which devices may go to their target release, and why others may not. */
export function ReadinessView() {
  const view = useView();
  const mayEdit = useMayEdit();
  const layout = useTableLayout('readiness', view.columns, () => view.set({ columns: null }));
  const { columns } = layout;
  const { sort, onSort } = useSort('readiness');
  const [row, setRow] = useState<string | null>(null);
  const [asksIf, setAsksIf] = useState(false);
  const [isWhole, setWhole] = useState(false);
  const request = { survey: view.survey, where: view.where };
  const summary = useFirstPage('readiness', request, sort, pictures);
  const shares = summary.data?.shares ?? {};
  const deviceId = /^device:(\d+)$/.exec(view.sel ?? '')?.[1] ?? null;
  const verdictBars = verdicts.flatMap((verdict) =>
    (shares.verdict ?? [])
      .filter(({ value }) => value === verdict)
      .map(({ value, count }) => ({ value, count, ...(verdictColours[value] && { colour: verdictColours[value] }) })),
  );
  return (
    <div className="area">
      <main className="work">
        <div className="titleline">
          <h1>Firmware</h1>
          <span className="quiet" aria-live="polite" style={{ whiteSpace: 'nowrap' }}>
            {summary.data && `${summary.data.total} with a target`}
          </span>
          <FilterField
            about={{ thing: 'readiness', survey: view.survey, against: view.against }}
            value={view.where}
            onChange={(where) => view.set({ where })}
            problem={summary.error}
            hint="verdict=blocked; a device"
          />
          <TextButton aria-pressed={isWhole} onClick={() => setWhole(!isWhole)}>
            {isWhole ? 'As bars' : 'As one picture'}
          </TextButton>
          <TextButton aria-expanded={asksIf} onClick={() => setAsksIf(!asksIf)}>
            What if
          </TextButton>
          {mayEdit && (
            <Link href={view.href('/firmware', { of: 'doing', where: view.where || 'verdict=ready', sel: null })}>
              Upgrade these
            </Link>
          )}
          <ColumnChooser thing="readiness" layout={layout} />
          <ViewMenu path="/firmware" columns={layout.chosen} />
          <ExportMenu thing="readiness" request={{ ...request, sort }} columns={columns.map(({ name }) => name)} />
        </div>
        <FirmwareViews current="readiness" />
        {isWhole ? (
          <div className="pictures">
            <StandingChart request={request} colours={verdictColours} onChoose={(where) => view.set({ where })} />
          </div>
        ) : (
          <div className="pictures">
            <BarChart
              title="by verdict"
              bars={verdictBars}
              most={5}
              chosen={chosenTerms(view.where, 'verdict')}
              onChoose={(value, more) => view.set({ where: withChosen(view.where, 'verdict', value, more) })}
            />
            {(['family', 'site'] as const).map((field) => (
              <BarChart
                key={field}
                title={`by ${field}`}
                bars={(shares[field] ?? []).map(({ value, count }) => ({ value, count }))}
                chosen={chosenTerms(view.where, field)}
                onChoose={(value, more) => view.set({ where: withChosen(view.where, field, value, more) })}
              />
            ))}
          </div>
        )}
        <DataTable
          thing="readiness"
          label="Readiness"
          request={request}
          count={pictures}
          columns={columns}
          layout={layout}
          sort={sort}
          onSort={onSort}
          selected={row?.split(':')[0] === deviceId ? row : deviceId}
          onSelect={({ id, deviceId: own }) => {
            setRow(id);
            setAsksIf(false);
            view.set({ sel: `device:${String(own)}` });
          }}
          glyph={(row) => <Glyph name={verdictGlyph(row.verdict)} word={String(row.verdict)} />}
          empty={
            view.where ? (
              <>
                <h2>Nothing fits this filter</h2>
                <p className="quiet">
                  <TextButton onClick={() => view.set({ where: null })}>Empty the filter</TextButton>
                </p>
              </>
            ) : (
              <>
                <h2>No target is set yet</h2>
                <p className="quiet">
                  Choose the release a family should run; every device of it is then judged.{' '}
                  <Link href={view.href('/firmware', { of: 'targets', sel: null, where: null })}>Set a target</Link>
                </p>
              </>
            )
          }
        />
      </main>
      {asksIf && (
        <Panel label="What if">
          <WhatIf survey={view.survey} where={view.where} />
        </Panel>
      )}
      {deviceId && !asksIf && (
        <Panel label="Dossier">
          <AnyDossier thing="devices" id={deviceId} />
        </Panel>
      )}
    </div>
  );
}
