'use client';

import type { SectionProps } from './dossierTypes';
import { useView } from '../../../lib/useView';
import { plural } from './plural';
import { Link } from '@/ui/components/Link';
import { Glyph } from '@/ui/components/Glyph';

const mostNamed = 6;

/** May it be taken away? What would be lost with it, and what hangs there. */
export function DependsOnIt({
  dossier: {
    device,
    dependants: { applications, services, devices, spared, endpoints, machines, restarted },
  },
  paper,
}: SectionProps) {
  const view = useView();
  const named = paper ? devices : devices.slice(0, mostNamed);
  const alone = devices.length === 0;
  const hanging = plural(endpoints.total, 'endpoint');
  const nothing = alone && endpoints.total === 0 && machines === 0 && applications.length === 0 && services.total === 0;
  const stopped = applications.filter(({ lost }) => lost);
  const weakened = applications.filter(({ lost }) => !lost);
  const rehearse = view.href('/dependencies', { of: 'rehearse', down: `device:${device.id}`, sel: null });
  return (
    <section className="section small">
      <h3>What depends on it {!paper && <Link href={rehearse}>rehearse its loss</Link>}</h3>
      {stopped.map((one) => (
        <p key={one.id}>
          <Glyph name="fault" size={9} /> <ApplicationLink {...one} /> would be lost: {one.why}
        </p>
      ))}
      {weakened.length > 0 && (
        <p>
          <Glyph name="later" size={9} />{' '}
          {weakened.map((one, at) => (
            <span key={one.id}>
              {at > 0 && (at === weakened.length - 1 ? ' and ' : ', ')}
              <ApplicationLink {...one} />
            </span>
          ))}{' '}
          would lose a spare{weakened.length === 1 && `: ${weakened[0]?.why}`}
        </p>
      )}
      {!alone && (
        <p>
          <Link href={view.href('/map', { over: 'spare ways', sel: `device:${device.id}` })}>
            {plural(devices.length, 'device')}
          </Link>{' '}
          lost with it:{' '}
          {named.map(({ id, name }, at) => (
            <span key={id}>
              {at > 0 && ', '}
              <Link href={view.href(`/estate/${id}`)}>{name}</Link>
            </span>
          ))}
          {devices.length > named.length && `, and ${devices.length - named.length} more`}
        </p>
      )}
      {services.first.map(({ id, name, why }) => (
        <p key={id}>
          {name} would be lost: {why}
        </p>
      ))}
      {services.total > services.first.length && (
        <p className="quiet">and {plural(services.total - services.first.length, 'more service')} elsewhere</p>
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
          {restarted > 0 && `; ${restarted} would start again elsewhere`}
        </p>
      )}
      {nothing && <p className="quiet">Nothing that is known.</p>}
      {spared > 0 && (
        <p className="quiet">{spared === 1 ? 'One device loses' : `${spared} devices lose`} a spare with it.</p>
      )}
    </section>
  );
}

function ApplicationLink({ id, name }: { id: string; name: string }) {
  const view = useView();
  return <Link href={view.href('/dependencies', { of: 'applications', host: id, sel: null })}>{name}</Link>;
}
