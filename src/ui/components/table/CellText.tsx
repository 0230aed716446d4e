import type { ThingField } from '@/core/things/thing';
import type { ThingRow } from '../../lib/api';
import { fieldText } from '../../lib/format';
import { CellHint } from './CellHint';

/** The text of a cell; with a comparison on, the former value stands before it. */
export function CellText({ row, field }: { row: ThingRow; field: ThingField }) {
  const text = fieldText(row[field.name], field);
  // a change has a field of this name itself
  const before =
    row.change !== undefined && row.before && typeof row.before === 'object' && field.name in row.before
      ? fieldText(row.before[field.name], field)
      : null;
  const inFull =
    field.kind === 'date' || field.isDay
      ? String(row[field.name] ?? '')
      : before === null
        ? text
        : `${before || 'nothing'} → ${text || 'nothing'}`;
  return (
    <CellHint words={inFull}>
      {before !== null && <span className="was">{before || '·'} → </span>}
      {text}
    </CellHint>
  );
}
