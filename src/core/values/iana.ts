/** Words for IANAifType numbers (IANA ifType-MIB) that occur on this kind of equipment. */
const interfaceTypes: Record<number, string> = {
  1: 'other',
  6: 'ethernet',
  7: 'ethernet',
  18: 'ds1',
  19: 'e1',
  24: 'loopback',
  30: 'ds3',
  39: 'sonet',
  53: 'virtual',
  56: 'fibre channel',
  62: 'ethernet',
  69: 'ethernet',
  71: 'wireless',
  117: 'ethernet',
  131: 'tunnel',
  135: 'vlan',
  136: 'vlan interface',
  161: 'lag',
  199: 'infiniband',
  209: 'bridge',
};

/** The word for an ifType; the number itself when there is none. */
export function interfaceTypeWord(ifType: number): string {
  return interfaceTypes[ifType] ?? `type ${ifType}`;
}

const ethernet = new Set([6, 7, 62, 69, 117]);
/** DS1, E1, DS3, SONET, Fibre Channel, ADSL, SDSL, VDSL, InfiniBand, VDSL2, GPON. */
const otherSockets = new Set([18, 19, 30, 39, 56, 94, 96, 97, 199, 250, 251]);

/** ifTypes that are a socket one can plug something into. */
export const isSocket = (ifType: number): boolean => ethernet.has(ifType) || otherSockets.has(ifType);

/** Sockets that are Ethernet's: those that can bridge, bundle, and give power. */
export const isEthernetSocket = (ifType: number): boolean => ethernet.has(ifType);
