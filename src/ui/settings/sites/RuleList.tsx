'use client';

import Button from '@mui/material/Button';
import { closestCenter, DndContext, KeyboardSensor, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import { SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { useFieldArray } from 'react-hook-form';
import { siteRuleMistakes, type SiteRule } from '@/core/sites/siteRules';
import { siteRulesSchema } from '@/core/sites/siteSchema';
import { SaveLine } from '../../components/form/SaveLine';
import { SavingForm } from '../../components/form/SavingForm';
import { useSavingForm } from '../../components/form/useSavingForm';
import { useWritten } from '../../features/edits/useWritten';
import { call } from '../../lib/api';
import { RuleRow } from './RuleRow';
import { SiteChanges } from './SiteChanges';
import { useSitePreview } from './useSitePreview';

interface Draft {
  rules: SiteRule[];
}

const mistakesOf = ({ rules }: Draft) => siteRuleMistakes(rules);

/** The rules in the order in which they are asked: moved by hand or by keyboard, with what each gives. */
export function RuleList({
  rules,
  version,
  mayConfigure,
}: {
  rules: SiteRule[];
  version: number;
  mayConfigure: boolean;
}) {
  const written = useWritten();
  const saving = useSavingForm<Draft, { version: number }>({
    values: { rules },
    schema: siteRulesSchema,
    mistakes: mistakesOf,
    version,
    keep: 'site rules',
    fromKept: (kept: SiteRule[]) => ({ rules: kept }),
    save: (body, seen) => call('sites', { method: 'PUT', body, seen }),
    done: async () => {
      await written();
      return { told: 'Saved: devices stand where the rules say now.' };
    },
  });
  const { form } = saving;
  const { fields, append, remove, move } = useFieldArray({ control: form.control, name: 'rules' });
  const now = form.watch('rules');
  const preview = useSitePreview(now);
  const sensors = useSensors(
    useSensor(PointerSensor),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const placeOf = (id: string) => fields.findIndex((field) => field.id === id);
  return (
    <SavingForm of={saving}>
      {fields.length === 0 && (
        <p className="quiet">No rule is written: no device has a site, unless somebody set it by hand.</p>
      )}
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        onDragEnd={({ active, over }) => over && move(placeOf(String(active.id)), placeOf(String(over.id)))}
      >
        <SortableContext items={fields.map(({ id }) => id)} strategy={verticalListSortingStrategy}>
          <div className="siterules" role="list" aria-label="Rules of sites">
            {fields.map((field, at) => (
              <RuleRow
                key={field.id}
                id={field.id}
                at={at}
                of={now[at]?.of ?? 'name'}
                gives={preview?.rules[at] ?? null}
                mayConfigure={mayConfigure}
                onRemove={() => remove(at)}
              />
            ))}
          </div>
        </SortableContext>
      </DndContext>
      {mayConfigure && (
        <SaveLine of={saving} words="Save the rules">
          <Button color="secondary" onClick={() => append({ of: 'name', pattern: '', site: '' })}>
            Add a rule
          </Button>
        </SaveLine>
      )}
      {preview && <SiteChanges preview={preview} />}
    </SavingForm>
  );
}
