import { spoken } from '@/core/values/spoken';
import { TextIndex } from '@/core/find/textIndex';
import { things, type ThingName } from '@/core/things/things';
import type { ThingRow } from '../../lib/api';
import { estateTables } from './estateTables';
import type { useView } from '../../lib/useView';
import { settingsSections } from './settingsSections';
import { workspaces } from './workspaces';

/** Where one can go, or what one can do. */
export interface Destination {
  key: string;
  words: string;
  more: string;
  /** as of the finder: 0 is what was written, 4 and more are guesses */
  rank: number;
  href?: string;
  act?: () => void;
}

export interface FoundThing {
  thing: ThingName;
  by: string;
  rank: number;
  row: ThingRow;
}

type Href = ReturnType<typeof useView>['href'];

const exactly = (field: string, value: unknown) => `${field}="${String(value).replaceAll('"', '')}"`;

/** A found thing as a place to go to: to the port it hangs on, if it hangs on one. */
export function destinationOf({ thing, by, rank, row }: FoundThing, href: Href): Destination {
  const text = (field: string) => String(row[field] ?? '');
  const table = (where: string) => href('/estate', { of: thing, where, sel: null });
  const found = (words: string, more: string, to: string): Destination => ({
    key: `${thing} ${row.id}`,
    words,
    more,
    rank,
    href: to,
  });
  switch (thing) {
    case 'devices':
      return found(
        text('name'),
        [spoken(text('role')), text('model'), by === text('name') ? text('address') : by].filter(Boolean).join(', '),
        href('/estate', { sel: `device:${row.id}` }),
      );
    case 'ledger':
      return found(
        row.id,
        `serial, ${[text('what'), text('device') && `in ${text('device')}`].filter(Boolean).join(' ')}`,
        href('/ledger', { where: row.id, sel: `serial:${row.id}` }),
      );
    case 'contracts':
      return found(
        text('number'),
        [`${text('kind')}${text('supplier') && ` of ${text('supplier')}`}`, text('until') && `until ${text('until')}`]
          .filter(Boolean)
          .join(', '),
        href('/estate', { of: thing, sel: `contract:${row.id}`, where: null }),
      );
    case 'applications':
      return found(
        text('name'),
        ['application', text('owner')].filter(Boolean).join(', '),
        href('/dependencies', { of: 'applications', host: row.id, sel: null }),
      );
    case 'machines':
      return found(
        text('name'),
        `virtual machine on ${text('host')}, ${text('state')}`,
        table(exactly('name', row.name)),
      );
    case 'vlans':
      return found(
        `VLAN ${text('vlan')}`,
        [text('name'), `on ${text('deviceCount')} devices`].filter(Boolean).join(', '),
        table(exactly('vlan', row.vlan)),
      );
    case 'wlans':
      return found(text('name'), `wireless network of ${text('device')}`, table(exactly('name', row.name)));
    case 'networks':
      return found(
        text('network'),
        `network, ${text('knownAddresses')} addresses known`,
        table(exactly('network', row.network)),
      );
    default: {
      const addresses = (row.addresses as string[] | undefined) ?? [];
      const words = text('host') || (addresses.includes(by) ? by : (addresses[0] ?? text('mac')));
      const place = row.deviceId ? `on ${text('device')} port ${text('port')}` : 'place not known';
      return found(
        words,
        [words === text('mac') ? '' : text('mac'), place].filter(Boolean).join(', '),
        row.deviceId
          ? href('/ports', { device: text('deviceId'), sel: `port:${text('deviceId')}:${text('port')}` })
          : href('/estate', { of: 'endpoints', where: text('mac'), sel: null }),
      );
    }
  }
}

/** Workspaces and tables. */
export function pages(href: Href): Destination[] {
  return [
    {
      key: '/begin',
      words: 'Setting up',
      more: 'mail, credentials, ranges and the first survey',
      rank: 0,
      href: href('/begin'),
    },
    {
      key: 'floor plans',
      words: 'Floor plans',
      more: 'rooms, outlets and devices where they are',
      rank: 0,
      href: href('/ports', { of: 'plan', sel: null }),
    },
    {
      key: 'find a port',
      words: 'Find a port',
      more: 'where a MAC, address, host or serial is plugged in, and was',
      rank: 0,
      href: href('/ports', { of: 'find', sel: null }),
    },
    {
      key: 'trace',
      words: 'Trace',
      more: 'the way from one thing to another, port by port and route by route',
      rank: 0,
      href: href('/map', { of: 'trace', sel: null }),
    },
    {
      key: 'hosts',
      words: 'Hosts',
      more: 'from virtual machines down to the ports of switches',
      rank: 0,
      href: href('/map', { of: 'hosts', sel: null }),
    },
    {
      key: 'fabric',
      words: 'Fabric',
      more: 'leaves, spines, tenants and endpoints',
      rank: 0,
      href: href('/map', { of: 'fabric', sel: null }),
    },
    {
      key: 'table groups',
      words: 'Groups',
      more: 'groups and maintenance',
      rank: 0,
      href: href('/estate', { of: 'groups', sel: null }),
    },
    {
      key: 'table checks',
      words: 'Checks',
      more: 'rules that must hold',
      rank: 0,
      href: href('/estate', { of: 'checks', sel: null }),
    },
    ...settingsSections.map(({ key, title, about }) => ({
      key: `settings ${key}`,
      words: title,
      more: `Settings: ${about}`,
      rank: 0,
      href: href(`/settings/${key}`),
    })),
    ...workspaces.map(({ name, path }) => ({ key: path, words: name, more: 'workspace', rank: 0, href: href(path) })),
    ...estateTables.map((of) => ({
      key: `table ${of}`,
      words: things[of].title,
      more: 'table',
      rank: 0,
      href: href('/estate', { of: of === 'devices' ? null : of, sel: null }),
    })),
  ];
}

/** Those whose words are what was written, or nearly. */
export function matching(list: Destination[], wanted: string): Destination[] {
  const index = new TextIndex();
  list.forEach(({ words }, entry) => index.add({ text: words, entry, loosely: true }));
  return index.find(wanted, list.length).flatMap(({ entry, rank }) => {
    const place = list[entry];
    return place ? [{ ...place, rank }] : [];
  });
}
