import type { LoginCredential } from '../../core/estate/credential';
import { objectAt, textAt, type Json } from '../../core/resources/json';
import { HttpsClient, type ClientOptions, type ServicePlace } from '../https/httpsClient';
import { ResourceError, type ResourceSource } from '../https/resourceSource';
import type { Recognised } from '../interfaces/vendorInterface';

const root = '/redfish/v1/';
const sessions = '/redfish/v1/SessionService/Sessions';

/** Whether a Redfish service root answers; it is open to everybody (DSP0266 section 8.1). @throws ResourceError where nobody answers at all */
export async function isRedfish(place: ServicePlace, options: ClientOptions): Promise<Recognised> {
  const client = new HttpsClient(place, options);
  try {
    const { body } = await client.ask(root);
    return textAt(body, 'RedfishVersion') !== '';
  } catch (error) {
    if (
      error instanceof ResourceError &&
      (error.fault === 'absent' ||
        error.fault === 'malformed' ||
        error.fault === 'failed' ||
        error.fault === 'forbidden')
    )
      return false;
    // some ask who is there before they say anything
    if (error instanceof ResourceError && error.fault === 'unauthorised') return 'perhaps';
    throw error;
  } finally {
    client.close();
  }
}

/** A Redfish service that was logged in to: by a session where it has them, else by Basic at every request (DSP0266 section 13). */
export class RedfishService implements ResourceSource {
  readonly #client: HttpsClient;
  #headers: Record<string, string> = {};
  #session: string | null = null;

  private constructor(place: ServicePlace, options: ClientOptions) {
    this.#client = new HttpsClient(place, options);
  }

  /** @throws ResourceError `unauthorised` and all others */
  static async open(place: ServicePlace, options: ClientOptions, credential: LoginCredential): Promise<RedfishService> {
    const service = new RedfishService(place, options);
    try {
      await service.#logIn(credential);
      return service;
    } catch (error) {
      await service.close();
      throw error;
    }
  }

  async get(path: string): Promise<Json> {
    return (await this.#client.ask(path, { headers: this.#headers })).body;
  }

  /** Changes something: it is sent once, whatever comes of it. @throws ResourceError */
  async post(path: string, body: Json): Promise<Json> {
    return (await this.#client.ask(path, { method: 'POST', headers: this.#headers, body })).body;
  }

  async close(): Promise<void> {
    try {
      if (this.#session) await this.#client.ask(this.#session, { method: 'DELETE', headers: this.#headers });
    } catch (error) {
      // a session that cannot be ended ends by itself
      if (!(error instanceof ResourceError)) throw error;
    } finally {
      this.#client.close();
    }
  }

  async #logIn({ user, password }: LoginCredential): Promise<void> {
    try {
      const { headers, body } = await this.#client.ask(sessions, {
        method: 'POST',
        body: { UserName: user, Password: password },
      });
      const token = headers['x-auth-token'];
      if (token) {
        this.#headers = { 'x-auth-token': token };
        this.#session = pathOf(headers.location) ?? (textAt(objectAt(body), '@odata.id') || null);
        return;
      }
    } catch (error) {
      if (!(error instanceof ResourceError) || error.fault !== 'absent') throw error;
    }
    this.#headers = { authorization: `Basic ${Buffer.from(`${user}:${password}`).toString('base64')}` };
    // says at once whether it is let in
    await this.get('/redfish/v1/Systems');
  }
}

/** Location may be a whole address; only its path counts, so that nobody is sent elsewhere with the token. */
function pathOf(location: string | undefined): string | null {
  if (!location) return null;
  if (location.startsWith('/')) return location;
  try {
    return new URL(location).pathname;
  } catch {
    return null;
  }
}
