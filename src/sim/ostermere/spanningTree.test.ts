import { expect, test } from '@jest/globals';
import { ostermere } from './estate';
import { spanningTree } from './spanningTree';

test('every bridge of the sample has one root port but the roots, and following them from bridge to bridge ends at the root it names', () => {
  for (const step of [1, 5, 8]) {
    const estate = ostermere(step);
    const trees = spanningTree(estate);
    const byId = new Map([...trees].map(([name, { self }]) => [self.toString('hex'), name]));
    const bridges = estate.devices.filter(({ bridge }) => bridge);
    expect([...trees.keys()].sort()).toEqual(bridges.map(({ name }) => name).sort());
    for (const { name } of bridges) {
      let at = name;
      for (let hop = 0; hop < 40; hop++) {
        const tree = trees.get(at);
        if (!tree?.rootPort) break;
        at = byId.get(tree.designated.get(tree.rootPort)?.bridge.toString('hex') ?? '') ?? '';
      }
      expect([name, byId.get(trees.get(name)?.root.toString('hex') ?? '')]).toEqual([name, at]);
    }
    expect(trees.get('rpw-plat')?.root.toString('hex')).toMatch(/^1000/);
  }
});

test('a port that rests names the bridge at its other end; what is designated and forwards needs no word', () => {
  const trees = spanningTree(ostermere(1));
  const spare = trees.get('sgh-acc-1');
  expect([spare?.rootPort, [...(spare?.designated.keys() ?? [])].sort()]).toEqual(['U1', ['U1', 'U2']]);
  expect(spare?.designated.get('U2')?.bridge).not.toEqual(spare?.self);
  expect(trees.get('sgh-core-1')).toMatchObject({ rootPort: null });
});
