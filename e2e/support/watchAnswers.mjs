// Brought into the application by `--import`: holds every JSON answer of the API against the description that the API gives of itself, as it passes.
// What does not fit is written to the file that BOLIDE_WATCH_ANSWERS names, a line each; so is how many answers were looked at.
import Ajv from 'ajv/dist/2020.js';
import addFormats from 'ajv-formats';
import { appendFileSync } from 'node:fs';
import http from 'node:http';
import { brotliDecompressSync, gunzipSync, inflateSync } from 'node:zlib';

const base = '/api/v1';
const file = process.env.BOLIDE_WATCH_ANSWERS;
const unpack = { gzip: gunzipSync, deflate: inflateSync, br: brotliDecompressSync };

/** @type {Promise<ReturnType<typeof judgeOf>> | null} */
let judge = null;

if (file) {
  const { emit } = http.Server.prototype;
  http.Server.prototype.emit = function (event, request, response) {
    if (event === 'request' && request.url?.startsWith(`${base}/`)) watch(request, response);
    return emit.apply(this, arguments);
  };
}

function watch(request, response) {
  const parts = [];
  const { write, end } = response;
  const keep = (part, encoding) => {
    if (typeof part === 'string') parts.push(Buffer.from(part, typeof encoding === 'string' ? encoding : 'utf8'));
    else if (part instanceof Uint8Array) parts.push(Buffer.from(part));
  };
  response.write = function (part, encoding) {
    keep(part, encoding);
    return write.apply(this, arguments);
  };
  response.end = function (part, encoding) {
    keep(part, encoding);
    const type = String(response.getHeader('content-type') ?? '');
    if (/json/.test(type) && request.method !== 'HEAD' && request.url !== `${base}/openapi.json`) {
      void look(request, response, Buffer.concat(parts));
    }
    return end.apply(this, arguments);
  };
}

async function look(request, response, octets) {
  const line = `${request.method} ${request.url} → ${response.statusCode}`;
  try {
    const packed = unpack[response.getHeader('content-encoding')];
    const text = (packed ? packed(octets) : octets).toString('utf8');
    judge ??= describedBy(request).then(judgeOf);
    const faults = (await judge)(request.method, request.url, response.statusCode, JSON.parse(text));
    appendFileSync(file, faults.length > 0 ? `FAULT ${line}: ${faults.join('; ')}\n` : 'fits\n');
  } catch (error) {
    appendFileSync(file, `FAULT ${line}: could not be looked at: ${error.message}\n`);
  }
}

/** What the application says of itself. */
async function describedBy(request) {
  const { address, port } = request.socket.address();
  return (await fetch(`http://${address}:${port}${base}/openapi.json`)).json();
}

/** @returns a function that tells what is wrong with an answer; nothing may stand in it that is not described */
export function judgeOf(description) {
  const ajv = new Ajv({ strict: false, allErrors: false });
  addFormats(ajv);
  const closed = closedOf(description);
  ajv.addSchema({ $id: 'bolide', components: closed.components });
  const operations = Object.entries(closed.paths)
    .flatMap(([path, methods]) => Object.entries(methods).map(([method, operation]) => ({ path, method, operation })))
    .sort((one, other) => (key(one.path) < key(other.path) ? -1 : 1))
    .map((one) => ({ ...one, form: new RegExp(`^${one.path.replace(/\{\w+\}/g, '[^/]+').replace(/\./g, '\\.')}$`) }));
  const compiled = new Map();
  return (method, url, status, value) => {
    const path = url.slice(base.length).split('?')[0];
    const found = operations.find((one) => one.method === method.toLowerCase() && one.form.test(path));
    const name = status === 200 ? `${method} ${found?.path}` : 'problem';
    let test = compiled.get(name);
    if (!test) {
      const schema =
        name === 'problem'
          ? { $ref: '#/components/schemas/Problem' }
          : found?.operation.responses['200'].content?.['application/json']?.schema;
      if (!schema) return ['its answer is not described'];
      test = ajv.compile(JSON.parse(JSON.stringify(schema).replaceAll('"#/components/', '"bolide#/components/')));
      compiled.set(name, test);
    }
    if (status === 200 && !found) return ['nothing is described there'];
    return test(value) ? [] : (test.errors ?? []).map(words);
  };
}

const key = (path) => path.replaceAll('{', '\u{10FFFF}');
const words = ({ instancePath, message, params }) => `${instancePath || '/'} ${message} ${JSON.stringify(params)}`;

/** The description, with objects that may hold nothing but what is described. */
function closedOf(of) {
  if (Array.isArray(of)) return of.map(closedOf);
  if (of === null || typeof of !== 'object') return of;
  const inner = Object.fromEntries(Object.entries(of).map(([name, value]) => [name, closedOf(value)]));
  const isObject = inner.type === 'object' && inner.properties && inner.additionalProperties === undefined;
  return isObject ? { ...inner, unevaluatedProperties: false } : inner;
}
