'use client';

import { useEffect } from 'react';

/** What the keys can stand on and act with; in a field of text the keys of a table or of the page would be letters. */
const stops = 'a[href], button, select, summary, [role=treeitem], [tabindex="0"]:not(input):not(textarea)';
/** A part of the page that the keys do not leave by themselves. */
const parts = '[role=dialog], .panel, main, .header, .strip, .footline';
/** So long others have to put the keys where they want them. */
const graceMs = 60;
const remembered = 12;

/** Where the keys stood, so that a place beside it can be found once it is gone. */
interface Place {
  element: HTMLElement;
  words: string;
  path: string;
  /** what is around it, from near to far, up to the part of the page it is in */
  around: HTMLElement[];
  /** what stood before it in that part */
  before: HTMLElement[];
}

const wordsOf = (element: Element): string =>
  `${element.tagName} ${element.getAttribute('aria-label') ?? element.textContent?.trim() ?? ''}`;
const canStand = (element: HTMLElement): boolean =>
  element.isConnected && !element.hasAttribute('disabled') && element.getClientRects().length > 0;

function placeOf(element: HTMLElement): Place {
  const part = element.closest<HTMLElement>(parts);
  const around: HTMLElement[] = [];
  for (let one = element.parentElement; part && one && one !== part.parentElement; one = one.parentElement)
    around.push(one);
  const all = part ? [...part.querySelectorAll<HTMLElement>(stops)] : [];
  return {
    element,
    words: wordsOf(element),
    path: window.location.pathname,
    around,
    before: all.filter(
      (one) =>
        (element.compareDocumentPosition(one) & Node.DOCUMENT_POSITION_PRECEDING) !== 0 && !one.contains(element),
    ),
  };
}

/** The nearest there is now to a place: the same thing drawn anew, else what follows what stood before it. */
function nearest({ element, words, path, around, before }: Place): HTMLElement | null {
  if (path !== window.location.pathname) return null;
  if (canStand(element)) return element;
  for (const one of around) {
    if (!one.isConnected) continue;
    const here = [...one.querySelectorAll<HTMLElement>(stops)].filter(canStand);
    const twin = here.find((other) => wordsOf(other) === words);
    if (twin) return twin;
    const last = before.findLast((other) => here.includes(other));
    const next = here[last ? here.indexOf(last) + 1 : 0] ?? here.at(-1);
    if (next) return next;
  }
  return null;
}

/** Puts the keys at the beginning of the work: the next Tab goes to what is first there, and arrows to its rows. */
export function toTheWork(): void {
  const work = document.querySelector('main');
  if (work && !work.hasAttribute('tabindex')) work.tabIndex = -1;
  work?.focus({ preventScroll: true });
}

/**
 * Whoever acts by keys goes on from where they acted: what had the keys may vanish with what was done (the form is saved, the row is removed, the notice is taken up),
 * and without this they would start at the top of the page again.
 */
export function useKeptFocus(): void {
  useEffect(() => {
    let places: Place[] = [];
    let waiting = 0;
    /** what lost the keys because it could not be pressed for a while, as a button does while its form is sent */
    let resting: HTMLElement | null = null;
    const isLost = () => {
      const element = places[0]?.element;
      if (!element || (document.activeElement !== null && document.activeElement !== document.body)) return false;
      if (element.hasAttribute('disabled')) resting = element;
      return !element.isConnected || (element === resting && canStand(element));
    };
    const restore = () => {
      waiting = 0;
      if (!isLost()) return;
      resting = null;
      // another page has taken the place of the one they stood on
      if (places[0]?.path !== window.location.pathname) return toTheWork();
      for (const place of places) {
        const found = nearest(place);
        if (!found) continue;
        found.focus({ preventScroll: true });
        if (document.activeElement === found) return;
      }
    };
    const came = ({ target }: FocusEvent) => {
      if (!(target instanceof HTMLElement) || target === document.body) return;
      places = [placeOf(target), ...places.filter(({ element }) => element !== target)].slice(0, remembered);
    };
    const watching = new MutationObserver(() => {
      if (waiting === 0 && isLost()) waiting = window.setTimeout(restore, graceMs);
    });
    document.addEventListener('focusin', came);
    watching.observe(document.body, { childList: true, subtree: true, attributeFilter: ['disabled'] });
    return () => {
      document.removeEventListener('focusin', came);
      watching.disconnect();
      clearTimeout(waiting);
    };
  }, []);
}
