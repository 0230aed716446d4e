import { describe, expect, test } from '@jest/globals';
import { actOfKey } from './tableKeys';

const plain = { shiftKey: false, ctrlKey: false, metaKey: false };
const onRow = { onGroup: false, onLine: true, hasBlock: false, lines: 40 };

describe('keys of a table', () => {
  test.each([
    ['ArrowDown', 1],
    ['ArrowUp', -1],
    ['PageDown', 15],
    ['Home', -40],
    ['End', 40],
  ])('%s goes by %i lines', (key, by) => {
    expect(actOfKey({ key, ...plain }, onRow)).toEqual({ act: 'go', by });
  });
  test('Right and Left open and close the group one stands on, and do nothing on a row', () => {
    const onGroup = { ...onRow, onGroup: true };
    expect(actOfKey({ key: 'ArrowRight', ...plain }, onGroup)).toEqual({ act: 'toggle group', open: true });
    expect(actOfKey({ key: 'ArrowLeft', ...plain }, onGroup)).toEqual({ act: 'toggle group', open: false });
    expect(actOfKey({ key: 'Enter', ...plain }, onGroup)).toEqual({ act: 'toggle group' });
    expect(actOfKey({ key: 'ArrowRight', ...plain }, onRow)).toBeNull();
  });
  test('Shift and arrows choose cells only from a line on; Ctrl+C and Escape are the table’s only while cells are chosen', () => {
    expect(actOfKey({ key: 'ArrowDown', ...plain, shiftKey: true }, onRow)).toEqual({
      act: 'grow block',
      key: 'ArrowDown',
    });
    expect(actOfKey({ key: 'ArrowDown', ...plain, shiftKey: true }, { ...onRow, onLine: false })).toEqual({
      act: 'go',
      by: 1,
    });
    for (const key of ['c', 'Escape']) {
      const pressed = { key, ...plain, ctrlKey: key === 'c' };
      expect(actOfKey(pressed, onRow)).toBeNull();
      expect(actOfKey(pressed, { ...onRow, hasBlock: true })).not.toBeNull();
    }
  });
  test('M marks, but Ctrl+M is the browser’s; Enter opens what there is', () => {
    expect(actOfKey({ key: 'm', ...plain }, onRow)).toEqual({ act: 'mark' });
    expect(actOfKey({ key: 'm', ...plain, ctrlKey: true }, onRow)).toBeNull();
    expect(actOfKey({ key: 'Enter', ...plain }, onRow)).toEqual({ act: 'open' });
    expect(actOfKey({ key: 'Enter', ...plain }, { ...onRow, onLine: false })).toBeNull();
  });
});
