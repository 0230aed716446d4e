import { describe, expect, test } from '@jest/globals';
import { pluggedIn, type Guest } from './pluggedIn';
import type { FarEnd } from '../tables/surveyContext';

const guest = (host: string, via = 'direct', more: Partial<Guest> = {}): Guest => ({
  mac: '02:00:00:00:00:01',
  address: '',
  host,
  maker: '',
  via,
  basis: 'heard',
  ...more,
});
const link = { device: 'sgh-srv-04', port: 'eth0', source: 'fdb', confidence: 'concluded' } as unknown as FarEnd;
const words = (...asked: Parameters<typeof pluggedIn>) => {
  const { pluggedIn: what, how } = pluggedIn(...asked);
  return `${what} (${how})`;
};

describe('what hangs on a port', () => {
  test('is the device at the other end, or the only machine', () => {
    expect(words('edge', link, undefined, [guest('sgh-srv-04')])).toBe(
      'sgh-srv-04 (port eth0, concluded from the forwarding table)',
    );
    expect(words('edge', undefined, undefined, [guest('desk-3', 'direct', { maker: 'Brannick' })])).toBe(
      'desk-3 (Brannick, forwarding table)',
    );
    expect(words('uplink', undefined, undefined, [])).toBe(' (leads to other switches)');
  });
  test('is a hypervisor with its virtual machines, no segment that nobody manages', () => {
    expect(words('edge', link, undefined, [guest('sgh-srv-04'), guest('', 'virtual'), guest('', 'virtual')])).toBe(
      'sgh-srv-04 (port eth0, concluded from the forwarding table; 2 virtual machines on it)',
    );
    expect(words('edge', undefined, undefined, [guest('sgh-srv-04'), guest('', 'virtual')])).toBe(
      'sgh-srv-04 (hypervisor, a virtual machine on it)',
    );
    expect(words('edge', undefined, undefined, [guest('', 'virtual'), guest('', 'virtual')])).toBe(
      '2 virtual machines (of a hypervisor)',
    );
  });
  test('is a phone with a computer behind it, an access point with those on the air, or several machines on a segment', () => {
    expect(words('edge', undefined, undefined, [guest('phone-1'), guest('desk-1', 'phone')])).toBe(
      'phone-1 + desk-1 (phone with a computer behind)',
    );
    expect(words('edge', undefined, undefined, [guest('', 'wireless'), guest('', 'wireless')])).toBe(
      'access point (access point with 2 wireless machines)',
    );
    expect(
      words('edge', undefined, undefined, [guest('a', 'unmanaged'), guest('b', 'unmanaged'), guest('c', 'virtual')]),
    ).toBe('3 machines (unmanaged segment, no neighbour)');
  });
});
