import * as yup from 'yup';
import type { CatalogueRelease } from '../../core/firmware/readiness';
import { line } from '../access/line';
import { route } from '../access/route';
import { recordAct } from '../../store/people';
import { addRelease, readCatalogue } from '../../store/settings';

const bytes = () => yup.number().integer().min(0).nullable().defined();
const releaseSchema = yup
  .object({
    vendor: line('The maker').required('Give the maker'),
    family: line('The family').required('Give the family'),
    release: line('The release')
      .required('Give the release')
      .matches(/^[0-9A-Za-z][0-9A-Za-z._-]*$/, 'A release has digits, letters and . _ - only'),
    published: yup
      .string()
      .required('Give the day of publication')
      .matches(/^\d{4}-\d\d-\d\d$/, 'Write the day like 2026-11-23'),
    minimumMemoryBytes: bytes(),
    neededFlashBytes: bytes(),
    minimumFrom: yup.string().nullable().defined(),
    minimumBoot: yup.string().nullable().defined(),
    excludedModels: yup.array(yup.string().required()).required(),
    image: yup.string().defined(),
  })
  .noUnknown() as yup.Schema<CatalogueRelease>;

export const GET = route('viewer', null, ({ store }) => {
  const rows = readCatalogue(store.db);
  return { rows, total: rows.length };
});

export const POST = route('operator', releaseSchema, ({ store, person, body }) => {
  addRelease(store.db, body);
  recordAct(store.db, person.name, 'added a release', `${body.vendor} ${body.family} ${body.release}`);
  return {};
});
