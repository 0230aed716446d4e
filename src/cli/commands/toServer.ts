import { Spool } from '../../collect/collector/spool';
import { CommandError } from '../exit';

/** Where a server is. Secrets and inventory go there: plain HTTP is for this machine only. @throws CommandError */
export function serverAddress(text: string): string {
  let url: URL;
  try {
    url = new URL(text);
  } catch {
    throw new CommandError(`--server: “${text}” is no address of a server: write it like https://bolide.example:4717`);
  }
  const local = /^(127(\.\d+){3}|localhost|\[::1\])$/.test(url.hostname);
  if (url.protocol !== 'https:' && !(url.protocol === 'http:' && local))
    throw new CommandError(`--server: “${text}” is not https, and credentials would cross the network in clear`);
  return `${url.origin}${url.pathname.replace(/\/+$/, '')}`;
}

/** A folder for what has not arrived yet. @throws CommandError where it cannot be used */
export function openSpool(folder: string): Spool {
  try {
    return new Spool(folder);
  } catch (error) {
    throw new CommandError(`--spool: “${folder}” cannot be used: ${(error as Error).message}`);
  }
}
