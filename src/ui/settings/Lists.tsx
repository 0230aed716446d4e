'use client';

import { Ways } from '../components/Ways';
import { WrittenLast } from '../features/edits/WrittenLast';
import { CsvImport } from '../features/imports/CsvImport';
import { useImports } from '../features/imports/useImports';
import { useView } from '../lib/useView';

/** Every list that can be taken from a CSV file, on one page. */
export function Lists() {
  const view = useView();
  const { data } = useImports();
  const [first] = data ?? [];
  const chosen = data?.find(({ name }) => name === view.of) ?? first;
  if (!data || !chosen) return null;
  return (
    <div style={{ padding: '0 16px 24px', maxWidth: 900 }}>
      <Ways
        label="What is taken"
        way={chosen.name}
        ways={data.map(({ name, title }) => ({ key: name, words: title }))}
        onWay={(of) => view.set({ of })}
      />
      <CsvImport key={chosen.name} name={chosen.name} />
      <WrittenLast key={`${chosen.name} edits`} of={chosen.edits} />
    </div>
  );
}
