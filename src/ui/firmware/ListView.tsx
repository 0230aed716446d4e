'use client';

import type { ReactNode } from 'react';
import type { ThingName } from '@/core/things/things';
import { chosenTerms, withChosen } from '@/core/filter/terms';
import { FilterField } from '../components/filter/FilterField';
import { BarChart } from '../components/pictures/BarChart';
import { DataTable } from '../components/table/DataTable';
import { useTableLayout } from '../components/table/layout';
import { useFirstPage } from '../components/table/thingPages';
import { ColumnChooser } from '../components/table/tools/ColumnChooser';
import { ExportMenu } from '../components/table/tools/ExportMenu';
import { useSort } from '../components/table/useSort';
import { TextButton } from '../components/TextButton';
import { useView } from '../lib/useView';
import { FirmwareViews, type FirmwareView } from './FirmwareViews';

/** A table of the workspace with its pictures: what is chosen, and what stands beside it, is of whoever shows it. */
export function ListView({
  thing,
  current,
  label,
  pictures,
  counted,
  hint,
  selected,
  onSelect,
  acts,
  empty,
  panel,
}: {
  thing: ThingName;
  current: FirmwareView;
  label: string;
  pictures: string[];
  /** how many there are, in words */
  counted: (total: number) => string;
  hint: string;
  selected: string | null;
  onSelect: (id: string) => void;
  acts?: ReactNode;
  empty: ReactNode;
  panel: ReactNode;
}) {
  const view = useView();
  const layout = useTableLayout(thing, view.columns, () => view.set({ columns: null }));
  const { sort, onSort } = useSort(thing);
  const request = { survey: view.survey, where: view.where };
  const summary = useFirstPage(thing, request, sort, pictures);
  const shares = summary.data?.shares ?? {};
  return (
    <div className="area">
      <main className="work">
        <div className="titleline">
          <h1>Firmware</h1>
          <span className="quiet" aria-live="polite" style={{ whiteSpace: 'nowrap' }}>
            {summary.data && counted(summary.data.total)}
          </span>
          <FilterField
            about={{ thing, survey: view.survey, against: view.against }}
            value={view.where}
            onChange={(where) => view.set({ where })}
            problem={summary.error}
            hint={hint}
          />
          {acts}
          <ColumnChooser thing={thing} layout={layout} />
          <ExportMenu thing={thing} request={{ ...request, sort }} columns={layout.columns.map(({ name }) => name)} />
        </div>
        <FirmwareViews current={current} />
        <div className="pictures">
          {pictures.map((field) => (
            <BarChart
              key={field}
              title={`by ${field}`}
              bars={(shares[field] ?? []).map(({ value, count }) => ({ value, count }))}
              chosen={chosenTerms(view.where, field)}
              onChoose={(value, more) => view.set({ where: withChosen(view.where, field, value, more) })}
            />
          ))}
        </div>
        <DataTable
          thing={thing}
          label={label}
          request={request}
          count={pictures}
          columns={layout.columns}
          layout={layout}
          sort={sort}
          onSort={onSort}
          selected={selected}
          onSelect={(row) => onSelect(row.id)}
          empty={
            view.where ? (
              <>
                <h2>Nothing fits this filter</h2>
                <p className="quiet">
                  <TextButton onClick={() => view.set({ where: null })}>Empty the filter</TextButton>
                </p>
              </>
            ) : (
              empty
            )
          }
        />
      </main>
      {panel}
    </div>
  );
}
