import type * as yup from 'yup';
import type { JsonSchema } from './jsonSchema';

type Description = ReturnType<yup.Schema['describe']>;
type Described = Partial<yup.SchemaInnerTypeDescription & yup.SchemaObjectDescription> & { type: string };

/**
 * A Yup schema as JSON Schema, from what the schema says of itself (`describe`). What Yup tests by code alone stays out: a value that fits the
 * description may still be refused, with words.
 * @param value of a schema that depends on the value (`lazy`): one of the kind that is meant
 */
export function schemaOf(schema: yup.Schema | yup.Lazy<unknown>, value?: unknown): JsonSchema {
  return described(schema.describe(value === undefined ? undefined : { value }) as Described);
}

function described(of: Described): JsonSchema {
  const description = (of.meta as { description?: string } | undefined)?.description;
  const nullable = of.nullable === true;
  const choices = (of.oneOf ?? []) as unknown[];
  return {
    ...typed(of, nullable),
    ...(description !== undefined && { description }),
    ...(choices.length > 0 && { enum: nullable ? [...choices, null] : choices }),
    ...bounds(of),
    ...plainDefault(of),
  };
}

function typed(of: Described, nullable: boolean): JsonSchema {
  const named = (type: string): JsonSchema => ({ type: nullable ? [type, 'null'] : type });
  switch (of.type) {
    case 'string':
    case 'boolean':
      return named(of.type);
    case 'number':
      return named(testOf(of, 'integer') ? 'integer' : 'number');
    case 'array':
      return { ...named('array'), items: of.innerType ? described(of.innerType as unknown as Described) : {} };
    case 'object':
      return { ...named('object'), ...fieldsOf(of) };
    default:
      // mixed, and lazy without a value: anything
      return {};
  }
}

function fieldsOf({ fields = {}, tests = [] }: Described): JsonSchema {
  const entries = Object.entries(fields) as [string, Described][];
  const required = entries.filter(([, field]) => field.optional === false && field.default === undefined);
  return {
    ...(entries.length > 0 && {
      properties: Object.fromEntries(entries.map(([name, field]) => [name, described(field)])),
    }),
    ...(required.length > 0 && { required: required.map(([name]) => name) }),
    ...(tests.some(({ name }) => name === 'noUnknown') && { additionalProperties: false }),
  };
}

const testOf = ({ tests = [] }: Described, name: string): Record<string, unknown> | undefined => {
  const found = (tests as Description extends { tests: infer Tests } ? Tests : never).find((one) => one.name === name);
  return found && ((found.params as Record<string, unknown> | undefined) ?? {});
};

function bounds(of: Described): JsonSchema {
  const at = (name: string, param: string) => testOf(of, name)?.[param] as number | undefined;
  const [least, most, length] = [at('min', 'min'), at('max', 'max'), at('length', 'length')];
  const given = <Key extends keyof JsonSchema>(key: Key, bound: number | undefined) =>
    bound === undefined ? {} : { [key]: bound };
  const pattern = testOf(of, 'matches')?.regex;
  switch (of.type) {
    case 'number':
      return { ...given('minimum', least), ...given('maximum', most) };
    case 'array':
      return { ...given('minItems', length ?? least), ...given('maxItems', length ?? most) };
    case 'string':
      return {
        ...given('minLength', length ?? least ?? (testOf(of, 'required') ? 1 : undefined)),
        ...given('maxLength', length ?? most),
        ...(pattern instanceof RegExp && { pattern: pattern.source }),
      };
    default:
      return {};
  }
}

function plainDefault({ type, default: value }: Described): JsonSchema {
  return value === undefined || type === 'object' ? {} : { default: value };
}
