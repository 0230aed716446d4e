'use client';

import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { useWatch } from 'react-hook-form';
import { isSameLine, mayBeTarget, type CatalogueRelease } from '@/core/firmware/catalogue';
import { targetKey, type ReleaseTarget, type TargetStage } from '@/core/firmware/target';
import { compareReleases } from '@/core/firmware/release';
import { compareNaturally } from '@/core/values/naturalOrder';
import { DayInput } from '../../components/form/DayInput';
import { FilterInput } from '../../components/form/FilterInput';
import { SaveLine } from '../../components/form/SaveLine';
import { SavingForm } from '../../components/form/SavingForm';
import { SelectInput } from '../../components/form/SelectInput';
import { TextInput } from '../../components/form/TextInput';
import { useSavingForm } from '../../components/form/useSavingForm';
import { Fold } from '../../components/Fold';
import { useWritten } from '../../features/edits/useWritten';
import { call } from '../../lib/api';

const scopes = [
  { value: 'all', words: 'all of it' },
  { value: 'group', words: 'a group of devices' },
  { value: 'model', words: 'one model' },
  { value: 'where', words: 'the devices of a filter' },
];

interface Draft {
  line: string;
  release: string;
  scope: string;
  group: string;
  model: string;
  where: string;
  draft: string;
  why: string;
  reviewOn: string | null;
  tryOut: string;
  tryOutDays: string;
  early: string;
  earlyDays: string;
}

const usualDays = '14';
const lineKey = ({ vendor, family, component }: Pick<CatalogueRelease, 'vendor' | 'family' | 'component'>) =>
  JSON.stringify([vendor, family, component]);

const blank: Draft = {
  ...{ line: '', release: '', scope: 'all', group: '', model: '', where: '', draft: '', why: '', reviewOn: null },
  ...{ tryOut: '', tryOutDays: usualDays, early: '', earlyDays: usualDays },
};

const draftOf = (target: ReleaseTarget): Draft => {
  const stage = (name: TargetStage['name']) => target.stages.find((one) => one.name === name);
  return {
    line: lineKey(target),
    release: target.release,
    scope: target.group ? 'group' : target.model ? 'model' : target.where ? 'where' : 'all',
    group: target.group,
    model: target.model,
    where: target.where,
    draft: target.draft,
    why: target.why,
    reviewOn: target.reviewOn,
    tryOut: stage('try-out')?.where ?? '',
    tryOutDays: String(stage('try-out')?.days ?? usualDays),
    early: stage('early')?.where ?? '',
    earlyDays: String(stage('early')?.days ?? usualDays),
  };
};

function bodyOf(draft: Draft) {
  const [vendor = '', family = '', component = 'system'] = JSON.parse(draft.line || '[]') as string[];
  const stage = (name: TargetStage['name'], where: string, days: string) =>
    where.trim() === '' ? [] : [{ name, where: where.trim(), days: Number(days) }];
  return {
    ...{ vendor, family, component, release: draft.release },
    group: draft.scope === 'group' ? draft.group : '',
    model: draft.scope === 'model' ? draft.model : '',
    where: draft.scope === 'where' ? draft.where.trim() : '',
    draft: draft.draft.trim(),
    why: draft.why.trim(),
    reviewOn: draft.reviewOn,
    stages: [...stage('try-out', draft.tryOut, draft.tryOutDays), ...stage('early', draft.early, draft.earlyDays)],
  };
}

const isDays = (text: string) => /^\d{1,3}$/.test(text.trim()) && Number(text) <= 365;

const mistakesOf = (draft: Draft) => {
  const missing = (path: keyof Draft, message: string) => [{ path, message }];
  return [
    ...(draft.line === '' ? missing('line', 'Choose what it is for') : []),
    ...(draft.release === '' ? missing('release', 'Choose a release') : []),
    ...(draft.scope === 'group' && draft.group === '' ? missing('group', 'Choose a group') : []),
    ...(draft.scope === 'model' && draft.model === '' ? missing('model', 'Give the model') : []),
    ...(draft.scope === 'where' && draft.where.trim() === '' ? missing('where', 'Write a filter') : []),
    ...(isDays(draft.tryOutDays) ? [] : missing('tryOutDays', 'A number of days, up to 365')),
    ...(isDays(draft.earlyDays) ? [] : missing('earlyDays', 'A number of days, up to 365')),
  ];
};

/** Where what the server says of a field stands in the form. */
const fieldOf: Readonly<Record<string, keyof Draft>> = {
  'stages[0].where': 'tryOut',
  'stages[1].where': 'early',
};

