import type { FabricEndpointFacts } from '../../../core/estate/facts';
import type { Db } from '../../../store/base/database';
import { factsAsOf } from '../../../store/base/facts';

/** To whom an endpoint belongs in the fabric that has learned it. */
export const fabricFields = ['tenant', 'fabricGroup'] as const;

/** One of these, by the MAC of the endpoint. */
export function fabricPlaces(db: Db, survey: number, field: (typeof fabricFields)[number]): Map<string, string> {
  return new Map(
    factsAsOf<FabricEndpointFacts>(db, 'fabricEndpoint', survey).map(({ content: { mac, tenant, group } }) => [
      mac,
      field === 'tenant' ? tenant : group,
    ]),
  );
}
