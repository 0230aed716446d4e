import type { Approval } from '@/core/estate/approval';
import type { ScopeText } from '@/core/estate/scope';

/** A credential as it is shown: never with its secret. */
export interface ShownCredential {
  id: number;
  /** in which it was read */
  version: number;
  name: string;
  kind: string;
  user?: string;
  auth?: string;
  priv?: string;
  purpose?: 'read' | 'write';
  /** where its secret may be sent */
  approved: Approval;
}
export interface SavedScope {
  id: number;
  /** in which it was read */
  version: number;
  scope: ScopeText;
  calendar: { nextAt: string | null; missed: { dueAt: string; outcome: string }[] };
}