/** A target, anew or as it is to be. */
export function TargetForm({
  editing,
  draft,
  version,
  onDone,
}: {
  editing: ReleaseTarget | null;
  /** the draft it is put in; empty for at once */
  draft: string;
  version: number | null;
  onDone: (words: string, edit?: number) => void;
}) {
  const written = useWritten();
  const catalogue = useQuery({
    queryKey: ['catalogue'],
    queryFn: () => call<{ rows: CatalogueRelease[] }>('catalogue'),
  });
  const groups = useQuery({
    queryKey: ['groups', 'to choose from'],
    queryFn: async () => (await call<{ rows: { name: string; thing: string }[] }>('groups')).rows,
  });
  const saving = useSavingForm<Draft, { version: number; edit?: number }>({
    values: editing ? draftOf(editing) : { ...blank, draft },
    mistakes: mistakesOf,
    version: editing ? version : null,
    keep: `target ${editing ? targetKey(editing) : 'new'}`,
    save: (values, seen) =>
      call<{ version: number; edit?: number }>('targets', { method: 'PUT', body: bodyOf(values), seen }).catch(
        (error: { errors?: { path: string }[] }) => {
          for (const one of error.errors ?? []) one.path = fieldOf[one.path] ?? one.path;
          throw error as unknown as Error;
        },
      ),
    done: async ({ edit }, values) => {
      await written();
      onDone(values.draft ? `It is in the draft ${values.draft}.` : 'The target is set.', edit);
      return undefined;
    },
  });
  const chosen = useWatch({ control: saving.form.control });
  const rows = catalogue.data?.rows ?? [];
  const lines = [...new Map(rows.map((one) => [lineKey(one), one])).values()].sort((x, y) =>
    compareNaturally(`${x.vendor} ${x.family} ${x.component}`, `${y.vendor} ${y.family} ${y.component}`),
  );
  const line = lines.find((one) => lineKey(one) === chosen.line);
  const releases = rows
    .filter((one) => line && isSameLine(one, line))
    .sort((x, y) => compareReleases(y.release, x.release))
    .map((one) => ({
      value: one.release,
      words: `${one.release}, ${one.published}${mayBeTarget(one) ? '' : `, ${one.status}`}`,
    }));
  const about = { thing: 'devices' as const, survey: null, against: null };
  return (
    <section className="section">
      <h2>{editing ? 'Change the target' : draft ? `A target for the draft ${draft}` : 'A target'}</h2>
      <SavingForm of={saving} prefix="target." style={{ marginTop: 8 }}>
        <SelectInput
          name="line"
          label="What"
          disabled={editing !== null}
          choices={lines.map((one) => ({
            value: lineKey(one),
            words: `${one.family.startsWith(one.vendor) ? one.family : `${one.vendor} ${one.family}`}, ${one.component}`,
          }))}
        />
        <SelectInput name="release" label="Should run" choices={releases} help={line ? '' : 'choose first what'} />
        <SelectInput name="scope" label="For" choices={scopes} disabled={editing !== null} />
        {chosen.scope === 'group' && (
          <SelectInput
            name="group"
            label="Group"
            disabled={editing !== null}
            choices={(groups.data ?? []).filter(({ thing }) => thing === 'devices').map(({ name }) => name)}
          />
        )}
        {chosen.scope === 'model' && <TextInput name="model" label="Model" help="as devices tell it" />}
        {chosen.scope === 'where' && (
          <FilterInput name="where" label="Devices" about={about} hint="site=SGH; role=switch" />
        )}
        <TextInput name="why" label="Why" help="what it mends, or what needs it" />
        <DayInput name="reviewOn" label="Look at it again on" help="empty: never" />
        <Fold
          title="Who goes first"
          says={chosen.tryOut || chosen.early ? 'in stages' : 'all at once'}
          isWrong={(['tryOut', 'tryOutDays', 'early', 'earlyDays'] as const).some(
            (name) => saving.form.getFieldState(name).invalid,
          )}
        >
          <FilterInput name="tryOut" label="Try-out: these devices first" about={about} hint="name:test" />
          <TextInput name="tryOutDays" label="Days until the next may go" />
          <FilterInput name="early" label="Early: these next" about={about} hint="site=HDP" />
          <TextInput name="earlyDays" label="Days until the rest may go" />
        </Fold>
        {!editing && (
          <TextInput name="draft" label="In a draft" help="empty: in force at once; else the name of the draft" />
        )}
        <SaveLine of={saving} words={editing ? 'Save the target' : 'Set the target'} variant="outlined">
          <Button color="secondary" onClick={() => onDone('')}>
            Leave it
          </Button>
        </SaveLine>
      </SavingForm>
    </section>
  );
}
