/** Words for IANAifType numbers (IANA ifType-MIB) that occur on this kind of equipment. */
const interfaceTypes: Record<number, string> = {
  1: 'other',
  6: 'ethernet',
  24: 'loopback',
  53: 'virtual',
  62: 'ethernet',
  69: 'ethernet',
  71: 'wireless',
  117: 'ethernet',
  131: 'tunnel',
  135: 'vlan',
  136: 'vlan interface',
  161: 'lag',
  209: 'bridge',
};

/** The word for an ifType; the number itself when there is none. */
export function interfaceTypeWord(ifType: number): string {
  return interfaceTypes[ifType] ?? `type ${ifType}`;
}

/** ifTypes that are a socket one can plug something into. */
export function isSocket(ifType: number): boolean {
  return [6, 62, 69, 117].includes(ifType);
}
