'use client';

import { writtenValue } from '@/core/filter/written';
import { Ago } from '../../components/Ago';
import { Glyph } from '../../components/Glyph';
import { Link } from '../../components/Link';
import { TextButton } from '../../components/TextButton';
import { useMayEdit } from '../../lib/person';
import { useView } from '../../lib/useView';
import type { ServiceGroup, ServiceInstance } from './useServices';

/** One service: where it runs, as what, and who asks it. */
export function ServiceDetail({ group }: { group: ServiceGroup }) {
  const view = useView();
  const mayEdit = useMayEdit();
  const { name, kind, publisher, category, instances } = group;
  const facts = [kind, category, publisher && `by ${publisher}`].filter(Boolean).join(', ');
  return (
    <section className="verdict" aria-label={name}>
      <h2 className="sentence">
        <b>{name}</b>{' '}
        {kind ? (
          <span className="quiet">{facts}</span>
        ) : (
          <>
            <Glyph name="fault" /> No rule explains it: is it meant to be there?
          </>
        )}
      </h2>
      {kind === '' && mayEdit && (
        <p>
          <TextButton
            onClick={() =>
              view.set({
                sel: `rule:new:${JSON.stringify({ process: instances[0]?.process ?? '', path: instances[0]?.path ?? '' })}`,
              })
            }
          >
            Write a rule that says what it is
          </TextButton>
        </p>
      )}
      {instances.map((instance) => (
        <Instance key={`${instance.deviceId} ${instance.process} ${instance.listeners.join()}`} instance={instance} />
      ))}
    </section>
  );
}

function Instance({ instance }: { instance: ServiceInstance }) {
  const view = useView();
  const { deviceId, device, site, process, path, arguments: words, listeners, isLocal, knownBy } = instance;
  const service = `service:${deviceId} ${process || (listeners[0] ?? '')}`;
  return (
    <section className="instance">
      <h3>
        <TextButton onClick={() => view.set({ sel: `device:${deviceId}` })}>{device}</TextButton>{' '}
        <span className="quiet">{site}</span>
        <span className="end small">
          <Link href={view.href('/dependencies', { of: 'rehearse', down: service, sel: null })}>Rehearse its loss</Link>
        </span>
      </h3>
      <dl className="facts">
        <dt>Listens on</dt>
        <dd className="mono">
          {listeners.join(', ')}
          {isLocal && <span className="quiet"> on this host alone</span>}
        </dd>
        {(path || process) && (
          <>
            <dt>Process</dt>
            <dd className="mono wrapped">
              {path || process} {words && <span className="quiet">{words}</span>}
            </dd>
          </>
        )}
        {instance.package && (
          <>
            <dt>Package</dt>
            <dd className="mono">
              {instance.package} {instance.version}
            </dd>
          </>
        )}
        {knownBy && (
          <>
            <dt>Known by</dt>
            <dd className="quiet">its {knownBy.split(': ')[0]}</dd>
          </>
        )}
      </dl>
      <Clients instance={instance} />
    </section>
  );
}

/** Who asks, those heard last first. */
function Clients({ instance: { clients, newest, device, listeners } }: { instance: ServiceInstance }) {
  const view = useView();
  const ports = [...new Set(listeners.map((listener) => listener.split('/').at(-1)))];
  if (clients === 0) return <p className="quiet small">Nobody is known to ask it.</p>;
  return (
    <ul className="sentences">
      {newest.map(({ name, deviceId, process, protocol, port, conversation, lastSeen, rhythm }) => (
        <li key={conversation}>
          {deviceId === null ? (
            <span className="mono">{name}</span>
          ) : (
            <TextButton onClick={() => view.set({ sel: `device:${deviceId}` })}>{name}</TextButton>
          )}{' '}
          {process && <span>by {process} </span>}
          <span className="quiet">
            asks{' '}
            <span className="mono">
              {protocol}/{port}
            </span>
            ,{' '}
            <Link href={view.href('/estate', { of: 'conversations', sel: `conversation:${conversation}` })}>
              last heard <Ago at={lastSeen} />
            </Link>
            {rhythm && `, ${rhythm}`}
          </span>
        </li>
      ))}
      {clients > newest.length && (
        <li>
          <Link
            href={view.href('/dependencies', {
              of: 'talk',
              where: `server.name=${writtenValue(device)} (${ports.map((port) => `port=${port}`).join(' or ')})`,
              sel: null,
            })}
          >
            all {clients.toLocaleString('en')}
          </Link>
        </li>
      )}
    </ul>
  );
}
