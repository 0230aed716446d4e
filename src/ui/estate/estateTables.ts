import type { ThingName } from '@/core/things/fields';

/** The tables of the Estate in their order: what may be written into the filter of each, and the pictures it has until somebody chooses others. */
export const estateTables: { of: ThingName; hint: string; pictures: string[] }[] = [
  { of: 'devices', hint: 'a name, address or serial; role=switch site=RPW', pictures: ['release', 'site', 'role'] },
  { of: 'modules', hint: 'a serial or model; class=powerSupply', pictures: ['class', 'model', 'vendor'] },
  { of: 'ports', hint: 'an alias or what is plugged in; oper=up speed<100M', pictures: ['oper', 'speedBps', 'kind'] },
  { of: 'endpoints', hint: 'a MAC, address or host; vlan=30', pictures: ['vlan', 'maker', 'via'] },
  { of: 'machines', hint: 'a name; state=off; host=sgh-hv-1', pictures: ['state', 'host', 'cluster'] },
  { of: 'services', hint: 'a process or port; port=5432', pictures: ['process', 'port', 'protocol'] },
  { of: 'software', hint: 'a name; kind=firmware', pictures: ['kind', 'name', 'version'] },
  { of: 'vlans', hint: 'a number or name', pictures: [] },
  { of: 'addresses', hint: '10.72.4.0/24 as address:10.72.4.0/24', pictures: [] },
  { of: 'networks', hint: 'a network; vrf=ticketing', pictures: [] },
  { of: 'routes', hint: 'a destination; learned by protocol=static', pictures: ['protocol', 'vrf', 'device'] },
  { of: 'peers', hint: 'a device or address; up=no', pictures: ['state', 'protocol', 'device'] },
  { of: 'wlans', hint: 'a name; vlan=40', pictures: [] },
  { of: 'faults', hint: 'a part; subsystem=power', pictures: ['subsystem', 'severity', 'device'] },
  { of: 'contracts', hint: 'a number, serial or supplier; state=ending', pictures: ['state', 'kind', 'supplier'] },
  { of: 'changes', hint: 'kind=replaced; thing=port', pictures: ['day', 'kind', 'thing'] },
];
