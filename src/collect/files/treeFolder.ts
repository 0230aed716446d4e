import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import path from 'node:path';
import type { Json } from '../../core/resources/json';
import { addressOrNull } from '../../core/values/ipAddress';
import { ResourceError, type ResourceSource } from '../https/resourceSource';

const largestFile = 16 * 1024 * 1024;

/** A folder of Redfish resources, `index.json` at each path, answers as the service it was taken from. */
export class TreeFolderSource implements ResourceSource {
  constructor(readonly folder: string) {}

  get(resource: string): Promise<Json> {
    const [bare = '', query] = resource.split('?');
    const place = path.resolve(this.folder, `.${path.posix.normalize(`/${bare}`)}`);
    if (place !== path.resolve(this.folder) && !place.startsWith(path.resolve(this.folder) + path.sep))
      return Promise.reject(new ResourceError('absent', `has no ${resource}`));
    // a page of a collection is a file beside its first one
    const file = path.join(place, query ? `index.json?${query}` : 'index.json');
    if (!existsSync(file) || !statSync(file).isFile())
      return Promise.reject(new ResourceError('absent', `has no ${resource}`));
    if (statSync(file).size > largestFile)
      return Promise.reject(
        new ResourceError('too large', `${resource} is larger than ${largestFile / 1024 / 1024} MB`),
      );
    try {
      return Promise.resolve(JSON.parse(readFileSync(file, 'utf8')) as Json);
    } catch {
      return Promise.reject(new ResourceError('malformed', `${resource} is no JSON`));
    }
  }

  close(): Promise<void> {
    return Promise.resolve();
  }
}

/** The trees of a folder, by the address that names each of its folders. What is none is told, the others are kept. */
export function readTreeFolder(folder: string): {
  trees: Map<string, TreeFolderSource>;
  problems: { file: string; reason: string }[];
} {
  const trees = new Map<string, TreeFolderSource>();
  const problems: { file: string; reason: string }[] = [];
  for (const name of readdirSync(folder).sort()) {
    if (name.startsWith('.')) continue;
    const whole = path.join(folder, name);
    const address = addressOrNull(name);
    if (!statSync(whole).isDirectory())
      problems.push({ file: name, reason: 'is no folder: each tree is a folder named by its address' });
    else if (!address) problems.push({ file: name, reason: 'its name is not an address: call it like 10.72.1.11' });
    else if (!existsSync(path.join(whole, 'redfish/v1/index.json')))
      problems.push({ file: name, reason: 'holds no redfish/v1/index.json' });
    else trees.set(address, new TreeFolderSource(whole));
  }
  return { trees, problems };
}
