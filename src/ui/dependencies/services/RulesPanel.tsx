'use client';

import Button from '@mui/material/Button';
import { useState } from 'react';
import { ruleBasis, serviceKinds, serviceRuleSchema, type ServiceRule } from '@/core/services/serviceRule';
import { Glyph } from '../../components/Glyph';
import { ProblemNote } from '../../components/ProblemNote';
import { SaveLine } from '../../components/form/SaveLine';
import { SavingForm } from '../../components/form/SavingForm';
import { SelectInput } from '../../components/form/SelectInput';
import { TextInput } from '../../components/form/TextInput';
import { useSavingForm } from '../../components/form/useSavingForm';
import { TextButton } from '../../components/TextButton';
import { useWritten } from '../../features/edits/useWritten';
import { ApiProblem, call } from '../../lib/api';
import { useMayEdit } from '../../lib/person';
import { useView } from '../../lib/useView';
import { useServiceRules, type KeptRule } from './useServices';

/** The rules by which services are recognised, in their order; one of them, or a new one, to be written and tried. */
export function RulesPanel() {
  const view = useView();
  const mayEdit = useMayEdit();
  const { data, error } = useServiceRules(true);
  const [, which = '', more = ''] = /^rule:([^:]*):?(.*)$/s.exec(view.sel ?? '') ?? [];
  if (error) return <ProblemNote problem={error} />;
  if (!data) return <p className="quiet">reading…</p>;
  const editing = data.rows.find(({ id }) => id === which) ?? null;
  if (which === 'new' || editing)
    return (
      <RuleForm
        key={which}
        rule={editing}
        start={which === 'new' ? startOf(more) : {}}
        version={data.version}
        onDone={() => view.set({ sel: 'rules:all' })}
      />
    );
  return (
    <>
      <h2>What services are</h2>
      <p className="quiet small">
        The first rule that fits a listener says what it is: by its process, path, arguments, package or port; never by
        the name of its host.
      </p>
      {mayEdit && (
        <p>
          <Button variant="outlined" onClick={() => view.set({ sel: 'rule:new' })}>
            New rule
          </Button>
        </p>
      )}
      <ul className="rules">
        {data.rows.map((rule) => (
          <li key={rule.id}>
            <TextButton onClick={() => view.set({ sel: `rule:${rule.id}` })}>{rule.name}</TextButton>{' '}
            <span className="quiet small">
              {rule.kind}, by {ruleBasis(rule)}
              {rule.isOwn && ', own'}
              {rule.listeners > 0 && `; ${rule.listeners} ${rule.listeners === 1 ? 'listener' : 'listeners'}`}
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}

/** What a new rule begins with; an address that says nothing readable begins with nothing. */
function startOf(text: string): { process?: string; path?: string } {
  try {
    const { process, path } = JSON.parse(text) as { process?: unknown; path?: unknown };
    return {
      ...(typeof process === 'string' && { process }),
      ...(typeof path === 'string' && process === '' && { path }),
    };
  } catch {
    return {};
  }
}

interface Draft {
  name: string;
  id: string;
  kind: string;
  publisher: string;
  category: string;
  order: number;
  process: string;
  path: string;
  arguments: string;
  package: string;
  ports: string;
}

const literally = (text: string) => text.replace(/[\\^$.*+?()[\]{}|]/g, '\\$&');

const draftOf = (rule: ServiceRule): Draft => ({
  name: rule.name,
  id: rule.id,
  kind: rule.kind,
  publisher: rule.publisher,
  category: rule.category,
  order: rule.order,
  process: rule.match.process ?? '',
  path: rule.match.path ?? '',
  arguments: rule.match.arguments ?? '',
  package: rule.match.package ?? '',
  ports: (rule.match.ports ?? []).join(', '),
});

const ruleOf = (draft: Draft): ServiceRule => ({
  id: draft.id,
  order: draft.order,
  name: draft.name,
  kind: draft.kind as ServiceRule['kind'],
  publisher: draft.publisher,
  category: draft.category,
  match: {
    ...(draft.process && { process: draft.process }),
    ...(draft.path && { path: draft.path }),
    ...(draft.arguments && { arguments: draft.arguments }),
    ...(draft.package && { package: draft.package }),
    ...(draft.ports.trim() && {
      ports: draft.ports
        .split(/[\s,]+/)
        .map((port) => port.trim())
        .filter(Boolean),
    }),
  },
});

/** Mistakes of the rule at the inputs they come from. */
function mistakesOf(draft: Draft): { path: string; message: string }[] {
  try {
    serviceRuleSchema.validateSync(ruleOf(draft), { abortEarly: false });
    return [];
  } catch (error) {
    const { inner } = error as { inner: { path?: string; message: string }[] };
    return inner.map(({ path = '', message }) => {
      const own = path.replace(/^match\.?/, '').replace(/\[\d+\]$/, '');
      return { path: own === '' ? 'process' : own, message: own === 'kind' ? 'Choose a kind' : message };
    });
  }
}

interface Trial {
  rows: { id: string; device: string; process: string; protocol: string; port: number; now: string; taken: boolean }[];
  total: number;
}

function RuleForm({
  rule,
  start,
  version,
  onDone,
}: {
  rule: KeptRule | null;
  start: { process?: string; path?: string };
  version: number;
  onDone: () => void;
}) {
  const written = useWritten();
  const mayEdit = useMayEdit();
  const [trial, setTrial] = useState<Trial | null>(null);
  const [problem, setProblem] = useState('');
  const saving = useSavingForm<Draft, { version: number }>({
    values: rule
      ? draftOf(rule)
      : {
          name: '',
          id: '',
          kind: '',
          publisher: '',
          category: '',
          order: 30,
          process: literally(start.process ?? ''),
          path: start.path ? `^${literally(start.path)}$` : '',
          arguments: '',
          package: '',
          ports: '',
        },
    mistakes: mistakesOf,
    version,
    keep: `service rule ${rule?.id ?? 'new'}`,
    save: (draft, seen) =>
      call(`service-rules/${encodeURIComponent(draft.id)}`, { method: 'PUT', body: ruleOf(draft), seen }),
    done: async () => {
      await written();
      onDone();
      return undefined;
    },
  });
  const tryIt = async () => {
    setProblem('');
    if (!(await saving.form.trigger())) return;
    try {
      setTrial(await call<Trial>('service-rules/try', { method: 'POST', body: ruleOf(saving.form.getValues()) }));
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error;
      setProblem(error.words);
    }
  };
  const remove = async () => {
    if (!rule) return;
    await call(`service-rules/${encodeURIComponent(rule.id)}`, { method: 'DELETE', seen: version });
    await written();
    onDone();
  };
  return (
    <>
      <h2>{rule ? rule.name : 'New rule'}</h2>
      <SavingForm of={saving} prefix="rule.">
        <TextInput name="name" label="Service" help="what it is called" />
        <TextInput name="id" label="Id" help="small letters, digits and -" mono disabled={rule !== null} />
        <div className="pair">
          <SelectInput name="kind" label="Kind" choices={serviceKinds} />
          <TextInput name="order" label="Order" type="number" help="the lowest is asked first" />
        </div>
        <div className="pair">
          <TextInput name="publisher" label="Publisher" />
          <TextInput name="category" label="Category" />
        </div>
        <p className="quiet small">All that is given must fit. Process and package are patterns of the whole name.</p>
        <TextInput name="process" label="Process" mono />
        <TextInput name="path" label="Path holds" mono />
        <TextInput name="arguments" label="Arguments hold" mono />
        <TextInput name="package" label="Package" mono />
        <TextInput name="ports" label="Ports" help="like tcp/5432, with commas between them" mono />
        <SaveLine of={saving} words="Save the rule" disabled={!mayEdit}>
          <Button color="secondary" onClick={() => void tryIt()} disabled={!mayEdit}>
            Try it
          </Button>
          <Button color="secondary" onClick={onDone}>
            Leave it
          </Button>
          {rule?.isOwn && mayEdit && (
            <Button color="error" onClick={() => void remove()}>
              Remove
            </Button>
          )}
        </SaveLine>
      </SavingForm>
      {problem && (
        <p className="bad" role="alert">
          {problem}
        </p>
      )}
      {trial && (
        <section className="section" aria-live="polite">
          <h3>
            {trial.total === 0
              ? 'It fits no listener that is known'
              : `It fits ${trial.total} ${trial.total === 1 ? 'listener' : 'listeners'}`}
          </h3>
          <ul className="rules">
            {trial.rows.map(({ id, device, process, protocol, port, now, taken }) => (
              <li key={id}>
                <Glyph
                  name={taken ? 'up' : 'down'}
                  size={9}
                  word={taken ? 'it has the word' : 'a rule before it has'}
                />{' '}
                {device} <span className="mono">{process || '–'}</span>{' '}
                <span className="quiet">
                  {protocol}/{port}, now {now || 'unexplained'}
                  {!taken && '; a rule before it fits too'}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}
