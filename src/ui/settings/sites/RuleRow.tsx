'use client';

import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import type { SiteRule } from '@/core/sites/siteRules';
import { ActIcon } from '../../components/ActIcon';
import { SelectInput } from '../../components/form/SelectInput';
import { TextInput } from '../../components/form/TextInput';
import { PlainButton } from '../../components/PlainButton';
import { TextButton } from '../../components/TextButton';
import type { RuleGives } from './useSitePreview';

const ofChoices = [
  { value: 'name', words: 'the name' },
  { value: 'location', words: 'the location' },
  { value: 'prefix', words: 'the address' },
];
const patternWords: Record<SiteRule['of'], string> = {
  name: 'like {site 2-4}-*',
  location: 'a text in it, like Ropewalk',
  prefix: 'a prefix, like 10.72.4.0/24',
};

/** One rule: what it looks at, how it tells the site, and what that gives. */
export function RuleRow({
  id,
  at,
  of,
  gives,
  mayConfigure,
  onRemove,
}: {
  id: string;
  at: number;
  of: SiteRule['of'];
  gives: RuleGives | null;
  mayConfigure: boolean;
  onRemove: () => void;
}) {
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id });
  return (
    <div
      ref={setNodeRef}
      role="listitem"
      className={`siterule ${isDragging ? 'lifted' : ''}`}
      style={{ transform: CSS.Translate.toString(transform), transition }}
    >
      {mayConfigure ? (
        <PlainButton
          className="draghandle"
          {...attributes}
          {...listeners}
          aria-label={`Move rule ${at + 1}: press Enter, then the arrows`}
        >
          <ActIcon act="drag" />
        </PlainButton>
      ) : (
        <span className="quiet">{at + 1}</span>
      )}
      <SelectInput name={`rules.${at}.of`} label="By" choices={ofChoices} disabled={!mayConfigure} />
      <TextInput
        name={`rules.${at}.pattern`}
        label={of === 'prefix' ? 'Prefix' : 'Pattern'}
        help={patternWords[of]}
        mono
        disabled={!mayConfigure}
      />
      <TextInput
        name={`rules.${at}.site`}
        label="Site"
        help={of === 'prefix' ? '' : 'empty: as in {site}'}
        disabled={!mayConfigure}
      />
      <Gives gives={gives} />
      {mayConfigure && (
        <TextButton aria-label={`Remove rule ${at + 1}`} onClick={onRemove}>
          Remove
        </TextButton>
      )}
    </div>
  );
}

const shownSites = 6;

function Gives({ gives }: { gives: RuleGives | null }) {
  if (!gives) return <span className="gives small quiet">…</span>;
  const { devices, first, sites } = gives;
  if (devices === 0) return <span className="gives small quiet">fits no device that is not told already</span>;
  return (
    <span className="gives small">
      <b>{devices.toLocaleString('en')}</b> {devices === 1 ? 'device' : 'devices'} at{' '}
      {sites.slice(0, shownSites).join(', ')}
      {sites.length > shownSites && ` and ${sites.length - shownSites} more`}
      <span className="quiet">
        {' '}
        ({first.join(', ')}
        {devices > first.length && ' …'})
      </span>
    </span>
  );
}
