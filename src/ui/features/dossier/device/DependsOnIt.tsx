'use client';

import type { SectionProps } from './dossierTypes';
import { useView } from '../../../lib/useView';
import { plural } from './plural';
import { Link } from '@/ui/components/Link';

const mostNamed = 6;

/** May it be taken away? What reaches the rest only through it, and what hangs there. */
export function DependsOnIt({
  dossier: {
    dependants: { devices, spared, endpoints, machines },
  },
  paper,
}: SectionProps) {
  const view = useView();
  const named = paper ? devices : devices.slice(0, mostNamed);
  const alone = devices.length === 0;
  const hanging = plural(endpoints.total, 'endpoint');
  return (
    <section className="section small">
      <h3>What depends on it</h3>
      {!alone && (
        <p>
          {plural(devices.length, 'device')} reached only through it:{' '}
          {named.map(({ id, name }, at) => (
            <span key={id}>
              {at > 0 && ', '}
              <Link href={view.href(`/estate/${id}`)}>{name}</Link>
            </span>
          ))}
          {devices.length > named.length && `, and ${devices.length - named.length} more`}
        </p>
      )}
      {endpoints.total > 0 && (
        <p>
          {endpoints.where ? (
            <Link href={view.href('/estate', { of: 'endpoints', where: endpoints.where, sel: null })}>{hanging}</Link>
          ) : (
            hanging
          )}{' '}
          {alone ? 'at it or passed on by it' : 'at it and at them'}
        </p>
      )}
      {machines > 0 && (
        <p>
          {plural(machines, 'virtual machine')} {alone ? 'on it' : 'on it and on them'}
        </p>
      )}
      {alone && endpoints.total === 0 && machines === 0 && <p className="quiet">Nothing that is known.</p>}
      {spared > 0 && (
        <p className="quiet">
          {spared === 1 ? 'One neighbour keeps' : `${spared} neighbours keep`} another way without it.
        </p>
      )}
    </section>
  );
}
