import { roleNames } from './roles';

/** A collector's token opens nothing but what collectors need. */
export const tokenRoles = [...roleNames, 'collector'] as const;
export type TokenRole = (typeof tokenRoles)[number];

/** Who asks: somebody who signed in, or (numbered 0) the bearer of a token. */
export interface Person {
  id: number;
  name: string;
  role: TokenRole;
}
