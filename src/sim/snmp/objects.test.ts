import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import * as ber from './ber';
import { compareParts, ObjectTree, ObjectWriter } from './objects';

const oids = fc.uniqueArray(fc.array(fc.nat({ max: 5 }), { minLength: 1, maxLength: 4 }), {
  selector: (parts) => parts.join('.'),
  maxLength: 40,
});
const treeOf = (list: number[][]) => new ObjectTree(list.map((oid) => ({ oid, value: ber.octets(oid.join('.')) })));

describe('the instances of an agent', () => {
  test('GETNEXT from the beginning passes every instance once, in the order of their names', () => {
    fc.assert(
      fc.property(oids, (list) => {
        const tree = treeOf(list);
        const walked: number[][] = [];
        for (let next = tree.next([]); next; next = tree.next(next.oid)) walked.push(next.oid);
        expect(walked).toEqual([...list].sort(compareParts));
      }),
    );
  });
  test('GET answers for exactly the instances there are', () => {
    fc.assert(
      fc.property(oids, fc.array(fc.nat({ max: 5 }), { maxLength: 4 }), (list, wanted) => {
        const has = list.some((oid) => compareParts(oid, wanted) === 0);
        expect(treeOf(list).exact(wanted) !== null).toBe(has);
      }),
    );
  });
  test('a table’s columns come before those of the next, an instance behind its object', () => {
    const order = [
      [1, 3, 6, 1],
      [1, 3, 6, 1, 2],
      [1, 3, 6, 1, 2, 10],
      [1, 3, 6, 1, 10],
    ];
    expect([...order].reverse().sort(compareParts)).toEqual(order);
  });
  test('a value that changes with time is made anew for every answer', () => {
    let ticks = 0;
    const write = new ObjectWriter();
    write.changing('1.3.1.0', () => ber.integer(++ticks, ber.tag.timeticks));
    const tree = new ObjectTree(write.instances);
    expect([tree.exact([1, 3, 1, 0]), tree.next([1, 3])?.value]).toEqual([
      ber.integer(1, ber.tag.timeticks),
      ber.integer(2, ber.tag.timeticks),
    ]);
  });
  test('what an agent answers is made when it is asked for the first time, and once', () => {
    let made = 0;
    const tree = new ObjectTree(() => {
      made++;
      return [{ oid: [1, 3, 1], value: ber.integer(7) }];
    });
    expect(made).toBe(0);
    expect([tree.exact([1, 3, 1]), tree.next([1])?.value, tree.size, made]).toEqual([
      ber.integer(7),
      ber.integer(7),
      1,
      1,
    ]);
  });
  test('the writer encodes each type under its own tag', () => {
    const write = new ObjectWriter();
    write.integer('1.1', -1);
    write.gauge('1.2', 3);
    write.text('1.3', 'Lantern Quay');
    write.objectId('1.4', '1.3.6');
    write.address('1.5', '10.72.4.2');
    write.ticks('1.6', 100);
    expect(write.instances.map(({ oid }) => new ObjectTree(write.instances).exact(oid)?.[0])).toEqual([
      0x02, 0x42, 0x04, 0x06, 0x40, 0x43,
    ]);
    expect(new ObjectTree(write.instances).size).toBe(6);
  });
});
