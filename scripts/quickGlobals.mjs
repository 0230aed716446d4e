// How tests are made out of TypeScript. A test file runs in a context of its own, where each look at a global name, `Math` as much as `Map`, costs half a microsecond instead of
// nothing: computations became up to two hundred times slower. So each module looks once, and keeps what does not change in constants of its own.
import swc from '@swc/jest';

/** What the language itself brings, and no test puts something else in the place of: clocks, timers, and the network are not among it. */
const unchanging = [
  'Array',
  'ArrayBuffer',
  'BigInt',
  'Boolean',
  'DataView',
  'Error',
  'Float32Array',
  'Float64Array',
  'Infinity',
  'Int8Array',
  'Int16Array',
  'Int32Array',
  'JSON',
  'Map',
  'Math',
  'NaN',
  'Number',
  'Object',
  'Promise',
  'RangeError',
  'Reflect',
  'RegExp',
  'Set',
  'String',
  'Symbol',
  'TypeError',
  'Uint8Array',
  'Uint8ClampedArray',
  'Uint16Array',
  'Uint32Array',
  'WeakMap',
  'WeakSet',
  'decodeURIComponent',
  'encodeURIComponent',
  'isFinite',
  'isNaN',
  'parseFloat',
  'parseInt',
];
const constant = (name) => `$global_${name}`;
const globals = { vars: Object.fromEntries(unchanging.map((name) => [name, constant(name)])) };

/** Functions of end-to-end tests are sent into pages as text, and find nothing there but what the page has. */
const goesIntoPages = (file) => /[\\/]e2e[\\/]/.test(file);

/** On the first line, so that the lines of mistakes stay what they are. */
function withConstants({ code, map }) {
  const used = unchanging.filter((name) => code.includes(constant(name)));
  if (used.length === 0) return { code, map };
  return { code: `const ${used.map((name) => `${constant(name)} = ${name}`).join(', ')}; ${code}`, map };
}

export default {
  createTransformer({ jsc, ...options }) {
    const plain = swc.createTransformer({ ...options, jsc });
    const quick = swc.createTransformer({
      ...options,
      jsc: { ...jsc, transform: { optimizer: { simplify: false, globals } } },
    });
    return {
      canInstrument: quick.canInstrument,
      getCacheKey: (source, file, ...rest) =>
        `${quick.getCacheKey(source, file, ...rest)} ${goesIntoPages(file) ? 'plain' : 'constants'}`,
      process: (source, file, ...rest) =>
        goesIntoPages(file)
          ? plain.process(source, file, ...rest)
          : withConstants(quick.process(source, file, ...rest)),
      processAsync: async (source, file, ...rest) =>
        goesIntoPages(file)
          ? plain.processAsync(source, file, ...rest)
          : withConstants(await quick.processAsync(source, file, ...rest)),
    };
  },
};
