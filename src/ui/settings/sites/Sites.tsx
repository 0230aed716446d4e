'use client';

import { useQuery } from '@tanstack/react-query';
import type { SiteRule } from '@/core/sites/siteRules';
import { ProblemNote } from '../../components/ProblemNote';
import { WrittenLast } from '../../features/edits/WrittenLast';
import { call, type ApiProblem } from '../../lib/api';
import { useMayConfigure } from '../../lib/person';
import { Link } from '@/ui/components/Link';
import { RuleList } from './RuleList';

export interface SitesAnswer {
  rules: SiteRule[];
  byHand: { deviceId: number; site: string }[];
  version: number;
}

/** How it is told where a device stands. */
export function Sites() {
  const mayConfigure = useMayConfigure();
  const { data, error } = useQuery<SitesAnswer, ApiProblem>({
    queryKey: ['sites'],
    queryFn: () => call<SitesAnswer>('sites'),
  });
  if (error) return <ProblemNote problem={error} />;
  if (!data) return null;
  return (
    <div style={{ padding: '0 16px 24px' }}>
      <p className="quiet" style={{ maxWidth: 760, paddingBottom: 12 }}>
        The first rule that fits a device says where it stands. <span className="mono">*</span> stands for anything,{' '}
        <span className="mono">{'{site}'}</span> for the letters that are the site,{' '}
        <span className="mono">{'{site 2-4}'}</span> for two to four of them. A site set by hand, at a device, goes
        before all rules. What is saved here holds at once, for past surveys too.
      </p>
      {/* with what was read; what is read again behind a form is not what it writes over */}
      <RuleList key={data.version} rules={data.rules} version={data.version} mayConfigure={mayConfigure} />
      <p className="small quiet" style={{ paddingTop: 14 }}>
        {data.byHand.length === 0
          ? 'No device has a site set by hand.'
          : `${data.byHand.length} ${data.byHand.length === 1 ? 'device has its site' : 'devices have their sites'} set by hand.`}{' '}
        {mayConfigure && (
          <>
            A list of prefixes and sites can be <Link href="/settings/lists?of=sites">taken from a file</Link>.
          </>
        )}
      </p>
      {mayConfigure && <WrittenLast of="siteRules" />}
    </div>
  );
}
