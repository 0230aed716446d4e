/** How labels lie on a sheet; lengths in millimetres. */
export interface LabelSheet {
  name: string;
  words: string;
  page: { width: number; height: number };
  columns: number;
  rows: number;
  label: { width: number; height: number };
  /** from the edge of the sheet to the first label */
  left: number;
  top: number;
  gap: { across: number; down: number };
}

const a4 = { width: 210, height: 297 };

export const labelSheets: LabelSheet[] = [
  {
    name: 'a4-24',
    words: 'A4, 24 labels of 70 × 37 mm',
    page: a4,
    columns: 3,
    rows: 8,
    label: { width: 70, height: 37 },
    left: 0,
    top: 0.5,
    gap: { across: 0, down: 0 },
  },
  {
    name: 'a4-40',
    words: 'A4, 40 labels of 48 × 25 mm',
    page: a4,
    columns: 4,
    rows: 10,
    label: { width: 48.5, height: 25.4 },
    left: 8,
    top: 21.5,
    gap: { across: 0, down: 0 },
  },
  {
    name: 'a4-65',
    words: 'A4, 65 labels of 38 × 21 mm',
    page: a4,
    columns: 5,
    rows: 13,
    label: { width: 38.1, height: 21.2 },
    left: 4.7,
    top: 10.7,
    gap: { across: 2.5, down: 0 },
  },
  {
    name: 'roll-62',
    words: 'one label of 62 × 29 mm after another',
    page: { width: 62, height: 29 },
    columns: 1,
    rows: 1,
    label: { width: 62, height: 29 },
    left: 0,
    top: 0,
    gap: { across: 0, down: 0 },
  },
];

/** Labels cut into sheets; the first places may be used up already. */
export function onSheets<Label>(
  labels: Label[],
  { columns, rows }: Pick<LabelSheet, 'columns' | 'rows'>,
  used: number,
): (Label | null)[][] {
  const size = columns * rows;
  const all: (Label | null)[] = [...Array.from({ length: Math.min(used, size - 1) }, () => null), ...labels];
  return Array.from({ length: Math.ceil(all.length / size) }, (_, at) => all.slice(at * size, (at + 1) * size));
}
