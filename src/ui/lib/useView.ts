'use client';

import { usePathname, useSearchParams } from 'next/navigation';
import { useCallback, useEffect, useMemo } from 'react';
import { isDrawn, parametersNow, showView, stepOf } from './address';

/** What is looked at, kept in the address of the page so that another person can open it. */
export interface View {
  survey: string | null;
  against: string | null;
  where: string;
  sort: string;
  /** `device:12`, `port:12:U1`, `link:…`, `endpoint:02:…` */
  sel: string | null;
  /** sub-view or extra of a workspace */
  of: string | null;
  device: string | null;
  past: string | null;
  /** fields to group by, the outermost first, separated by commas */
  group: string | null;
  /** columns that go before those a person has chosen: how a saved view is shown to another person */
  columns: string | null;
  /** pictures over a table, likewise */
  pictures: string | null;
  /** what is looked for on all ports */
  find: string | null;
  /** number of a floor plan */
  plan: string | null;
  /** what the map is coloured by: `speed`, `vlan:30` */
  over: string | null;
  /** the map only around this: `device:12`, `site:RPW` */
  near: string | null;
  /** how many links from there */
  steps: string | null;
  /** `hide`: what is not looked for is left away, not only pale */
  rest: string | null;
  /** the group around whose devices the map draws a line */
  outline: string | null;
  /** what somebody moved on the map by hand */
  pins: string | null;
  /** the host whose ladder is shown */
  host: string | null;
  /** the ends of a trace: `device:12`, `endpoint:02:…`, an address */
  from: string | null;
  to: string | null;
  /** what is rehearsed, or seen to be down: `device:12,site:RPW` */
  down: string | null;
  /** another plan beside it */
  instead: string | null;
  /** what is seen to go on, but badly */
  slow: string | null;
}

export type ViewChange = Partial<Record<keyof View, string | null>>;

/** A change, or how to make one from the address as it is at the press: what is drawn may lag behind it. */
type ViewStep = ViewChange | ((now: (name: keyof View) => string) => ViewChange);

function changedBy(parameters: URLSearchParams, change: ViewChange): URLSearchParams {
  const next = new URLSearchParams(parameters);
  for (const [name, value] of Object.entries(change)) {
    if (value === null || value === undefined || value === '') next.delete(name);
    else next.set(name, value);
  }
  return next;
}

export function useView(): View & {
  set: (change: ViewStep) => void;
  /** Writes into the address what is shown without its saying so: no step that one goes back from. */
  say: (change: ViewChange) => void;
  href: (path: string, change?: ViewChange) => string;
} {
  const parameters = useSearchParams();
  const path = usePathname();
  useEffect(() => isDrawn(path, parameters.toString()), [path, parameters]);
  const set = useCallback(
    (step: ViewStep) => {
      const before = parametersNow();
      const change = typeof step === 'function' ? step((name) => before.get(name) ?? '') : step;
      const next = changedBy(before, change);
      const changed = Object.keys(change).filter((name) => (before.get(name) ?? '') !== (next.get(name) ?? ''));
      showView(path, next.toString(), stepOf(changed, performance.now()));
    },
    [path],
  );
  const say = useCallback(
    (change: ViewChange) => showView(path, changedBy(parametersNow(), change).toString(), 'replace'),
    [path],
  );
  /** A link that keeps the moment viewed and the selection. */
  const href = useCallback(
    (to: string, change: ViewChange = {}) => {
      const [bare = to, query = ''] = to.split('?');
      const next = new URLSearchParams(query);
      for (const name of ['survey', 'against', 'sel'] as const) {
        const value = change[name] === undefined ? parameters.get(name) : change[name];
        if (value && !next.has(name)) next.set(name, value);
      }
      for (const name of [
        'where',
        'sort',
        'of',
        'device',
        'past',
        'group',
        'columns',
        'pictures',
        'find',
        'plan',
        'over',
        'near',
        'steps',
        'rest',
        'host',
        'from',
        'to',
        'pins',
        'outline',
        'down',
        'instead',
        'slow',
      ] as const)
        if (change[name]) next.set(name, change[name]);
      const text = next.toString();
      return text ? `${bare}?${text}` : bare;
    },
    [parameters],
  );
  return useMemo(
    () => ({
      survey: parameters.get('survey'),
      against: parameters.get('against'),
      where: parameters.get('where') ?? '',
      sort: parameters.get('sort') ?? '',
      sel: parameters.get('sel'),
      of: parameters.get('of'),
      device: parameters.get('device'),
      past: parameters.get('past'),
      group: parameters.get('group'),
      columns: parameters.get('columns'),
      pictures: parameters.get('pictures'),
      find: parameters.get('find'),
      plan: parameters.get('plan'),
      over: parameters.get('over'),
      near: parameters.get('near'),
      steps: parameters.get('steps'),
      rest: parameters.get('rest'),
      host: parameters.get('host'),
      from: parameters.get('from'),
      to: parameters.get('to'),
      pins: parameters.get('pins'),
      outline: parameters.get('outline'),
      down: parameters.get('down'),
      instead: parameters.get('instead'),
      slow: parameters.get('slow'),
      set,
      say,
      href,
    }),
    [parameters, set, say, href],
  );
}
