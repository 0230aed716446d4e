import type { Guarded } from './approval';

/** Credentials as the contract's file has them. Secrets: these objects never leave the engine and the vault. */
export const authProtocols = ['SHA-1', 'SHA-224', 'SHA-256', 'SHA-384', 'SHA-512'] as const;
export const privProtocols = ['AES-128', 'AES-256'] as const;
export const credentialKinds = ['snmp2c', 'snmp1', 'snmp3', 'redfish', 'restconf', 'controller'] as const;

/** What a credential opens equipment for. One that writes is never tried by surveys. */
export const credentialPurposes = ['read', 'write'] as const;
export type CredentialPurpose = (typeof credentialPurposes)[number];

export interface CommunityCredential extends Guarded {
  kind: 'snmp2c' | 'snmp1';
  community: string;
}

export interface UserCredential extends Guarded {
  kind: 'snmp3';
  user: string;
  auth?: { protocol: (typeof authProtocols)[number]; password: string };
  priv?: { protocol: (typeof privProtocols)[number]; password: string };
  context?: string;
  /** reading, where nothing is said */
  purpose?: CredentialPurpose;
}

export interface LoginCredential extends Guarded {
  kind: 'redfish' | 'restconf' | 'controller';
  user: string;
  password: string;
  /** reading, where nothing is said */
  purpose?: CredentialPurpose;
}

/** Whether a credential is kept for acting on equipment. */
export const writes = (credential: object): boolean => 'purpose' in credential && credential.purpose === 'write';

export type Credential = CommunityCredential | UserCredential | LoginCredential;
