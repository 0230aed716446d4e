import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { DeviceFacts, WayKind } from './facts';
import { contradicts, IdentityIndex, matchIdentity, type KnownIdentity, type SeenIdentity } from './identity';

/** Small alphabets, so that devices collide in every way that real ones do: clones, swapped names, shared addresses, no serials. */
const identity = fc.record({
  name: fc.constantFrom('rpw-plat', 'chd-plat', 'lqy-plat'),
  address: fc.constantFrom('10.72.4.2', '10.72.5.2', '10.72.3.2'),
  addresses: fc.uniqueArray(fc.constantFrom('10.72.4.2', '10.72.5.2', '10.72.3.2', '10.72.4.251'), { maxLength: 3 }),
  serial: fc.constantFrom('', 'KA48-1', 'KA48-2', 'KA48-3'),
  engineId: fc.constantFrom(null, '8000a', '8000b'),
  bridgeAddress: fc.constantFrom(null, '02:4b:45:00:00:01', '02:4b:45:00:00:02'),
  uuid: fc.constantFrom('', '5a1d0e00-1', '5a1d0e00-2'),
  unitSerials: fc.uniqueArray(fc.constantFrom('KA48-1', 'KA48-2', 'KA48-3'), { maxLength: 3 }),
  macs: fc.uniqueArray(fc.constantFrom('02:42:52:00:00:01', '02:42:52:00:00:02'), { maxLength: 2 }),
  kinds: fc.constantFrom<WayKind[]>(['snmp'], ['redfish'], ['snmp', 'redfish']),
});
type Identity = Omit<KnownIdentity, 'id'>;
const facts = (one: Identity): SeenIdentity => ({
  ...(one as unknown as DeviceFacts),
  units: (one.unitSerials ?? []).map((serial) => ({ name: '', model: '', serial })),
  ...(one.kinds && {
    interfaces: one.kinds.map((kind) => ({ kind, address: one.address, credential: '', release: '' })),
  }),
});

/** What a store does: a match takes its place, a stranger gets the next number. */
function settle(sightings: Identity[]): { index: IdentityIndex; known: Map<number, KnownIdentity>; ids: number[] } {
  const index = new IdentityIndex();
  const known = new Map<number, KnownIdentity>();
  const ids = sightings.map((sighting) => {
    const id = index.match(facts(sighting))?.id ?? known.size + 1;
    known.set(id, { id, ...sighting });
    index.set({ id, ...sighting });
    return id;
  });
  return { index, known, ids };
}

describe('identities by index', () => {
  test('the index finds what a look at every device would find', () => {
    fc.assert(
      fc.property(fc.array(identity, { maxLength: 12 }), identity, (sightings, found) => {
        const { index, known, ids } = settle(sightings);
        const all = [...known.values()].sort((x, y) => x.id - y.id);
        expect(index.match(facts(found))).toEqual(matchIdentity(facts(found), all));
        const odd = (id: number) => id % 2 === 1;
        expect(index.match(facts(found), odd)).toEqual(matchIdentity(facts(found), all, odd));
        const lately = [...new Set(ids.toReversed())].flatMap((id) => known.get(id) ?? []);
        const asked =
          lately.find(({ address }) => address === found.address) ??
          lately.find(({ addresses }) => addresses.includes(found.address));
        expect(index.byAddress(found.address)).toBe(asked?.id ?? null);
      }),
      { numRuns: 1500 },
    );
  });
  test('the same device seen again is the same device, however often', () => {
    fc.assert(
      fc.property(
        identity,
        fc.nat({ max: 5 }),
        (one, times) => new Set(settle(Array.from({ length: times + 1 }, () => one)).ids).size === 1,
      ),
    );
  });
  test('two chassis with serials of their own and nothing else in common are never one', () => {
    fc.assert(
      fc.property(fc.array(fc.nat({ max: 20 }), { maxLength: 30 }), (order) => {
        const device = (at: number): Identity => ({
          name: `sw-${at}`,
          address: `10.72.9.${at}`,
          addresses: [`10.72.9.${at}`],
          serial: `S-${at}`,
          engineId: '8000clone',
          bridgeAddress: null,
        });
        const { ids } = settle(order.map(device));
        expect(new Set(ids).size).toBe(new Set(order).size);
      }),
    );
  });
  test('a chassis that wanders over names and addresses keeps its number', () => {
    const moves: Identity[] = [
      { name: 'a', address: '10.72.9.1', addresses: [], serial: 'S-1', engineId: null, bridgeAddress: null },
      { name: 'b', address: '10.72.9.2', addresses: [], serial: 'S-2', engineId: null, bridgeAddress: null },
      { name: 'b', address: '10.72.9.1', addresses: [], serial: 'S-1', engineId: null, bridgeAddress: null },
      { name: 'a', address: '10.72.9.2', addresses: [], serial: 'S-2', engineId: null, bridgeAddress: null },
    ];
    expect(settle(moves).ids).toEqual([1, 2, 1, 2]);
  });
});

