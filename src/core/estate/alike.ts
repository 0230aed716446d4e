import type { DeviceFacts } from './facts';

type Told = Pick<DeviceFacts, 'name' | 'address' | 'serial' | 'engineId' | 'uuid'>;

/** What tells devices apart, or should: which value, and what it is called. */
const marks: { what: string; of: (facts: Told) => string | null | undefined }[] = [
  { what: 'serial', of: ({ serial }) => serial.toUpperCase() },
  { what: 'UUID', of: ({ uuid }) => uuid?.toLowerCase() },
  { what: 'SNMP engine id', of: ({ engineId }) => engineId },
  { what: 'name', of: ({ name, address }) => (name === address ? '' : name.toLowerCase()) },
];

const mostNamed = 3;

/**
 * Devices that are kept apart, since other things they tell are of two, and yet tell the same serial, UUID, engine id or name: one of them is wrong, or a copy.
 * @returns by id, in words; whoever is alike to nobody is left out
 */
export function alikeDevices(devices: readonly { id: number; facts: Told }[]): Map<number, string> {
  const words = new Map<number, string[]>();
  for (const { what, of } of marks) {
    const holders = new Map<string, typeof devices>();
    for (const device of devices) {
      const value = of(device.facts);
      if (value) holders.set(value, [...(holders.get(value) ?? []), device]);
    }
    for (const all of holders.values()) {
      if (all.length < 2) continue;
      for (const { id } of all) {
        const others = all.filter((other) => other.id !== id);
        const named = others.slice(0, mostNamed).map(({ facts }) => `${facts.name} (${facts.address})`);
        const more = others.length - named.length;
        words.set(id, [
          ...(words.get(id) ?? []),
          `${what} as ${named.join(', ')}${more > 0 ? ` and ${more} more` : ''}`,
        ]);
      }
    }
  }
  return new Map([...words].map(([id, told]) => [id, told.join('; ')]));
}
