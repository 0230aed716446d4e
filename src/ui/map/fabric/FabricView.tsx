'use client';

import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { FabricEndpointFacts } from '@/core/estate/facts';
import type { FabricTree, SubnetPlace } from '@/core/fabric/fabricTree';
import { Link } from '@/ui/components/Link';
import { useTypedFind } from '../../lib/useTypedFind';
import { useView } from '../../lib/useView';
import { call, type ApiProblem } from '../../lib/api';
import { AnyDossier } from '../../features/dossier/AnyDossier';
import { Panel } from '../../components/Panel';
import { ProblemNote } from '../../components/ProblemNote';
import { MapViews } from '../MapViews';
import { LeavesAndSpines } from './LeavesAndSpines';
import { TenantTree, type Part } from './TenantTree';
import { TextButton } from '../../components/TextButton';
import { PlainSelect } from '../../components/PlainSelect';
import { PlainInput } from '../../components/PlainInput';

type Fabric = FabricTree & { controller: { id: number; name: string }; devices: Record<string, number> };
interface Endpoints {
  rows: FabricEndpointFacts[];
  total: number;
  places: SubnetPlace[];
}

/** A fabric: its leaves and spines, whose networks run over it, and from an address to its tenant, group and port. */
export function FabricView() {
  const view = useView();
  const [part, setPart] = useState<Part>({});
  const [text, setText] = useTypedFind();
  const fabrics = useQuery<{ rows: Fabric[] }, ApiProblem>({
    queryKey: ['fabrics', view.survey],
    queryFn: ({ signal }) => call(`fabrics${view.survey ? `?survey=${view.survey}` : ''}`, { signal }),
  });
  const all = fabrics.data?.rows ?? [];
  const fabric = all.find(({ controller }) => String(controller.id) === view.device) ?? all[0];
  const find = (view.find ?? '').trim();
  const asked = new URLSearchParams({
    ...part,
    ...(find && { text: find }),
    ...(view.survey && { survey: view.survey }),
  }).toString();
  const endpoints = useQuery<Endpoints, ApiProblem>({
    queryKey: ['fabricEndpoints', fabric?.controller.id, asked],
    enabled: fabric !== undefined,
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: ({ signal }) =>
      call(`fabrics/${fabric?.controller.id ?? 0}/endpoints${asked ? `?${asked}` : ''}`, { signal }),
  });
  const chosenDevice = /^device:(\d+)$/.exec(view.sel ?? '')?.[1] ?? null;
  const port = /^port:(\d+:.*)$/.exec(view.sel ?? '')?.[1] ?? null;
  const endpoint = /^endpoint:(.*)$/.exec(view.sel ?? '')?.[1] ?? null;
  return (
    <div className="area">
      <main className="work scrolls">
        <div className="titleline">
          <h1>Fabric</h1>
          {fabric && (
            <span className="quiet">
              {fabric.controller.name}: {fabric.nodes.length} leaves and spines, {fabric.tenants.length}{' '}
              {fabric.tenants.length === 1 ? 'tenant' : 'tenants'}
            </span>
          )}
          {all.length > 1 && (
            <PlainSelect
              aria-label="Which fabric"
              value={String(fabric?.controller.id)}
              onChange={(event) => view.set({ device: event.target.value, sel: null })}
            >
              {all.map(({ controller }) => (
                <option key={controller.id} value={controller.id}>
                  {controller.name}
                </option>
              ))}
            </PlainSelect>
          )}
          <div className="filter" style={{ maxWidth: 360 }}>
            <PlainInput
              type="text"
              aria-label="Find in the fabric"
              placeholder="an address, a network, a MAC, a name"
              value={text}
              spellCheck={false}
              autoComplete="off"
              onChange={(event) => setText(event.target.value)}
            />
          </div>
        </div>
        <MapViews current="fabric" />
        {fabrics.error && <ProblemNote problem={fabrics.error} />}
        {fabrics.data && !fabric && (
          <div className="empty">
            <h2>No fabric is known</h2>
            <p className="quiet">
              Put the address of a fabric controller and a credential of the kind “controller” into a scope;{' '}
              <Link href={view.href('/survey')}>the next survey</Link> then asks it for its leaves, tenants and
              endpoints.
            </p>
          </div>
        )}
        {fabric && (
          <div className="fabric">
            <LeavesAndSpines
              fabric={fabric}
              chosen={part.node ?? null}
              onChoose={(node) => setPart(part.node === node ? {} : { node })}
              onOpen={(id) => view.set({ sel: `device:${id}` })}
            />
            <div className="fabricparts">
              <TenantTree tenants={fabric.tenants} part={part} onChoose={setPart} />
              <section aria-label="Endpoints" style={{ minWidth: 0 }}>
                {endpoints.data && find && (
                  <Places places={endpoints.data.places} total={endpoints.data.total} find={find} />
                )}
                {endpoints.error && <ProblemNote problem={endpoints.error} />}
                {endpoints.data && (
                  <EndpointTable
                    endpoints={endpoints.data}
                    part={part}
                    find={find}
                    devices={fabric.devices}
                    onAll={() => {
                      setPart({});
                      setText('');
                    }}
                    onChoose={(sel) => view.set({ sel })}
                  />
                )}
              </section>
            </div>
          </div>
        )}
      </main>
      {chosenDevice && (
        <Panel label="Dossier">
          <AnyDossier thing="devices" id={chosenDevice} />
        </Panel>
      )}
      {port && (
        <Panel label="Port">
          <AnyDossier thing="ports" id={port} />
        </Panel>
      )}
      {endpoint && (
        <Panel label="Endpoint">
          <AnyDossier key={endpoint} thing="endpoints" id={endpoint} />
        </Panel>
      )}
    </div>
  );
}

