'use client';

import { term } from '@/core/things/near';
import { Link } from '../components/Link';
import { TextButton } from '../components/TextButton';
import { useView } from '../lib/useView';
import type { NamedThing } from './rehearse/useRehearsal';
import { hasDossier } from './selectedThing';

/** The name of a thing; a press shows its dossier beside the work, or the table it stands in. */
export function ThingLink({ thing: { kind, id, name } }: { thing: NamedThing }) {
  const view = useView();
  if (hasDossier(kind)) return <TextButton onClick={() => view.set({ sel: `${kind}:${id}` })}>{name}</TextButton>;
  if (kind === 'application')
    return <Link href={view.href('/dependencies', { of: 'applications', host: id, sel: null })}>{name}</Link>;
  const [, deviceId = '', process = ''] = /^(\d+) (.*)$/s.exec(id) ?? [];
  if (kind === 'service' && deviceId)
    return (
      <Link
        href={view.href('/estate', {
          of: 'services',
          where: `${term('device.id', deviceId)} ${/^(tcp|udp)\/\d+$/.test(process) ? term('port', process.split('/')[1]) : term('process', process)}`,
          sel: null,
        })}
      >
        {name}
      </Link>
    );
  return <b>{name}</b>;
}
