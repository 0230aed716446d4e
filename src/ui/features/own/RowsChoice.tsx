'use client';

import { things, type ThingName } from '@/core/things/things';

export type RowsMeant = 'marked' | 'shown' | 'selected';

/** Which rows an act is for. */
export function RowsChoice({
  thing,
  total,
  selected,
  marked,
  meant,
  onChoose,
}: {
  thing: ThingName;
  total: number;
  selected: string | null;
  marked: string[];
  meant: RowsMeant;
  onChoose: (meant: RowsMeant) => void;
}) {
  const name = things[thing].title.toLowerCase();
  const choices: { key: RowsMeant; words: string }[] = [
    ...(marked.length > 0 ? [{ key: 'marked' as const, words: `the ${marked.length} marked ${name}` }] : []),
    { key: 'shown', words: `all ${total.toLocaleString('en')} ${name} that the table shows` },
    ...(selected !== null ? [{ key: 'selected' as const, words: 'the one that is selected' }] : []),
  ];
  return (
    <div role="radiogroup" aria-label="Which rows" style={{ display: 'flex', gap: 18, flexWrap: 'wrap' }}>
      {choices.map(({ key, words }) => (
        <label key={key}>
          <input type="radio" name="meant" checked={meant === key} onChange={() => onChoose(key)} /> {words}
        </label>
      ))}
    </div>
  );
}
