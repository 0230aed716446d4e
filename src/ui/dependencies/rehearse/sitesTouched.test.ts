import { expect, test } from '@jest/globals';
import { sitesTouched } from './sitesTouched';

test('sites with most that is lost come first, what is touched first in each, each device once', () => {
  const device = (id: string, site: string) => ({ id, name: `device-${id}`, site });
  const told = (id: string) => ({ kind: 'device' as const, id, name: `device-${id}`, why: '' });
  const sites = sitesTouched(
    [device('1', 'SGH'), device('2', 'SGH'), device('3', 'RPW'), device('4', 'RPW'), device('5', 'QDP')],
    {
      chosen: [told('3')],
      lost: [told('4'), told('77'), { ...told('2'), kind: 'machine' }],
      degraded: [
        { ...told('2'), spare: '' },
        { ...told('3'), spare: '' },
      ],
    },
  );
  expect(sites.map(({ site, devices }) => [site, ...devices.map(({ id, fate }) => `${id} ${fate}`)])).toEqual([
    ['RPW', '3 down', '4 lost'],
    ['', '77 lost'],
    ['SGH', '2 degraded', '1 untouched'],
    ['QDP', '5 untouched'],
  ]);
});
