import { strataOf, type Rest, type Strata, type StrataFacts } from '../../core/applications/strata';
import { linkWords } from '../../core/dependency/linkWords';
import { stoppersOf } from '../../core/dependency/stoppers';
import { hostKey, type Application } from '../../core/applications/application';
import type { Part } from '../../core/applications/assemble';
import { valueAt } from '../../core/tables/column';
import type { Store } from '../../store/base/database';
import { tablesOf } from '../query/tables/estateTables';
import { dependenceAt, type Dependence } from './dependence';
import { assembledFrom } from './serving';
import { servingNow } from './servingNow';

export interface ToldStrata extends Strata {
  survey: number;
}

/** An application as strata at a survey: who uses it, its services, their hosts, and what carries them. */
export function strataAt(store: Store, survey: number, id: string, application: Application): ToldStrata {
  const dependence = dependenceAt(store, survey);
  const assembled = assembledFrom(application, servingNow(store, survey));
  const { rehearsals, providers, prepared, numberOf } = dependence;
  const thing = numberOf({ kind: 'application', id });
  const alone = new Set(
    thing < 0
      ? []
      : stoppersOf(rehearsals, thing, providers).ones.map((one) => {
          const told = prepared.things[one];
          return `${told?.kind} ${told?.id}`;
        }),
  );
  const macs = macsAt(store, survey, new Set(assembled.parts.map(({ address }) => address)));
  return {
    survey,
    ...strataOf({
      assembled,
      users: usersOf(store, survey, assembled.parts),
      atLeast: (service) => application.needed.find((one) => one.service === service)?.atLeast ?? 1,
      restsOf: carriers(dependence, macs),
      isAlone: (kind, own) => alone.has(`${kind} ${kind === 'endpoint' ? (macs.get(own) ?? '') : own}`),
    }),
  };
}

/** Which endpoints have some addresses. */
function macsAt(store: Store, survey: number, wanted: ReadonlySet<string>): Map<string, string> {
  const table = tablesOf(store).table('endpoints', survey, null);
  const [macs, addresses] = [table.column('mac'), table.column('addresses')];
  const found = new Map<string, string>();
  for (let row = 0; row < table.size; row++)
    for (const address of valueAt(addresses, row) as string[])
      if (wanted.has(address) && !found.has(address)) found.set(address, String(valueAt(macs, row)));
  return found;
}

/** Who asks parts from outside: devices by their numbers, and addresses that are none. */
function usersOf(store: Store, survey: number, parts: readonly Part[]): StrataFacts['users'] {
  const table = tablesOf(store).talk(survey);
  const [clients, servers] = [table.devicesAt('client'), table.devicesAt('server')];
  const byHost = new Map<string, number[]>();
  parts.forEach((part, at) => {
    if (part.verdict !== 'shared') byHost.set(hostKey(part), [...(byHost.get(hostKey(part)) ?? []), at]);
  });
  const of = (field: string) => {
    const column = table.column(field);
    return (row: number) => String(valueAt(column, row) ?? '');
  };
  const [process, name, site, address, protocol, port, asker] = [
    'serverProcess',
    'clientName',
    'clientSite',
    'clientAddress',
    'protocol',
    'port',
    'clientProcess',
  ].map(of);
  const isPart = new Set(parts.map((part) => `${hostKey(part)} ${part.service}`));
  const areAddressed = parts.some(({ deviceId }) => deviceId === 0);
  const serverAddress = table.column('serverAddress');
  const found: StrataFacts['users'][number][] = [];
  for (let row = 0; row < table.size; row++) {
    const server = servers[row] ?? 0;
    const here =
      server > 0
        ? byHost.get(String(server))
        : areAddressed
          ? byHost.get(String(valueAt(serverAddress, row)))
          : undefined;
    if (!here) continue;
    const place = `${protocol?.(row)}/${port?.(row)}`;
    const at = here.find((one) => {
      const { service = '' } = parts[one] ?? {};
      return service === process?.(row) || service === place || service === '';
    });
    const client = clients[row] ?? 0;
    if (at === undefined || isPart.has(`${client} ${asker?.(row)}`)) continue;
    // where no process is told, a host on which parts run is nobody from outside
    if (asker?.(row) === '' && byHost.has(String(client))) continue;
    found.push({
      id: client > 0 ? String(client) : (address?.(row) ?? ''),
      name: name?.(row) ?? '',
      site: site?.(row) ?? '',
      part: at,
      proof: place,
    });
  }
  return found;
}

/** What carries a device or a machine, as the graph of dependence knows it. */
function carriers(
  { prepared, numberOf, links, linkOf }: Dependence,
  macs: ReadonlyMap<string, string>,
): StrataFacts['restsOf'] {
  const named = (at: number, proof: string): Rest['on'][number][] => {
    const thing = prepared.things[at];
    return thing && (thing.kind === 'device' || thing.kind === 'machine')
      ? [{ kind: thing.kind, id: thing.id, name: thing.name, proof }]
      : [];
  };
  const cablesOf = new Map<number, { other: number; cable: number }[]>();
  prepared.cables.forEach(({ a, b }, cable) => {
    for (const [own, other] of [
      [a, b],
      [b, a],
    ] as const)
      cablesOf.set(own, [...(cablesOf.get(own) ?? []), { other, cable }]);
  });
  return (kind, id) => {
    const at = numberOf({ kind, id: kind === 'endpoint' ? (macs.get(id) ?? '') : id });
    if (at < 0) return [];
    if (kind === 'endpoint') {
      const on = named(prepared.hangsOn[at] ?? -1, 'is heard there');
      return on.length > 0 ? [{ kind: 'switch', on }] : [];
    }
    if (kind === 'machine')
      return prepared.machines
        .filter(({ machine }) => machine === at)
        .map(({ host }) => ({ kind: 'hypervisor', on: named(host, 'runs on it now') }));
    const machine = prepared.machines.find(({ inside }) => inside === at);
    const switches = new Map<number, string[]>();
    for (const { other, cable } of cablesOf.get(at) ?? []) {
      if (!prepared.forwards[other]) continue;
      const link = links[linkOf[cable] ?? -1];
      switches.set(other, [...(switches.get(other) ?? []), link ? linkWords(link) : 'a cable']);
    }
    const gateways = prepared.gatewayGroups.filter(({ things }) => things.includes(at));
    const power = prepared.needs.filter(({ of, kind: why }) => of === at && why === 'powered by');
    const rests: Rest[] = [
      ...(machine ? [{ kind: 'machine' as const, on: named(machine.machine, 'runs in it') }] : []),
      // what runs in a machine hangs on the switches of whoever carries that
      ...(machine || switches.size === 0
        ? []
        : [
            {
              kind: 'switch' as const,
              on: [...switches].flatMap(([other, words]) => named(other, words.join('; '))),
            },
          ]),
      ...gateways.map((group) => ({
        kind: 'gateway' as const,
        on: group.gateways.flatMap((one) => named(one, `routes for ${group.network}`)),
      })),
      ...power.map(({ from, proof }) => ({ kind: 'power' as const, on: from.flatMap((one) => named(one, proof)) })),
    ];
    return rests.filter(({ on }) => on.length > 0);
  };
}
