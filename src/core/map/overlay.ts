import { AddressError, networkOf, parsePrefix } from '../values/ipAddress';
import { formatSpeed } from '../values/quantity';
import type { MapDevice, MapLink } from './mapData';
import type { MapPort } from './mapPorts';

/** What the map may be coloured by, beside a VLAN and a network. */
export const overlays = [
  'state',
  'faults',
  'spare ways',
  'speed',
  'aggregates',
  'spanning tree',
  'layer 3',
  'confidence',
  'changes',
] as const;
export type Overlay = (typeof overlays)[number] | `vlan:${number}` | `net:${string}`;

/** A colour of the theme, by its name. */
export type Tint = 'ink3' | 'ink2' | 'lagoon' | 'moss' | 'plum' | 'sand' | 'slate' | 'good' | 'caution' | 'bad';

/** How one thing is shown: its colour, the words of the legend, and whether it is what one looks for. */
export interface Shown {
  tint: Tint;
  words: string;
  pale: boolean;
}

export interface OverlayRule {
  device: (device: MapDevice) => Shown;
  link: (link: MapLink) => Shown;
  /** absent where ports show their state */
  port?: (port: MapPort) => Shown;
}

const plain: Shown = { tint: 'ink3', words: '', pale: false };
const pale: Shown = { tint: 'ink3', words: '', pale: true };
const of = (tint: Tint, words: string): Shown => ({ tint, words, pale: false });

export function parseOverlay(text: string | null): Overlay {
  if (text && /^vlan:\d{1,4}$/.test(text) && Number(text.slice(5)) >= 1 && Number(text.slice(5)) <= 4094)
    return text as Overlay;
  if (text?.startsWith('net:') && isNetwork(text.slice(4))) return text as Overlay;
  return overlays.find((one) => one === text) ?? 'state';
}

export const vlanOf = (overlay: Overlay): number | null =>
  overlay.startsWith('vlan:') ? Number(overlay.slice(5)) : null;

export const netOf = (overlay: Overlay): string | null => (overlay.startsWith('net:') ? overlay.slice(4) : null);

/** `10.72.4.0/24`, before it the virtual router it belongs to: `ticketing 10.72.90.0/30`. */
export function isNetwork(text: string): boolean {
  const parts = text.split(' ');
  const [prefix = ''] = parts.slice(-1);
  try {
    parsePrefix(prefix);
    const [address = '', length] = prefix.split('/');
    return parts.length <= 2 && length !== undefined && networkOf(address, Number(length)) === prefix;
  } catch (error) {
    if (error instanceof AddressError) return false;
    throw error;
  }
}

