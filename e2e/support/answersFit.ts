import { afterAll } from '@jest/globals';
import { existsSync, readFileSync } from 'node:fs';
import { answersFile, failuresInside } from './program';

/** After every suite: whatever the API answered while it ran was as the API describes itself. */
afterAll(() => {
  for (const failure of failuresInside) console.error(failure);
  if (!existsSync(answersFile)) return;
  const lines = readFileSync(answersFile, 'utf8').split('\n').filter(Boolean);
  const faults = [...new Set(lines.filter((line) => line.startsWith('FAULT')))];
  if (faults.length > 0) {
    const shown = faults.slice(0, 20).join('\n');
    throw new Error(`${faults.length} answers are not as the API describes them:\n${shown}`);
  }
});
