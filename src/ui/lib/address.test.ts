import { beforeEach, describe, expect, test } from '@jest/globals';
import { isDrawn, parametersNow, showView, stepOf } from './address';

/** The bar of a browser, whose router may write back an address that is no longer wanted. */
const bar = { pathname: '/estate', search: '' };
const write = (_state: unknown, _title: string, href: string) => {
  const { pathname, search } = new URL(href, 'http://bolide.invalid');
  Object.assign(bar, { pathname, search });
};

beforeEach(() => {
  Object.assign(globalThis, { window: { location: bar, history: { pushState: write, replaceState: write } } });
  Object.assign(bar, { pathname: '/estate', search: '' });
  isDrawn('/elsewhere', '');
});

describe('the address as it is wanted', () => {
  test('counts from what was pressed last, though the router wrote an earlier address back', () => {
    for (let presses = 1; presses <= 3; presses++) {
      const next = parametersNow();
      next.set('step', String(Number(next.get('step') ?? 0) + 1));
      showView('/estate', next.toString(), 'replace');
      bar.search = '';
    }
    expect(parametersNow().get('step')).toBe('3');
  });
  test('is the bar again once it is drawn', () => {
    showView('/estate', 'survey=3', 'push');
    expect([bar.search, parametersNow().get('survey')]).toEqual(['?survey=3', '3']);
    isDrawn('/estate', 'survey=2');
    bar.search = '?survey=2';
    expect(parametersNow().get('survey')).toBe('3');
    isDrawn('/estate', 'survey=3');
    bar.search = '?survey=5';
    expect(parametersNow().get('survey')).toBe('5');
  });
  test('of one page says nothing of another', () => {
    showView('/estate', 'where=role%3Dswitch', 'replace');
    Object.assign(bar, { pathname: '/ports', search: '?device=1' });
    expect(parametersNow().toString()).toBe('device=1');
  });
});

describe('a step that one can go back from', () => {
  test('is a word, not its letters; each thing that is chosen for a while; and nothing that is only how it is shown', () => {
    const typed = [0, 100, 200].map((at) => stepOf(['where'], at));
    expect(typed).toEqual(['push', 'replace', 'replace']);
    expect([stepOf(['sel'], 300), stepOf(['sel'], 400), stepOf(['sel'], 3000)]).toEqual(['push', 'replace', 'push']);
    expect([stepOf(['pins'], 3100), stepOf([], 3200), stepOf(['sel', 'columns'], 3300)]).toEqual([
      'replace',
      'replace',
      'replace',
    ]);
    expect(stepOf(['sort'], 3400)).toBe('push');
  });
});
