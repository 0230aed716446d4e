/** A host as talk knows it: a device by its number, or an address that no device has. */
export interface TalkingHost {
  /** `12`, or `10.72.2.9` */
  id: string;
  name: string;
  site: string;
}

/** That one host asks another, on a port. */
export interface HostTalk {
  client: string;
  server: string;
  protocol: string;
  port: number;
  service: string;
  events: number;
  bytes: number;
}

/** Hosts that belong together because they talk. */
export interface Circle {
  /** stays the same from survey to survey, as long as most of its hosts do */
  id: string;
  name: string;
  hosts: TalkingHost[];
  /** within it, those that are asked most first, some hundreds at most */
  talks: HostTalk[];
  conversations: number;
  bytes: number;
  /** all that is asked within it */
  services: string[];
  /** of all that its hosts say to others but those that everybody asks, the share that stays within, 0 to 1 */
  inside: number;
}