/** What each overlay says of devices and links. */
export function overlayRule(overlay: Overlay): OverlayRule {
  const vlan = vlanOf(overlay);
  if (vlan !== null) return vlanRule(vlan);
  const network = netOf(overlay);
  if (network !== null) return networkRule(network);
  switch (overlay) {
    case 'faults':
      return {
        device: ({ state, faults }) =>
          state === 'silent'
            ? of('caution', 'does not answer')
            : faults > 0
              ? of('bad', 'tells of a fault')
              : state === 'partial'
                ? of('bad', 'answers in part')
                : pale,
        link: ({ issues }) => (issues.length > 0 ? { tint: 'bad', words: '', pale: false } : pale),
      };
    case 'spare ways':
      return {
        device: ({ cuts }) => (cuts && cuts.devices > 1 ? of('caution', 'others hang on it alone') : plain),
        link: ({ cuts, spareLost }) =>
          spareLost
            ? of('bad', 'has lost its spare')
            : cuts && cuts.devices > 1
              ? of('caution', 'the only way for several')
              : cuts
                ? pale
                : of('good', 'has a spare'),
      };
    case 'speed':
      return {
        device: () => plain,
        link: ({ speedBps }) => speedShown(speedBps),
        port: ({ oper, speedBps }) => (oper === 'up' ? speedShown(speedBps) : pale),
      };
    case 'aggregates':
      return {
        device: () => plain,
        link: ({ kind }) => (kind === 'lag' ? of('lagoon', 'aggregate') : pale),
        port: ({ lag }) => (lag ? of('lagoon', 'in an aggregate') : pale),
      };
    case 'spanning tree':
      return {
        device: ({ root }) => (root ? of('plum', 'root of the tree') : plain),
        link: ({ blocked, up }) =>
          blocked ? { tint: 'caution', words: '', pale: false } : up ? of('good', 'leads up to the root') : pale,
        port: ({ stp }) =>
          stp?.state === 'blocking'
            ? { tint: 'caution', words: '', pale: false }
            : stp?.role === 'root'
              ? of('good', 'leads up to the root')
              : pale,
      };
    case 'layer 3':
      return {
        device: ({ role, routes }) =>
          routes || role === 'router' || role === 'firewall' ? of('plum', 'routes') : pale,
        link: ({ kind }) => (kind === 'l3' ? of('plum', 'a subnet for two') : pale),
      };
    case 'confidence':
      return {
        device: () => plain,
        link: ({ confidence, segment }) =>
          segment
            ? of('slate', 'through something nobody asked')
            : confidence === 'confirmed'
              ? of('good', 'both ends say so')
              : confidence === 'claimed'
                ? of('sand', 'one end says so')
                : of('plum', 'concluded'),
      };
    case 'changes':
      return {
        device: ({ change }) => changeShown(change),
        link: ({ change }) => changeShown(change),
        port: ({ change }) => changeShown(change),
      };
    default:
      return {
        device: () => plain,
        link: ({ issues, change }) =>
          issues.length > 0
            ? { tint: 'bad', words: '', pale: false }
            : change === 'gone'
              ? of('caution', 'gone')
              : change === 'added'
                ? of('lagoon', 'new')
                : plain,
      };
  }
}

/** A way through the network: what is on it is lit, all else pale. */
export function tracedRule(lit: { devices: ReadonlySet<number>; links: ReadonlySet<string> }): OverlayRule {
  return {
    device: ({ id }) => (lit.devices.has(id) ? of('plum', 'on the way') : pale),
    link: ({ id }) => (lit.links.has(id) ? of('plum', 'the way') : pale),
  };
}

function networkRule(network: string): OverlayRule {
  return {
    device: ({ network: part }) =>
      part === undefined
        ? pale
        : part.routes
          ? of('plum', `leads into and out of ${network}`)
          : part.inside
            ? of('lagoon', `has an address in ${network}`)
            : of('moss', `machines of ${network} hang on it`),
    link: () => plain,
  };
}

function vlanRule(vlan: number): OverlayRule {
  return {
    device: (device) => (device.vlan ? of('lagoon', `carries VLAN ${vlan}`) : pale),
    link: (link) => {
      switch (link.vlan) {
        case 'both':
          return of('lagoon', `VLAN ${vlan} at both ends`);
        case 'toldOnce':
          return of('moss', `VLAN ${vlan}, the other end tells no VLANs`);
        case 'a':
        case 'b':
          return of('bad', `VLAN ${vlan} at one end only`);
        default:
          return pale;
      }
    },
    port: ({ carries }) =>
      carries === 'untagged'
        ? of('lagoon', `VLAN ${vlan} untagged`)
        : carries === 'tagged'
          ? of('moss', `VLAN ${vlan} tagged`)
          : pale,
  };
}

const speeds: { from: number; tint: Tint }[] = [
  { from: 4e10, tint: 'plum' },
  { from: 1e10, tint: 'lagoon' },
  { from: 1e9, tint: 'moss' },
  { from: 1e8, tint: 'sand' },
  { from: 1, tint: 'bad' },
];

function speedShown(speedBps: number | null): Shown {
  const step = speedBps === null ? undefined : speeds.find(({ from }) => speedBps >= from);
  return step
    ? of(step.tint, `${formatSpeed(step.from === 1 ? 1e7 : step.from)} ${step.from === 1 ? 'and less' : 'and more'}`)
    : of('ink3', 'speed not told');
}

function changeShown(change: string | undefined): Shown {
  switch (change) {
    case 'added':
      return of('lagoon', 'new');
    case 'gone':
      return of('caution', 'gone');
    case undefined:
      return pale;
    default:
      return of('plum', 'changed');
  }
}
