import type { ChildProcess } from 'node:child_process';
import { startBolide } from './program';

/** The same agents at another step of the story, on the same network and port. */
export function startFleetAgain({ base, port }: { base: string; port: number }, step: number): Promise<ChildProcess> {
  return startBolide(
    ['sim', '--scenario', '--base', base, '--port', String(port), '--step', String(step)],
    /agents on/,
  );
}
