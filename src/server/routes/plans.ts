import { addFloorPlan, listFloorPlans } from '../../store/floorPlans';
import { recordAct } from '../../store/people';
import { invalid } from '../access/problem';
import { route } from '../access/route';
import { pictureGiven } from '../floor/pictureGiven';

const longest = { site: 60, name: 120 } as const;

/** Floor plans without their pictures. */
export const GET = route('viewer', null, ({ store }) => {
  const rows = listFloorPlans(store.db).map(({ layout, ...plan }) => ({
    ...plan,
    rooms: layout.rooms.length,
    marks: layout.marks.length,
  }));
  return { rows, total: rows.length };
});

/** `POST /plans?site&name`: a new plan; the body is its picture, PNG or JPEG. */
export const POST = route('operator', null, async ({ store, person, request, url }) => {
  const text = (field: keyof typeof longest) => (url.searchParams.get(field) ?? '').trim();
  const [site, name] = [text('site'), text('name')];
  const mistakes = (['site', 'name'] as const).flatMap((field) => {
    const given = text(field);
    return given === ''
      ? [{ path: field, message: field === 'site' ? 'Say at which site it is' : 'Give the plan a name' }]
      : given.length > longest[field]
        ? [{ path: field, message: `has ${given.length} characters; ${longest[field]} at most` }]
        : [];
  });
  if (mistakes.length > 0) throw invalid(mistakes);
  if (
    listFloorPlans(store.db).some(
      (plan) => plan.site.toLowerCase() === site.toLowerCase() && plan.name.toLowerCase() === name.toLowerCase(),
    )
  )
    throw invalid([{ path: 'name', message: `${site} has a plan “${name}” already` }]);
  const id = addFloorPlan(store.db, { site, name, who: person.name, ...(await pictureGiven(request)) });
  recordAct(store.db, person.name, 'added a floor plan', `${name} of ${site}`);
  return { id };
});
