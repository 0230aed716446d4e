// Describes what each route answers, from the type of what its `run` returns: writes src/server/api/answers.json, from which the API's description is made.
// `--check` writes nothing and ends with 1 where the file is out of date.
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import ts from 'typescript';
import { home } from './install.mjs';

const target = path.join(home, 'src/server/api/answers.json');
const config = ts.getParsedCommandLineOfConfigFile(
  path.join(home, 'tsconfig.json'),
  { incremental: false, noEmit: true },
  {
    ...ts.sys,
    onUnRecoverableConfigFileDiagnostic: (fault) => fail(ts.flattenDiagnosticMessageText(fault.messageText, '\n')),
  },
);
const program = ts.createProgram([path.join(home, 'src/server/api/routes.ts')], config.options);
const checker = program.getTypeChecker();
const types = {};
const nameOf = new Map();
const routes = {};
const unique = (schemas) => [...new Map(schemas.map((one) => [JSON.stringify(one), one])).values()];
const sorted = (of) => Object.fromEntries(Object.entries(of).sort(([one], [other]) => (one < other ? -1 : 1)));

for (const source of program.getSourceFiles()) {
  if (source.fileName.includes('/src/server/') && !source.fileName.includes('.test.')) ts.forEachChild(source, visit);
}
const text = `${JSON.stringify({ routes: sorted(routes), types: sorted(types) }, null, 1)}\n`;
const before = existsSync(target) ? readFileSync(target, 'utf8') : '';
if (process.argv.includes('--check')) {
  if (text !== before) fail('src/server/api/answers.json is out of date: run “npm run describe”');
} else if (text !== before) writeFileSync(target, text);
console.log(`${Object.keys(routes).length} answers of routes, ${Object.keys(types).length} types`);

function fail(words) {
  console.error(words);
  process.exit(1);
}

function visit(node) {
  if (
    ts.isCallExpression(node) &&
    node.expression.getText() === 'route' &&
    ts.isObjectLiteralExpression(node.arguments[0] ?? node)
  )
    describe(node.arguments[0]);
  ts.forEachChild(node, visit);
}

/** One `route({ … })`. Those that say themselves how their answer looks are passed over, but for the named types they return. */
function describe(spec) {
  const part = (name) => spec.properties.find((one) => one.name?.getText() === name);
  const words = (name) =>
    part(name)
      ?.initializer?.getText()
      .replace(/^[`'"]|[`'"]$/g, '');
  const run = part('run');
  // of those that stand for many paths the named types are wanted all the same
  if (part('answer') && !ts.isTemplateExpression(part('path').initializer)) return;
  const [signature] = checker.getTypeAtLocation(run.initializer ?? run).getCallSignatures();
  const answer = checker.getAwaitedType(signature.getReturnType()) ?? signature.getReturnType();
  const parts = answer.isUnion() ? answer.types : [answer];
  const json = parts.filter((one) => one.symbol?.name !== 'Response');
  if (json.length === 0) return;
  const schema = json.length === 1 ? schemaOf(json[0]) : { anyOf: unique(json.map((one) => schemaOf(one))) };
  if (!part('answer')) routes[`${words('method')} ${words('path')}`] = schema;
}

function schemaOf(type) {
  const { flags } = type;
  if (flags & (ts.TypeFlags.Any | ts.TypeFlags.Unknown)) return {};
  if (flags & ts.TypeFlags.StringLiteral) return { type: 'string', enum: [type.value] };
  if (flags & ts.TypeFlags.NumberLiteral) return { type: 'number', enum: [type.value] };
  if (flags & ts.TypeFlags.BooleanLiteral) return { type: 'boolean', enum: [type.intrinsicName === 'true'] };
  if (flags & ts.TypeFlags.StringLike) return { type: 'string' };
  if (flags & ts.TypeFlags.NumberLike) return { type: 'number' };
  if (flags & ts.TypeFlags.Boolean) return { type: 'boolean' };
  if (flags & ts.TypeFlags.Null) return { type: 'null' };
  if (type.isUnion()) return unionOf(type.types.filter((one) => !(one.flags & ts.TypeFlags.Undefined)));
  if (checker.isTupleType(type)) return tupleOf(type);
  if (checker.isArrayType(type) || type.symbol?.name === 'ReadonlyArray')
    return { type: 'array', items: schemaOf(checker.getTypeArguments(type)[0]) };
  if (type.symbol?.name === 'Date') return { type: 'string', format: 'date-time' };
  return named(type) ?? objectOf(type);
}

/** Types with a name of their own are described once. Two of one name in two files get the name of their file beside it. */
function named(type) {
  const symbol = type.aliasSymbol ?? type.symbol;
  const declaration = symbol?.declarations?.[0];
  const isNamed = declaration && (ts.isInterfaceDeclaration(declaration) || ts.isTypeAliasDeclaration(declaration));
  const isGeneric = (type.aliasTypeArguments ?? type.typeArguments ?? []).length > 0;
  if (!isNamed || isGeneric || declaration.getSourceFile().fileName.includes('node_modules')) return null;
  let name = nameOf.get(symbol);
  if (!name) {
    const file = path.basename(declaration.getSourceFile().fileName, '.ts');
    name = [...nameOf.values()].includes(symbol.name)
      ? `${symbol.name}Of${file.charAt(0).toUpperCase()}${file.slice(1)}`
      : symbol.name;
    nameOf.set(symbol, name);
    types[name] = {};
    types[name] = { ...objectOf(type), ...wordsOf(symbol) };
  }
  return { $ref: `#/components/schemas/${name}` };
}

function objectOf(type) {
  const properties = {};
  const required = [];
  for (const property of checker.getPropertiesOfType(type)) {
    const own = checker.getTypeOfSymbol(property);
    // methods are no part of an answer
    if (own.getCallSignatures().length > 0) continue;
    properties[property.name] = { ...schemaOf(own), ...wordsOf(property) };
    const mayMiss =
      property.flags & ts.SymbolFlags.Optional ||
      (own.isUnion() && own.types.some((one) => one.flags & ts.TypeFlags.Undefined)) ||
      own.flags & ts.TypeFlags.Undefined;
    if (!mayMiss) required.push(property.name);
  }
  const index = checker.getIndexInfoOfType(type, ts.IndexKind.String);
  return {
    type: 'object',
    ...(Object.keys(properties).length > 0 && { properties }),
    ...(required.length > 0 && { required }),
    ...(index && { additionalProperties: schemaOf(index.type) }),
  };
}

function tupleOf(type) {
  const parts = checker.getTypeArguments(type).map((one) => schemaOf(one));
  return { type: 'array', prefixItems: parts, minItems: parts.length, items: false };
}

/** A union; one of literals is a list of what there may be. */
function unionOf(parts) {
  const schemas = unique(parts.map((one) => schemaOf(one)));
  const literals = schemas.filter((one) => one.enum);
  const others = schemas.filter((one) => !one.enum);
  const byType = new Map();
  for (const { type, enum: values } of literals) byType.set(type, [...(byType.get(type) ?? []), ...values]);
  const lists = [...byType].map(([type, values]) =>
    type === 'boolean' && values.length === 2 ? { type } : { type, enum: values },
  );
  const all = [...lists, ...others];
  return all.length === 1 ? all[0] : { anyOf: all };
}

function wordsOf(symbol) {
  const description = ts.displayPartsToString(symbol.getDocumentationComment(checker)).split('\n')[0];
  return description ? { description } : {};
}
