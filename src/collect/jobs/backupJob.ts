import { spawn } from 'node:child_process';
import path from 'node:path';
import * as yup from 'yup';
import { keepBackups, nextBackup, readBackupPlan } from '../../store/backups';
import { programFolder } from '../../store/base/database';
import { jobKind } from './jobKind';

/** Copies the data in a process of its own, so that nothing else waits for the disk. @throws Error with what that said */
function copied(folder: string, file: string, signal: AbortSignal): Promise<void> {
  const args = [path.join(programFolder(), 'bin/bolide'), 'backup', file, '--data', folder];
  return new Promise((resolve, reject) => {
    const child = spawn(process.execPath, args, { stdio: ['ignore', 'ignore', 'pipe'], signal });
    let said = '';
    child.stderr.on('data', (part: Buffer) => (said = (said + part.toString()).slice(-2000)));
    child.on('error', reject);
    child.on('exit', (code) => (code === 0 ? resolve() : reject(new Error(said.trim() || `it ended with ${code}`))));
  });
}

/** Copies the data into the folder of backups, and lets go of the oldest. */
export const backupJob = jobKind({
  kind: 'backup',
  lane: 'care',
  payload: yup.object({}).noUnknown(),
  attempts: 2,
  resumes: () => true,
  run: async ({ store: { db, folder }, signal }) => {
    const file = nextBackup(folder, new Date());
    await copied(folder, file, signal);
    keepBackups(folder, readBackupPlan(db).keep);
    return { name: path.basename(file) };
  },
});
