'use client';

import { approvalWords, placesAsked, together, unapproved, type Approval } from '@/core/estate/approval';
import type { ScopeText } from '@/core/estate/scope';
import { CheckBox } from '../../components/CheckBox';
import { call } from '../../lib/api';
import { useMayConfigure } from '../../lib/person';
import type { ShownCredential } from './savedRows';

/** What of the places a scope asks is not approved yet for one of its credentials. */
interface Missing {
  credential: ShownCredential;
  places: Approval;
}

export function missingApprovals(scope: ScopeText, credentials: readonly ShownCredential[]): Missing[] {
  const used = new Set([...scope.credentials, ...scope.writeCredentials]);
  return credentials.flatMap((credential) => {
    if (!used.has(credential.name)) return [];
    const wanted = placesAsked(scope, credential.kind);
    const places = unapproved(credential.approved, wanted);
    return places.prefixes.length + places.ports.length > 0 ? [{ credential, places: wanted }] : [];
  });
}

/** Lets the credentials of a scope be sent where it asks. */
export async function approveAll(missing: readonly Missing[]): Promise<void> {
  for (const { credential, places } of missing)
    await call(`credentials/${credential.id}/approved`, {
      method: 'PUT',
      body: together(credential.approved, places),
      seen: credential.version,
    });
}

/** Tells which credentials may not be sent where a scope asks, and lets an administrator approve it with the scope. */
export function ScopeApprovals({
  missing,
  approve,
  onApprove,
}: {
  missing: readonly Missing[];
  approve: boolean;
  onApprove: (approve: boolean) => void;
}) {
  const mayConfigure = useMayConfigure();
  const [first] = missing;
  if (!first) return null;
  const names = missing.map(({ credential }) => `“${credential.name}”`).join(', ');
  return (
    <div>
      <p className="small caution">
        {names} may not be sent to all of these addresses yet: {approvalWords(first.places)}.
        {!mayConfigure && ' An administrator approves them at the credential; until then they are not asked with it.'}
      </p>
      {mayConfigure && <CheckBox label="Approve them with the scope" checked={approve} onChange={onApprove} />}
    </div>
  );
}
