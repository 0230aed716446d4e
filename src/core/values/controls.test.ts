import { expect, test } from '@jest/globals';
import { textAt } from '../resources/json';
import { textOf } from '../mib/varbind';
import { withoutControls } from './controls';

test('controls of both sets and marks of direction do not come into names', () => {
  // U+202E turns around what follows: the name would show as another one
  const odd = 'core\u202e1-pws\u202c\u0085up\u001b[2J\u2066x\u2069\u2028y';
  expect(withoutControls(odd)).toBe('core1-pws up [2Jx y');
  expect(textOf({ type: 'octets', value: new TextEncoder().encode(odd) })).toBe('core1-pws up [2Jx y');
  expect(textAt({ name: odd }, 'name')).toBe('core1-pws up [2Jx y');
  expect(withoutControls('  Größe Ω 日本  ')).toBe('Größe Ω 日本');
});
