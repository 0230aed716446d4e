'use client';

import type { FabricTenant } from '@/core/fabric/fabricTree';
import { TextButton } from '../../components/TextButton';

/** What the endpoints are narrowed to. */
export type Part = { tenant?: string; group?: string; node?: string };

/** Tenants with their virtual routers, bridge domains, subnets and groups. */
export function TenantTree({
  tenants,
  part,
  onChoose,
}: {
  tenants: readonly FabricTenant[];
  part: Part;
  onChoose: (part: Part) => void;
}) {
  const counted = (count: number) => (
    <span className="quiet small">
      {count} {count === 1 ? 'endpoint' : 'endpoints'}
    </span>
  );
  return (
    <section className="tenants" aria-label="Tenants">
      {tenants.length === 0 && <p className="quiet">The controller tells of no tenant.</p>}
      {tenants.map(({ tenant, contexts, endpoints }) => (
        <div key={tenant} className="tenant">
          <h2>
            <TextButton
              aria-pressed={part.tenant === tenant && !part.group}
              onClick={() => onChoose(part.tenant === tenant && !part.group ? {} : { tenant })}
            >
              {tenant}
            </TextButton>{' '}
            {counted(endpoints)}
          </h2>
          {contexts.map(({ context, domains }) => (
            <div key={context} className="context">
              <h3>
                <span className="quiet">virtual router</span> {context}
              </h3>
              <ul className="plainlist">
                {domains.map(({ domain, subnets, groups }) => (
                  <li key={domain}>
                    <div>
                      <span className="quiet small">bridge domain</span> {domain}{' '}
                      {subnets.map((subnet) => (
                        <span key={subnet} className="mono small subnet">
                          {subnet}
                        </span>
                      ))}
                    </div>
                    <ul className="plainlist">
                      {groups.map(({ group, endpoints: count }) => (
                        <li key={group}>
                          <TextButton
                            aria-pressed={part.tenant === tenant && part.group === group}
                            onClick={() =>
                              onChoose(part.tenant === tenant && part.group === group ? {} : { tenant, group })
                            }
                          >
                            {group}
                          </TextButton>{' '}
                          {counted(count)}
                        </li>
                      ))}
                      {groups.length === 0 && <li className="quiet small">no group</li>}
                    </ul>
                  </li>
                ))}
                {domains.length === 0 && <li className="quiet small">no bridge domain</li>}
              </ul>
            </div>
          ))}
        </div>
      ))}
    </section>
  );
}
