'use client';

import { TextButton } from '../components/TextButton';
import { useView } from '../lib/useView';
import type { NamedThing } from './rehearse/useRehearsal';

/** The name of a thing; a press shows beside the work what is known of it. */
export function ThingLink({ thing: { kind, id, name } }: { thing: NamedThing }) {
  const view = useView();
  return <TextButton onClick={() => view.set({ sel: `${kind}:${id}` })}>{name}</TextButton>;
}
