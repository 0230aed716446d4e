import * as yup from 'yup';
import { route } from '../access/route';
import { readPreferences, writePreference } from '../../store/people';

const preferenceSchema = yup.object({ key: yup.string().required().max(80), value: yup.mixed().defined() }).noUnknown();

export const GET = route('viewer', null, ({ store, person }) => readPreferences(store.db, person.id));

export const PUT = route('viewer', preferenceSchema, ({ store, person, body: { key, value } }) => {
  if (person.id > 0) writePreference(store.db, person.id, key, value ?? null);
  return {};
});
