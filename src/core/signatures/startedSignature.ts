import type { DeviceFacts } from '../estate/facts';
import type { Signature } from './signature';

/** A signature to go on from for a device that only the generic one knows: it matches this kind, and says what little is known. */
export function startedSignature({
  objectId,
  description,
  model,
  vendor,
  role,
  name,
}: Pick<DeviceFacts, 'objectId' | 'description' | 'model' | 'vendor' | 'role' | 'name'>): Signature {
  const word = (model || vendor || name)
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '');
  const enterprise = /^1\.3\.6\.1\.4\.1\.\d+/.test(objectId);
  const release = /\b(?:release|version|ver\.?|v)\s*([0-9][^\s,;)]*)/i.exec(description);
  return {
    id: word || 'new-signature',
    order: 100,
    match: enterprise
      ? { objectId }
      : {
          description: escaped(
            description
              .split(/[,;\n]/)[0]
              ?.trim()
              .slice(0, 60) ?? '',
          ),
        },
    vendor,
    role,
    ...(model && { model: { literal: model } }),
    ...(release && {
      release: {
        description: `${escaped(release[0].slice(0, release[0].length - (release[1]?.length ?? 0)))}([^\\s,;)]+)`,
      },
    }),
    scheme: 'dotted',
  };
}

const escaped = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
