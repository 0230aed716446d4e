import type { Json } from '../../core/resources/json';
import { HttpsClient, type ClientOptions, type ServicePlace } from '../https/httpsClient';
import { ResourceError } from '../https/resourceSource';

/** Whether an open resource of a private interface is there and says what it should. @throws ResourceError where nobody answers at all */
export async function answersWith(
  place: ServicePlace,
  options: ClientOptions,
  path: string,
  isIt: (body: Json) => boolean,
): Promise<boolean> {
  const client = new HttpsClient(place, options);
  try {
    return isIt((await client.ask(path)).body);
  } catch (error) {
    if (
      error instanceof ResourceError &&
      ['absent', 'forbidden', 'unauthorised', 'failed', 'malformed'].includes(error.fault)
    )
      return false;
    throw error;
  } finally {
    client.close();
  }
}

/** A resource, or why it could not be had. */
export async function resourceOf(read: () => Promise<Json>): Promise<{ body: Json } | { missing: string }> {
  try {
    return { body: await read() };
  } catch (error) {
    if (!(error instanceof ResourceError)) throw error;
    return { missing: error.message };
  }
}
