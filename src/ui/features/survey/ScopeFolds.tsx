'use client';

import { useQuery } from '@tanstack/react-query';
import { scopeDefaults, type ScopeText } from '@/core/estate/scope';
import { calendarWords } from '@/core/estate/surveyCalendar';
import { Fold } from '../../components/Fold';
import { CheckInput } from '../../components/form/CheckInput';
import { LinesInput } from '../../components/form/LinesInput';
import { OrderedChoice } from '../../components/form/OrderedChoice';
import { SelectInput } from '../../components/form/SelectInput';
import { TextInput } from '../../components/form/TextInput';
import type { SavingForm } from '../../components/form/useSavingForm';
import { call } from '../../lib/api';
import { CalendarInput } from './CalendarInput';

/** Fields of a scope as they are called. */
export const scopeLabels: Record<keyof ScopeText, string> = {
  name: 'Name',
  ranges: 'Ranges',
  credentials: 'Credentials',
  schedule: 'When',
  quietHours: 'Quiet hours',
  exclusions: 'Exclusions',
  wakeRanges: 'Wake first',
  group: 'Only devices of',
  neighbourSteps: 'Neighbour steps',
  neighbourWithin: 'Follow neighbours within',
  collectors: 'Asked by',
  translations: 'Address translation',
  port: 'SNMP port',
  httpsPort: 'HTTPS port',
  authorities: 'Certificates of authorities',
  writeCredentials: 'For acting on ports',
  timeoutMs: 'Time limit, ms',
  retries: 'Retries',
  concurrency: 'At once',
  deviceSeconds: 'Longest for a device, s',
  largestPrefix: 'Largest prefix, /',
  defaultCommunities: 'Communities of delivery',
};

const folds = {
  when: ['schedule', 'quietHours'],
  what: ['exclusions', 'wakeRanges', 'group', 'neighbourSteps', 'neighbourWithin'],
  way: ['collectors', 'translations', 'port', 'httpsPort', 'authorities', 'writeCredentials'],
  pace: ['timeoutMs', 'retries', 'concurrency', 'deviceSeconds', 'largestPrefix', 'defaultCommunities'],
} as const satisfies Record<string, readonly (keyof ScopeText)[]>;

/** What of some fields is another than it is at first, in words. */
function saysOf(scope: ScopeText, fields: readonly (keyof ScopeText)[]): string {
  const other = fields.filter((field) => JSON.stringify(scope[field]) !== JSON.stringify(scopeDefaults[field]));
  return other.length === 0 ? 'as usual' : other.map((field) => scopeLabels[field].toLowerCase()).join(', ');
}

/** What a first-time user never needs, each part folded with what it says. */
export function ScopeFolds({
  saving: { form },
  writing,
  collectors,
}: {
  saving: SavingForm<ScopeText>;
  writing: string[];
  collectors: string[];
}) {
  const scope = form.watch();
  const { errors } = form.formState;
  const isWrong = (fields: readonly (keyof ScopeText)[]) => fields.some((field) => errors[field] !== undefined);
  const { data: groups = [] } = useQuery({
    queryKey: ['groups', 'of devices'],
    queryFn: async () => {
      const { rows } = await call<{ rows: { name: string; thing: string }[] }>('groups');
      return rows.filter(({ thing }) => thing === 'devices').map(({ name }) => name);
    },
  });
  return (
    <div>
      <Fold title="When" says={calendarWords(scope.schedule)} isWrong={isWrong(folds.when)}>
        <CalendarInput name="schedule" quietHours={scope.quietHours} />
        <LinesInput name="quietHours" label="Quiet hours" help="no survey begins in them: 08:00-18:00, one a line" />
      </Fold>
      <Fold title="What else" says={saysOf(scope, folds.what)} isWrong={isWrong(folds.what)}>
        <LinesInput name="exclusions" label="Exclusions" help="addresses that are not asked, one a line" />
        <LinesInput
          name="wakeRanges"
          label="Wake first"
          help="ranges whose quiet machines are touched once, so that address tables know them; usually empty"
        />
        {(groups.length > 0 || scope.group !== '') && (
          <SelectInput
            name="group"
            label="Only devices of"
            help="of the addresses above"
            choices={groups}
            empty="whatever answers there"
          />
        )}
        <TextInput
          name="neighbourSteps"
          label="Neighbour steps"
          type="number"
          help="how far neighbours (LLDP) are followed beyond the ranges; 0 for not at all"
        />
        {scope.neighbourSteps > 0 && (
          <LinesInput
            name="neighbourWithin"
            label="Follow neighbours within"
            help="prefixes, one a line; private addresses if empty"
          />
        )}
      </Fold>
      <Fold title="How it is reached" says={saysOf(scope, folds.way)} isWrong={isWrong(folds.way)}>
        {(collectors.length > 0 || scope.collectors.length > 0) && (
          <>
            <OrderedChoice
              name="collectors"
              label="Asked by these collectors; by this machine where none is chosen"
              choices={collectors}
              numbered={false}
            />
            {scope.collectors.length > 1 && <p className="quiet small">They split the addresses between them.</p>}
          </>
        )}
        <div className="pair">
          <TextInput name="port" label="SNMP port" type="number" />
          <TextInput name="httpsPort" label="HTTPS port" type="number" />
        </div>
        <LinesInput
          name="translations"
          label="Address translation"
          help="one a line: 10.72.0.0/16 via 127.72.0.0/16 port 1161 https 1443"
        />
        <TextInput
          name="authorities"
          label="Certificates of authorities"
          multiline
          maxRows={6}
          mono
          help="PEM. With them an HTTPS service must show a certificate they signed; empty: the first one seen is pinned"
        />
        {(writing.length > 0 || scope.writeCredentials.length > 0) && (
          <OrderedChoice name="writeCredentials" label="For acting on ports, tried in this order" choices={writing} />
        )}
      </Fold>
      <Fold title="How hard it asks" says={saysOf(scope, folds.pace)} isWrong={isWrong(folds.pace)}>
        <div className="pair">
          <TextInput name="timeoutMs" label="Time limit, ms" type="number" />
          <TextInput name="retries" label="Retries" type="number" />
          <TextInput
            name="concurrency"
            label="At once"
            type="number"
            help="64 as usual, and silent addresses beside them; any other number bounds those too"
          />
          <TextInput name="largestPrefix" label="Largest prefix, /" type="number" />
          <TextInput
            name="deviceSeconds"
            label="Longest for a device, s"
            type="number"
            help="of waiting for its answers; then the rest of it is left, and told"
          />
        </div>
        <CheckInput
          name="defaultCommunities"
          label="Look whether devices still answer to the communities they were delivered with"
        />
      </Fold>
    </div>
  );
}
