'use client';

import type { ReactNode } from 'react';
import { FormProvider, type FieldValues } from 'react-hook-form';
import { LeftNote } from '../LeftNote';
import { ConflictNote } from './ConflictNote';
import { NamePrefix } from './fieldContext';
import type { SavingForm as Saving } from './useSavingForm';

/**
 * The inputs of a form, and what is told of the whole of it.
 * @param prefix before the names of its inputs
 * @param labels of fields, for what somebody else wrote meanwhile
 */
export function SavingForm<Values extends FieldValues>({
  of: saving,
  prefix = '',
  labels = {},
  children,
  ...more
}: {
  of: Saving<Values>;
  prefix?: string;
  labels?: Record<string, string>;
  children: ReactNode;
  className?: string;
  style?: React.CSSProperties;
  id?: string;
}) {
  const { form, submit, problem, conflict, forget, left } = saving;
  return (
    <FormProvider {...form}>
      <NamePrefix.Provider value={prefix}>
        <form
          className="form"
          noValidate
          {...more}
          onChange={forget}
          onSubmit={(event) => {
            event.preventDefault();
            // a form in a dialog that another form opened is not sent with it
            event.stopPropagation();
            submit();
          }}
        >
          {left && <LeftNote at={left.at} onTake={left.take} onForget={left.drop} />}
          {children}
          {problem && (
            <p className="bad" role="alert">
              {problem}
            </p>
          )}
          {conflict && <ConflictNote of={saving} labels={labels} />}
        </form>
      </NamePrefix.Provider>
    </FormProvider>
  );
}
