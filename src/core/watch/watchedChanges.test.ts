import { describe, expect, test } from '@jest/globals';
import { watchedChanges, watchedName } from './watchedChanges';

const port = (more: object = {}) => ({
  device: 'rpw-plat',
  name: '9',
  alias: 'camera rpw',
  admin: 'up',
  oper: 'up',
  speedBps: 1e9,
  duplex: 'full',
  vlan: 30,
  pluggedIn: '10.72.4.73',
  ...more,
});
const endpoint = (more: object = {}) => ({
  mac: '02:43:41:00:00:01',
  host: '',
  addresses: ['10.72.4.73'],
  deviceId: 4,
  device: 'rpw-plat',
  port: '9',
  vlan: 30,
  ...more,
});

describe('a port that is watched', () => {
  test('tells of its state, speed, duplex, VLAN and guest, and of nothing else', () => {
    expect(watchedChanges('ports', port(), port({ alias: 'another', lastChangeSeconds: 4 }))).toEqual([]);
    expect(watchedChanges('ports', port(), port({ speedBps: 1e8, duplex: 'half', vlan: 40, pluggedIn: '' }))).toEqual([
      'runs at 100M, ran at 1G',
      'has half duplex, had full',
      'is in VLAN 40, was in 30',
      'has nothing plugged in, had 10.72.4.73',
    ]);
    expect(
      watchedChanges('ports', port(), port({ admin: 'down', oper: 'down', speedBps: 0, duplex: 'unknown' })),
    ).toEqual(['was switched off', 'went down']);
    expect(watchedChanges('ports', port({ oper: 'down', speedBps: 0 }), port())).toEqual(['came up']);
  });
  test('that comes or goes says so', () => {
    expect([
      watchedChanges('ports', null, port()),
      watchedChanges('ports', port(), null),
      watchedChanges('ports', null, null),
    ]).toEqual([['is new'], ['is not there any more'], []]);
    expect(watchedName('ports', port())).toBe('rpw-plat 9 (camera rpw)');
  });
});

describe('an endpoint that is watched', () => {
  test('tells where it went, which VLAN and addresses it has', () => {
    expect(watchedChanges('endpoints', endpoint(), endpoint({ lastSeen: 'x' }))).toEqual([]);
    expect(watchedChanges('endpoints', endpoint(), endpoint({ port: '15', vlan: null, addresses: [] }))).toEqual([
      'moved to rpw-plat port 15, was on rpw-plat port 9',
      'is in VLAN none, was in 30',
      'has no address, had 10.72.4.73',
    ]);
    expect(watchedChanges('endpoints', endpoint(), endpoint({ deviceId: null, device: '', port: '' }))).toEqual([
      'its place is not known any more, was on rpw-plat port 9',
    ]);
  });
  test('that is not heard, or heard again, says where', () => {
    expect([watchedChanges('endpoints', endpoint(), null), watchedChanges('endpoints', null, endpoint())]).toEqual([
      ['is not heard any more, last on rpw-plat port 9'],
      ['is heard, on rpw-plat port 9'],
    ]);
    expect([
      watchedName('endpoints', endpoint()),
      watchedName('endpoints', endpoint({ host: 'cam-1' })),
      watchedName('endpoints', endpoint({ addresses: [] })),
    ]).toEqual(['10.72.4.73', 'cam-1', '02:43:41:00:00:01']);
  });
});
