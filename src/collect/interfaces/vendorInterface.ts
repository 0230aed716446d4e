import type { LoginCredential } from '../../core/estate/credential';
import type { DeviceReport, WayKind } from '../../core/estate/facts';
import type { Harvest } from '../../core/estate/harvest';
import type { Json } from '../../core/resources/json';
import type { ResourceAnswer } from '../../core/resources/resourceAnswer';
import type { ClientOptions, ServicePlace } from '../https/httpsClient';

/** What an interface needs to know to say whose device it is. */
export interface AnswerContext {
  address: string;
  credential: string;
  /** facts of a harvest, by the signatures of the survey */
  interpret: (harvest: Harvest) => DeviceReport;
}

/** A service that let us in. */
export interface OpenInterface {
  /** Everything it tells; null where it tells nothing of itself. A part that could not be had is named, never thrown. */
  read(context: AnswerContext): Promise<ResourceAnswer | null>;
  /** One resource by its path, where the interface has such: for what somebody wants to see beside. @throws ResourceError */
  resource?(path: string): Promise<Json>;
  close(): Promise<void>;
}

/** `perhaps`: something asks for a login before it says what it is. */
export type Recognised = boolean | 'perhaps';

/** A way in to equipment over HTTPS: Redfish, RESTCONF, or the private interface of a controller. */
export interface VendorInterface {
  kind: WayKind;
  credentialKind: LoginCredential['kind'];
  /** as a person reads it */
  name: string;
  /** Whether this interface answers there, asked without a credential. @throws ResourceError where nobody answers at all */
  probe(place: ServicePlace, options: ClientOptions): Promise<Recognised>;
  /** @throws ResourceError */
  open(place: ServicePlace, options: ClientOptions, credential: LoginCredential): Promise<OpenInterface>;
}
