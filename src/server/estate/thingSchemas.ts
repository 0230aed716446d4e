import { things, type ThingName } from '../../core/things/things';
import type { ThingField } from '../../core/things/thing';
import type { FieldKind } from '../../core/filter/filterField';
import type { JsonSchema } from '../api/jsonSchema';

/** How a value of a kind is told; what is not known is null, or an empty text. */
const typesOf: Record<FieldKind, string> = {
  text: 'string',
  address: 'string',
  mac: 'string',
  release: 'string',
  date: 'string',
  number: 'number',
  bytes: 'number',
  bitsPerSecond: 'number',
  seconds: 'number',
  boolean: 'boolean',
};

function fieldSchema({ kind, label, list }: ThingField): JsonSchema {
  const one: JsonSchema = { type: [typesOf[kind], 'null'], description: label };
  return list ? { type: ['array', 'null'], description: label, items: { type: typesOf[kind] } } : one;
}

/** A row of a thing: the fields tables show, and those scripts rely on. Own fields that people made stand beside them. */
export function rowSchema(name: ThingName): JsonSchema {
  const shown = Object.fromEntries(things[name].fields.map((field) => [field.name, fieldSchema(field)]));
  const relied = Object.fromEntries(
    things[name].script.filter((field) => !(field in shown)).map((field) => [field, {}]),
  );
  return {
    type: 'object',
    properties: {
      id: { type: 'string', description: 'what it is asked for by' },
      ...shown,
      ...relied,
      change: { enum: ['added', 'gone', 'changed', 'replaced', 'silent'], description: 'against the other survey' },
      was: { type: 'object', description: 'what the fields that changed were before' },
    },
    required: ['id'],
    // own fields, and what the pages need beside
    additionalProperties: true,
  };
}

/** A page of rows, with counts and groups where they are asked for. */
export function pageSchema(name: ThingName): JsonSchema {
  const count: JsonSchema = { type: 'integer', minimum: 0 };
  const page: JsonSchema = {
    type: 'object',
    properties: {
      rows: { type: 'array', items: rowSchema(name) },
      total: { ...count, description: 'rows that fit, on all pages' },
      survey: count,
      against: { type: ['integer', 'null'] },
      counts: { type: 'object', additionalProperties: count, description: 'rows by how they changed' },
      shares: {
        type: 'object',
        description: 'by field: its values and how many rows have each',
        additionalProperties: {
          type: 'array',
          items: { type: 'object', properties: { value: { type: 'string' }, count }, required: ['value', 'count'] },
        },
      },
      sharesCut: {
        type: 'object',
        description: 'by field: how many values and rows were left out of its shares',
        additionalProperties: {
          type: 'object',
          properties: { values: count, rows: count },
          required: ['values', 'rows'],
        },
      },
      groups: { type: 'array', items: { type: 'object' }, description: 'groups with their counts and sums' },
    },
    required: ['rows', 'total', 'survey', 'against'],
  };
  // of a file only the columns that were asked for
  const { required: _id, ...row } = rowSchema(name);
  const all: JsonSchema = { type: 'array', items: row, description: 'all rows, with format=json' };
  return { anyOf: [page, all] };
}

/** A thing with what is near it, what happened to it and what it fails. */
export function dossierSchema(name: ThingName): JsonSchema {
  return {
    allOf: [
      { $ref: '#/components/schemas/ThingDossier' },
      { type: 'object', properties: { row: rowSchema(name) }, additionalProperties: true },
    ],
  };
}
