import { existsSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

/**
 * The program that a thread runs, beside the one at hand; null where the sources run as they are, and there is none.
 * @throws where there should be one: half a program must not pass for a whole one
 */
export function programBeside(name: string): string | null {
  const here = fileURLToPath(import.meta.url);
  if (here.endsWith('.ts')) return null;
  // what several programs have in common lies in a folder of its own
  const folder = path.dirname(here);
  const program = path.join(path.basename(folder) === 'parts' ? path.dirname(folder) : folder, `${name}.mjs`);
  if (!existsSync(program)) throw new Error(`${program} is missing: build it anew`);
  return program;
}
