import * as yup from 'yup';
import { invalid } from '../access/problem';

/** Texts in an address are short: longer ones are a mistake. */
const usualLongest = 200;

export const text = (description: string, longest = usualLongest) =>
  yup.string().max(longest, `“\${path}” may have ${longest} letters`).meta({ description });

export const oneOf = <const Value extends string>(values: readonly Value[], description: string) =>
  yup
    .string<Value>()
    .oneOf([...values], `must be one of ${values.join(', ')}`)
    .meta({ description });

/** A whole number written in an address. */
export const whole = (
  description: string,
  least: number,
  most: number,
  message = `must be a whole number from ${least} to ${most}`,
) =>
  yup
    .number()
    .transform((_, written: unknown) =>
      typeof written === 'string' && /^\d+$/.test(written) ? Number(written) : Number.NaN,
    )
    .typeError(message)
    .integer(message)
    .min(least, message)
    .max(most, message)
    .meta({ description });

export const surveyWords = 'number of a sealed survey, or latest';
/** `?survey`: the moment that is looked at. */
export const atSurvey = { survey: text(surveyWords, 20) };
/** `?survey&against`: the moment that is looked at, and the one it is compared with. */
export const atMoments = { ...atSurvey, against: text('number of the sealed survey to compare with', 20) };

/** What an address says, as a route knows it. @throws Problem with each mistake at its parameter */
export async function readParameters<Query>(
  schema: yup.Schema<Query> | undefined,
  parameters: URLSearchParams,
): Promise<Query> {
  const known = Object.keys((schema as unknown as { fields?: object } | undefined)?.fields ?? {});
  const mistakes: { path: string; message: string }[] = [];
  const written: Record<string, string> = {};
  for (const [name, value] of parameters) {
    if (!known.includes(name)) mistakes.push({ path: name, message: unknownWords(known) });
    else if (name in written) mistakes.push({ path: name, message: 'is there twice' });
    else written[name] = value;
  }
  if (mistakes.length > 0) throw invalid(mistakes);
  if (!schema) return {} as Query;
  try {
    return await schema.validate(written, { abortEarly: false });
  } catch (error) {
    if (!(error instanceof yup.ValidationError)) throw error;
    const list = error.inner.length > 0 ? error.inner : [error];
    throw invalid(list.map(({ path, message }) => ({ path: path ?? '', message })));
  }
}

function unknownWords(known: string[]): string {
  if (known.length === 0) return 'is no parameter: there are none here';
  return `is no parameter: known ${known.length === 1 ? 'is' : 'are'} ${known.join(', ')}`;
}