/** Where a subnet or an address belongs. */
function Places({ places, total, find }: { places: SubnetPlace[]; total: number; find: string }) {
  if (places.length === 0) return total === 0 ? <p>Nothing in the fabric is, holds or is called “{find}”.</p> : null;
  return (
    <ul className="plainlist">
      {places.map(({ tenant, context, domain, subnet, groups }) => (
        <li key={`${tenant} ${context} ${domain} ${subnet}`}>
          <b className="mono">{subnet}</b> is the gateway of {domain} in virtual router {context} of tenant{' '}
          <b>{tenant}</b>
          {groups.length > 0
            ? `, with ${groups.length === 1 ? 'group' : 'groups'} ${groups.join(', ')}`
            : ', without a group'}
        </li>
      ))}
    </ul>
  );
}

const shownOf = ({ tenant, group, node }: Part): string =>
  [group && `of ${group}`, tenant && `of tenant ${tenant}`, node && `at ${node}`].filter(Boolean).join(' ');

function EndpointTable({
  endpoints: { rows, total },
  part,
  find,
  devices,
  onAll,
  onChoose,
}: {
  endpoints: Endpoints;
  part: Part;
  find: string;
  devices: Record<string, number>;
  onAll: () => void;
  onChoose: (sel: string) => void;
}) {
  const narrowed = Object.keys(part).length > 0 || find !== '';
  return (
    <>
      <p className="quiet small">
        {total} {total === 1 ? 'endpoint' : 'endpoints'} {shownOf(part)}
        {total > rows.length && `, the first ${rows.length} are shown`}
        {narrowed && (
          <>
            {' '}
            · <TextButton onClick={onAll}>all of the fabric</TextButton>
          </>
        )}
      </p>
      {rows.length > 0 && (
        <table className="plain">
          <thead>
            <tr>
              <th>Addresses</th>
              <th>MAC</th>
              <th>Tenant</th>
              <th>Group</th>
              <th>Leaf</th>
              <th>Port</th>
              <th>VLAN</th>
            </tr>
          </thead>
          <tbody>
            {rows.map(({ mac, addresses, tenant, group, node, port, vlan }) => (
              <tr key={`${mac} ${node} ${port}`}>
                <td className="mono">{addresses.join(', ')}</td>
                <td>
                  <TextButton className="mono" onClick={() => onChoose(`endpoint:${mac}`)}>
                    {mac}
                  </TextButton>
                </td>
                <td>{tenant}</td>
                <td>{group}</td>
                <td>{node}</td>
                <td>
                  {devices[node] ? (
                    <TextButton
                      className="mono"
                      aria-label={`Port ${port} of ${node}`}
                      onClick={() => onChoose(`port:${devices[node] ?? 0}:${port}`)}
                    >
                      {port}
                    </TextButton>
                  ) : (
                    <span className="mono">{port}</span>
                  )}
                </td>
                <td className="mono">{vlan}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}
