'use client';

import { things, type ThingName } from '@/core/things/things';
import { Choices } from '../../components/Choices';

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
  const choices: { value: RowsMeant; words: string }[] = [
    ...(marked.length > 0 ? [{ value: 'marked' as const, words: `the ${marked.length} marked ${name}` }] : []),
    { value: 'shown', words: `all ${total.toLocaleString('en')} ${name} that the table shows` },
    ...(selected !== null ? [{ value: 'selected' as const, words: 'the one that is selected' }] : []),
  ];
  return <Choices label="Which rows" name="meant" value={meant} choices={choices} onChange={onChoose} />;
}
