/** A socket in a wall and the way to it: switch port, place on the patch panel, label, room. */
export interface Outlet {
  site: string;
  /** as it stands on the wall; no two of a site have the same */
  label: string;
  room: string;
  /** the patch panel, and the place on it */
  panel: string;
  position: string;
  /** what it is patched to; null where it is patched to nothing */
  port: { deviceId: number; name: string } | null;
  note: string;
}

const longest = { site: 60, label: 80, room: 120, panel: 80, position: 40, note: 2000 } as const;

/** Labels are one, however they are written. */
export const outletKey = ({ site, label }: Pick<Outlet, 'site' | 'label'>): string =>
  `${site.trim().toLowerCase()}\n${label.trim().toLowerCase()}`;

/** One place on one panel of a site; empty where an outlet names none. */
export const panelKey = ({ site, panel, position }: Pick<Outlet, 'site' | 'panel' | 'position'>): string =>
  panel === '' || position === '' ? '' : `${site}\n${panel}\n${position}`.toLowerCase();

export const portKey = ({ port }: Pick<Outlet, 'port'>): string => (port ? `${port.deviceId}\n${port.name}` : '');

/** What keeps an outlet from being as it is written, by field. */
export function outletMistakes(outlet: Outlet): { field: keyof Outlet; message: string }[] {
  const mistakes: { field: keyof Outlet; message: string }[] = [];
  if (outlet.label === '') mistakes.push({ field: 'label', message: 'An outlet needs its label' });
  if (outlet.site === '') mistakes.push({ field: 'site', message: 'Say at which site it is' });
  if (outlet.position !== '' && outlet.panel === '')
    mistakes.push({ field: 'position', message: 'a place on which panel?' });
  for (const [field, most] of Object.entries(longest) as [keyof typeof longest, number][]) {
    if (outlet[field].length > most)
      mistakes.push({ field, message: `has ${outlet[field].length} characters; ${most} at most` });
    if (field !== 'note' && /[\r\n]/.test(outlet[field])) mistakes.push({ field, message: 'is one line' });
  }
  return mistakes;
}

export const sameOutlet = (x: Outlet, y: Outlet): boolean =>
  (['site', 'label', 'room', 'panel', 'position', 'note'] as const).every((field) => x[field] === y[field]) &&
  portKey(x) === portKey(y);

/** Places that only one outlet can have: its label at a site, its place on a panel, its port. */
export class OutletPlaces {
  readonly #taken = new Map<string, Outlet>();

  constructor(outlets: Iterable<Outlet> = []) {
    for (const outlet of outlets) this.add(outlet);
  }

  add(outlet: Outlet): void {
    for (const key of keysOf(outlet)) if (key !== '') this.#taken.set(key, outlet);
  }

  /** What an outlet would take from another, in words; null where nothing. */
  clash(outlet: Outlet): { field: 'label' | 'position' | 'port'; message: string } | null {
    const [label = '', panel = '', port = ''] = keysOf(outlet);
    const other = (key: string) => (key === '' ? undefined : this.#taken.get(key));
    const [named, there, patched] = [other(label), other(panel), other(port)];
    if (named) return { field: 'label', message: `${outlet.site} has an outlet “${named.label}” already` };
    if (there)
      return { field: 'position', message: `${there.label} is at place ${outlet.position} of ${outlet.panel} already` };
    return patched ? { field: 'port', message: `that port is patched to ${patched.label} already` } : null;
  }
}

const keysOf = (outlet: Outlet): string[] =>
  [
    ['label', outletKey(outlet)],
    ['panel', panelKey(outlet)],
    ['port', portKey(outlet)],
  ].map(([kind, key]) => (key === '' ? '' : `${kind ?? ''} ${key ?? ''}`));

/** Panel and place as it is told in one word: `PP1/07`. */
export const panelWords = ({ panel, position }: Pick<Outlet, 'panel' | 'position'>): string =>
  [panel, position].filter(Boolean).join('/');
