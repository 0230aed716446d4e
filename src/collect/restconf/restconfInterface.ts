import { wayNames } from '../../core/estate/ways';
import type { Json } from '../../core/resources/json';
import type { LoginCredential } from '../../core/estate/credential';
import {
  harvestFromRestconf,
  restconfResources,
  type RestconfAnswers,
  type RestconfResource,
} from '../../core/resources/restconf';
import { HttpsClient, type ClientOptions, type ServicePlace } from '../https/httpsClient';
import { isPassing, ResourceError } from '../https/resourceSource';
import type { OpenInterface, VendorInterface } from '../interfaces/vendorInterface';
import { inParallel } from '../inParallel';

const yangJson = 'application/yang-data+json';
const accept = { accept: yangJson };
const atOnce = 2;

/** Where the RESTCONF root is, told openly at a well-known place (RFC 8040 section 3.1); null where there is none. @throws ResourceError */
async function findRoot(client: HttpsClient): Promise<string | null> {
  try {
    const { body } = await client.ask('/.well-known/host-meta', {
      headers: { accept: 'application/xrd+xml' },
      text: true,
    });
    const link = /<Link[^>]*rel=['"]restconf['"][^>]*>/.exec(String(body))?.[0] ?? '';
    const href = /href=['"](\/[^'"]*)['"]/.exec(link)?.[1];
    return href ? href.replace(/\/+$/, '') : null;
  } catch (error) {
    if (
      error instanceof ResourceError &&
      ['absent', 'forbidden', 'unauthorised', 'failed', 'malformed'].includes(error.fault)
    )
      return null;
    throw error;
  }
}

async function probe(place: ServicePlace, options: ClientOptions): Promise<boolean> {
  const client = new HttpsClient(place, options);
  try {
    return (await findRoot(client)) !== null;
  } finally {
    client.close();
  }
}

/** A service that was logged in to, by paths from its root. What changes something is sent once. */
export interface RestconfCaller {
  get(path: string): Promise<Json>;
  post(path: string, body: Json): Promise<Json>;
}

/** RESTCONF with the IETF's models (RFC 8040). */
export const restconfInterface: VendorInterface = {
  kind: 'restconf',
  credentialKind: 'restconf',
  name: wayNames.restconf,
  probe,
  open: openRestconf,
};

/** A RESTCONF service that lets us in, to be read, and asked and told by path from its root. @throws ResourceError */
export async function openRestconf(
  place: ServicePlace,
  options: ClientOptions,
  { user, password }: LoginCredential,
): Promise<OpenInterface & { caller: RestconfCaller }> {
  const client = new HttpsClient(place, options);
  const headers = { ...accept, authorization: `Basic ${Buffer.from(`${user}:${password}`).toString('base64')}` };
  try {
    const root = await findRoot(client);
    if (root === null) throw new ResourceError('absent', 'has no RESTCONF root');
    // says at once whether it is let in
    await client.ask(root, { headers });
    return {
      read: async (context) => {
        const harvest = harvestFromRestconf(await readResources(client, root, headers), context);
        return harvest && { report: { ...withInterface(context.interpret(harvest), context) }, parts: harvest.parts };
      },
      // written from the root of all data, wherever this device has it
      resource: async (path) => (await client.ask(`${root}${path.replace(/^\/restconf(?=\/)/, '')}`, { headers })).body,
      caller: {
        get: async (path) => (await client.ask(`${root}${path}`, { headers })).body,
        post: async (path, told) =>
          (
            await client.ask(`${root}${path}`, {
              method: 'POST',
              headers: { ...headers, 'content-type': yangJson },
              body: told,
            })
          ).body,
      },
      close: () => Promise.resolve(client.close()),
    };
  } catch (error) {
    client.close();
    throw error;
  }
}

/** Every resource of the models; one that the device does not have is left out, one that broke off is named. */
async function readResources(
  client: HttpsClient,
  root: string,
  headers: Record<string, string>,
): Promise<RestconfAnswers> {
  const answers: RestconfAnswers = {};
  let stopped: string | null = null;
  const ask = async (resource: RestconfResource) => {
    if (stopped !== null) {
      answers[resource] = { missing: `not asked: the service ${stopped}` };
      return;
    }
    try {
      answers[resource] = { body: (await client.ask(`${root}/data/${restconfResources[resource]}`, { headers })).body };
    } catch (error) {
      if (!(error instanceof ResourceError)) throw error;
      if (error.fault === 'absent') answers[resource] = { body: null };
      // nobody could say whose the rest would be
      else if (resource === 'system' && isPassing(error.fault)) throw error;
      else answers[resource] = { missing: error.message };
      if (error.fault === 'refused' || error.fault === 'busy' || error.fault === 'cancelled') stopped = error.message;
    }
  };
  await inParallel(
    (Object.keys(restconfResources) as RestconfResource[]).filter((resource) => resource !== 'interfacesState'),
    atOnce,
    ask,
  );
  // the older tree of state is asked only where the newer one tells no states
  const interfaces = answers.interfaces;
  if (!interfaces || ('body' in interfaces && !JSON.stringify(interfaces.body ?? '').includes('"oper-status"')))
    await ask('interfacesState');
  return answers;
}

function withInterface<Report extends { device: object }>(
  report: Report,
  { address, credential }: { address: string; credential: string },
): Report {
  return {
    ...report,
    device: { ...report.device, interfaces: [{ kind: 'restconf', address, credential, release: '' }] },
  };
}