describe('one device by several signs', () => {
  const bare: Identity = {
    name: 'a',
    address: '10.72.1.1',
    addresses: [],
    serial: '',
    engineId: null,
    bridgeAddress: null,
  };
  const known = (more: Partial<Identity>): KnownIdentity[] => [{ id: 7, ...bare, ...more }];
  const seen = (more: Partial<Identity>) => facts({ ...bare, name: 'b', address: '10.72.2.1', ...more });
  test('a stack whose first member changed is the same stack while it keeps any member; two single chassis are not', () => {
    expect(
      matchIdentity(
        seen({ serial: 'KA48-2', unitSerials: ['KA48-2', 'KA48-3'] }),
        known({ serial: 'KA48-1', unitSerials: ['KA48-1', 'KA48-2'] }),
      ),
    ).toEqual({ id: 7, by: 'serial', replaced: false });
    expect(
      matchIdentity(
        seen({ serial: 'KA48-2', unitSerials: ['KA48-2'] }),
        known({ serial: 'KA48-1', unitSerials: ['KA48-1'] }),
      ),
    ).toBeNull();
  });
  test('a server and its controller know each other by UUID or by a MAC; two copies of a machine by neither their MACs', () => {
    expect(matchIdentity(seen({ uuid: '5a1d0e00-1' }), known({ uuid: '5a1d0e00-1' }))).toMatchObject({
      id: 7,
      by: 'uuid',
    });
    expect(
      matchIdentity(
        seen({ macs: ['02:42:52:00:00:01'], kinds: ['redfish'] }),
        known({ macs: ['02:42:52:00:00:01'], kinds: ['snmp'] }),
      ),
    ).toMatchObject({ id: 7, by: 'mac' });
    expect(
      matchIdentity(
        seen({ macs: ['02:42:52:00:00:01'], kinds: ['snmp'] }),
        known({ macs: ['02:42:52:00:00:01'], kinds: ['snmp'] }),
      ),
    ).toBeNull();
    expect(
      matchIdentity(
        seen({ macs: ['02:42:52:00:00:01'], kinds: ['redfish'], serial: 'BR-1' }),
        known({ macs: ['02:42:52:00:00:01'], kinds: ['snmp'], serial: 'BR-2' }),
      ),
    ).toBeNull();
  });
});

