import type { ThingName } from './fields';

type Row = Record<string, unknown>;

/** What a row is called, in a line: `sgh-core-1 3/1`, `VLAN 30 TICKET`. */
export function rowWords(thing: ThingName, row: Row): string {
  const text = (field: string) =>
    Array.isArray(row[field]) ? (row[field] as unknown[]).join(', ') : String(row[field] ?? '');
  const words = (...fields: string[]) => fields.map(text).filter(Boolean).join(' ');
  switch (thing) {
    case 'devices':
      return [text('name'), words('vendor', 'model')].filter(Boolean).join(', ');
    case 'modules':
      return [text('path').replaceAll(' / ', ', '), words('model', 'serial')].filter(Boolean).join(': ');
    case 'ports':
      return [words('device', 'name'), text('alias')].filter(Boolean).join(', ');
    case 'links':
      return `${words('from', 'fromPort')} – ${words('to', 'toPort')}${text('issueWords') && `: ${text('issueWords')}`}`;
    case 'endpoints':
      return [text('host') || text('mac'), text('device') && `on ${words('device', 'port')}`].filter(Boolean).join(' ');
    case 'vlans':
      return `VLAN ${words('vlan', 'name')}`;
    case 'addresses':
      return [text('address'), words('device', 'port')].filter(Boolean).join(' on ');
    case 'networks':
      return [text('network'), text('vrf') && `in ${text('vrf')}`].filter(Boolean).join(' ');
    case 'routes':
      return [text('destination'), text('nextHop') && `by ${text('nextHop')}`, text('device') && `on ${text('device')}`]
        .filter(Boolean)
        .join(' ');
    case 'peers':
      return `${text('device')}: ${text('protocol').toUpperCase()} ${text('peer') || text('address')}, ${text('state')}`;
    case 'services':
      return `${text('device')}: ${text('process') || 'somebody'} on ${text('protocol')} ${text('port')}`;
    case 'software':
      return `${text('device')}: ${words('name', 'version')}`;
    case 'machines':
      return [text('name'), text('host') && `on ${text('host')}`, text('state')].filter(Boolean).join(', ');
    case 'wlans':
      return [text('name'), text('security')].filter(Boolean).join(', ');
    case 'faults':
      return `${text('part').startsWith(text('device')) ? text('part').replaceAll(' / ', ', ') : [text('device'), text('part')].filter(Boolean).join(', ')}: ${text('message')}`;
    case 'readiness':
      return `${text('device')}: ${text('why')}`;
    case 'ledger':
      return words('serial', 'what');
    case 'contracts':
      return [
        text('number'),
        words('kind') + (text('supplier') && ` of ${text('supplier')}`),
        text('until') && `until ${text('until')}`,
      ]
        .filter(Boolean)
        .join(', ');
    case 'changes':
      return words('subject', 'field');
    case 'visits':
      return words('address', 'outcome');
  }
}
