import type { DeviceFacts, ModuleFacts, SoftwareFacts } from '../estate/facts';

/** What of a device has a release of its own. */
export const componentKinds = [
  'system',
  'boot code',
  'supervisor',
  'line card',
  'stack member',
  'management controller',
  'BIOS',
  'network adapter',
  'storage controller',
  'drive',
  'power supply',
  'transceiver',
  'other',
] as const;
export type ComponentKind = (typeof componentKinds)[number];

/** One part of a device with the release it runs. */
export interface Component {
  kind: ComponentKind;
  /** what it is called on the device; empty of the device as a whole */
  name: string;
  /** the path of the module it is; empty where it is none */
  path: string;
  model: string;
  serial: string;
  /** what runs */
  release: string;
  /** the image that is booted next, as the device tells it */
  nextImage: string;
  /** what lies there and does not run */
  standbyRelease: string;
  /** who tells of it */
  toldBy: 'the device' | 'its modules' | 'its controller';
}

const standbyEnd = ', standby';

/**
 * Every part of a device that tells a release: the system and its boot code, supervisors, line cards and members of a stack, what a management controller lists. What two of them tell alike is told once.
 */
export function componentsOf(
  device: Pick<DeviceFacts, 'model' | 'serial' | 'release' | 'bootRelease' | 'bootImage' | 'interfaces'>,
  modules: readonly ModuleFacts[],
  software: readonly Pick<SoftwareFacts, 'name' | 'version' | 'kind'>[],
): Component[] {
  const { model, serial, release, bootRelease, bootImage = '', interfaces = [] } = device;
  const found: Component[] = [];
  const whole = { name: '', path: '', model, serial, nextImage: '', standbyRelease: '' };
  const firmware = software.filter(({ kind }) => kind === 'firmware');
  const listed = firmware.filter(({ name }) => !name.endsWith(standbyEnd));
  const standby = new Map(
    firmware
      .filter(({ name }) => name.endsWith(standbyEnd))
      .map(({ name, version }) => [name.slice(0, -standbyEnd.length), version]),
  );
  if (release) found.push({ ...whole, kind: 'system', release, nextImage: bootImage, toldBy: 'the device' });
  const parts = partsOf(modules, release);
  found.push(...parts);
  for (const { name, version } of listed) {
    if (!version || parts.some((part) => part.name === name && part.release === version)) continue;
    found.push({
      ...whole,
      ...{ model: '', serial: '', kind: kindOfWords(name), name, release: version },
      standbyRelease: standby.get(name) ?? '',
      toldBy: 'its controller',
    });
  }
  const has = (kind: ComponentKind) => found.some((one) => one.kind === kind && one.toldBy === 'its controller');
  // a server's boot code is its BIOS
  const boots = interfaces.some(({ kind }) => kind === 'redfish') ? 'BIOS' : 'boot code';
  if (bootRelease && !has(boots)) found.push({ ...whole, kind: boots, release: bootRelease, toldBy: 'the device' });
  const controller = interfaces.find(({ kind, release: own }) => kind === 'redfish' && own !== '');
  if (controller && !has('management controller'))
    found.push({ ...whole, kind: 'management controller', release: controller.release, toldBy: 'its controller' });
  return found;
}

function partsOf(modules: readonly ModuleFacts[], release: string): Component[] {
  const byPath = new Map(modules.map((module) => [module.path, module]));
  const holdsProcessor = new Set(
    modules.flatMap((module) => (module.class === 'cpu' && module.parent !== null ? [module.parent] : [])),
  );
  return modules.flatMap((module): Component[] => {
    const own = module.softwareRevision || module.firmwareRevision;
    const holder = module.parent === null ? undefined : byPath.get(module.parent);
    if (!own || module.empty) return [];
    const kind = kindOf(module, holder, holdsProcessor.has(module.path));
    // the first chassis is the device, which tells its release itself
    if (kind === 'system' && (release !== '' || holder)) return [];
    const { name, path, model, serial } = module;
    const told = { name, path, model, serial, nextImage: '', standbyRelease: '', toldBy: 'its modules' as const };
    const boots = module.softwareRevision && module.firmwareRevision ? module.firmwareRevision : '';
    return [
      { ...told, kind, release: own },
      ...(boots && boots !== own && kind !== 'system' ? [{ ...told, kind: 'boot code' as const, release: boots }] : []),
    ];
  });
}

/** What a module is, by its class, by what holds it, and by the words of the trade in its name. */
function kindOf(module: ModuleFacts, holder: ModuleFacts | undefined, hasProcessor: boolean): ComponentKind {
  switch (module.class) {
    case 'chassis':
      return holder?.class === 'stack' ? 'stack member' : 'system';
    case 'powerSupply':
      return 'power supply';
    case 'drive':
    case 'transceiver':
      return module.class;
    case 'module': {
      const words = kindOfWords(`${module.name} ${module.description}`);
      if (words !== 'other') return words;
      return hasProcessor ? 'supervisor' : 'line card';
    }
    default:
      return 'other';
  }
}

const words: readonly [RegExp, ComponentKind][] = [
  [/\b(bios|uefi)\b/i, 'BIOS'],
  [/\b(management controller|bmc)\b/i, 'management controller'],
  [/\b(supervisor|route processor|routing engine|control board)\b/i, 'supervisor'],
  [/\b(line card|line module)\b/i, 'line card'],
  [/\b(network adapter|network interface|nic|ethernet adapter)\b/i, 'network adapter'],
  [/\b(storage controller|raid|disk controller)\b/i, 'storage controller'],
  [/\b(drive|disk|ssd)\b/i, 'drive'],
  [/\b(power supply|psu)\b/i, 'power supply'],
  [/\b(boot ?loader|boot code)\b/i, 'boot code'],
];

const kindOfWords = (text: string): ComponentKind => words.find(([pattern]) => pattern.test(text))?.[1] ?? 'other';