describe('different devices are not taken for one', () => {
  const host = (at: number, more: Partial<Identity> = {}): Identity => ({
    name: 'localhost.localdomain',
    address: `10.72.9.${at}`,
    addresses: [`10.72.9.${at}`, '172.17.0.1'],
    serial: '',
    engineId: `8000${at}`,
    bridgeAddress: null,
    ...more,
  });
  /** Surveys in turn, each a list of who answers: the numbers they get. A device that answered in this survey under another address has been met. */
  function surveys(rounds: Identity[][], macs: (at: string) => string[] = () => []): number[][] {
    const index = new IdentityIndex();
    const latest = new Map<number, Identity>();
    return rounds.map((seen) => {
      const met = new Set<number>();
      return seen.map((one) => {
        const found = { ...facts(one), socketMacs: macs(one.address) };
        const id =
          index.match(found, (known) => met.has(known) && latest.get(known)?.address !== one.address)?.id ??
          latest.size + 1;
        index.set({ id, ...one, socketMacs: () => macs(one.address) });
        latest.set(id, one);
        met.add(id);
        return id;
      });
    });
  }
  const [one, two, three] = [host(1), host(2), host(3)];
  test('hosts of one name that all have 172.17.0.1 are as many as answer, in any order, in every survey', () => {
    expect(surveys([[one, two, three], [three, one, two], [two], [three, one]])).toEqual([
      [1, 2, 3],
      [3, 1, 2],
      [2],
      [3, 1],
    ]);
  });
  test('one of them that is new in a later survey takes nobody’s place', () => {
    expect(
      surveys([
        [one, two],
        [three, one, two],
      ]),
    ).toEqual([
      [1, 2],
      [3, 1, 2],
    ]);
  });
  test('two halves of a pair share name and address, and keep their serials apart', () => {
    const half = (at: number) => host(at, { name: 'qdp-dist', serial: `KD-${at}`, addresses: ['10.72.9.254'] });
    expect(
      surveys([
        [half(1), half(2)],
        [half(2), half(1)],
      ]),
    ).toEqual([
      [1, 2],
      [2, 1],
    ]);
  });
  test('one serial, or one engine, at two devices makes no one device of them', () => {
    const alike = (at: number) => host(at, { name: `sw-${at}`, serial: 'KA48-1', engineId: `8000${at}` });
    expect(
      surveys([
        [alike(1), alike(2)],
        [alike(2), alike(1)],
      ]),
    ).toEqual([
      [1, 2],
      [2, 1],
    ]);
    const clones = (at: number) => host(at, { engineId: '8000' });
    const macs = (address: string) => [`02:00:00:00:00:0${address.at(-1)}`];
    expect(
      surveys(
        [
          [clones(1), clones(2)],
          [clones(2), clones(1)],
        ],
        macs,
      ),
    ).toEqual([
      [1, 2],
      [2, 1],
    ]);
  });
  test('one device that answers on two of its addresses is one', () => {
    const other = { ...one, address: '10.72.9.101', addresses: [...one.addresses, '10.72.9.101'] };
    expect(surveys([[{ ...one, addresses: other.addresses }, other]])).toEqual([[1, 1]]);
  });
  test('a chassis that was replaced under its name and address is the same role', () => {
    const before = host(1, { name: 'sgh-acc-1', serial: 'KA48-1' });
    expect(surveys([[before], [{ ...before, serial: 'KA48-2', engineId: '8000new' }]])).toEqual([[1], [1]]);
  });
  test('a server and its controller, whose sockets are others, are one by name and address', () => {
    const system: KnownIdentity = {
      id: 1,
      ...host(1, { name: 'sgh-srv-01' }),
      socketMacs: () => ['02:48:00:00:00:01'],
    };
    const controller = host(9, { name: 'sgh-srv-01', engineId: null, addresses: ['10.72.9.1'], kinds: ['redfish'] });
    const found = { ...facts(controller), socketMacs: ['02:48:00:00:00:99'] };
    expect(matchIdentity(found, [system])).toMatchObject({ id: 1, by: 'name and address' });
    // two systems that say so are two
    const other = { ...facts(host(9, { engineId: null })), socketMacs: found.socketMacs };
    expect(contradicts(system, other)).toBe(true);
  });
  test('in one survey another start, or other neighbours, are another device; in the next one it was restarted or moved', () => {
    const pair = (at: number, now: KnownIdentity['now']): KnownIdentity => ({
      id: at,
      ...host(at, { name: 'gate', engineId: null }),
      ...(now && { now }),
    });
    const known = [pair(1, { upSeconds: 900_000, neighbours: ['a', 'b'] })];
    const found = (now: SeenIdentity['now'], serial = '') => ({
      ...facts({ ...host(2, { name: 'gate', engineId: null }), serial }),
      ...(now && { now }),
    });
    const by = (now: SeenIdentity['now'], met = true) => matchIdentity(found(now), known, () => met)?.id ?? null;
    expect(by({ upSeconds: 900_060, neighbours: ['b'] })).toBe(1);
    expect(by({ upSeconds: 60, neighbours: ['b'] })).toBeNull();
    expect(by({ upSeconds: 900_060, neighbours: ['c'] })).toBeNull();
    expect(by({ upSeconds: null, neighbours: [] })).toBe(1);
    // what it told in an earlier survey is not known any more
    expect(matchIdentity(found({ upSeconds: 60, neighbours: ['c'] }), [pair(1, undefined)], () => false)?.id).toBe(1);
    // one serial says more
    const one = [{ ...pair(1, { upSeconds: 900_000, neighbours: ['a'] }), serial: 'KA48-1' }];
    expect(matchIdentity(found({ upSeconds: 60, neighbours: ['c'] }, 'KA48-1'), one, () => true)?.id).toBe(1);
  });
  test('a serial that differs in case is the same', () => {
    const known: KnownIdentity = { id: 1, ...host(1, { serial: 'ka48-1' }) };
    expect(contradicts(known, facts(host(1, { serial: 'KA48-1' })))).toBe(false);
    expect(
      matchIdentity(facts(host(7, { name: 'b', serial: 'KA48-1', addresses: [], engineId: null })), [known]),
    ).toMatchObject({
      id: 1,
      by: 'serial',
    });
  });
});
