import type { Json } from '../../core/resources/json';

export type ResourceFault =
  | 'absent'
  | 'unauthorised'
  | 'forbidden'
  | 'busy'
  /** nobody took the connection */
  | 'no answer'
  /** somebody took the connection, and gave no answer or half of one */
  | 'mute'
  | 'refused'
  | 'malformed'
  | 'too large'
  /** it cost more than a device may */
  | 'over budget'
  | 'certificate changed'
  | 'certificate not trusted'
  | 'failed'
  /** it answers in another form than is known */
  | 'changed'
  | 'cancelled';

const passing = new Set<ResourceFault>([
  'no answer',
  'mute',
  'refused',
  'busy',
  'over budget',
  'cancelled',
  'certificate changed',
]);

/** Whether a fault is of the moment: the same question may well be answered the next time. What is forbidden or malformed stays so. */
export const isPassing = (fault: ResourceFault): boolean => passing.has(fault);

/** Why a resource could not be had. */
export class ResourceError extends Error {
  constructor(
    readonly fault: ResourceFault,
    message: string,
  ) {
    super(message);
    this.name = 'ResourceError';
  }
}

/** Anything that answers with JSON by path: a service over HTTPS, a folder of files. */
export interface ResourceSource {
  /** @throws ResourceError */
  get(path: string): Promise<Json>;
  close(): Promise<void>;
}
