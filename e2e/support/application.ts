import type { ChildProcess } from 'node:child_process';
import { freePort, startBolide, temporaryFolder } from './program';

export interface Application {
  address: string;
  data: string;
  process: ChildProcess;
}

/** The real application with its engine, on a temporary data folder and a free port. */
export async function startApplication(
  data = temporaryFolder(),
  wanted?: number,
  more: string[] = [],
): Promise<Application> {
  const port = wanted ?? (await freePort());
  const process = await startBolide(['serve', '--data', data, '--port', String(port), ...more], /Bolide is at/);
  return { address: `http://127.0.0.1:${port}`, data, process };
}
