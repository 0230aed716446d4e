/** Who may import whom. `core` nothing of ours; each layer only what stands left of it in the flow. Tests may bring in any layer: they stand outside. */
const layer = (name, allowed) => ({
  name: `${name}-imports`,
  severity: 'error',
  comment: `${name} may import ${['itself', ...allowed].join(', ')}`,
  from: { path: `^src/${name}/`, pathNot: '\\.test\\.ts$' },
  to: { path: '^src/', pathNot: [name, ...allowed].map((other) => `^src/${other}/`) },
});

/** Within the interface: what stands left is known to what stands right of it, never the other way. */
const screens = 'begin|entry|estate|firmware|ledger|map|ports|print|settings|survey|today';
const inside = (name, pattern, allowed) => ({
  name: `ui-${name}-imports`,
  severity: 'error',
  comment: `of the interface ${name} may import ${['itself', ...allowed].join(', ')}`,
  from: { path: pattern },
  to: { path: '^src/ui/', pathNot: [pattern, ...allowed.map((other) => `^src/ui/${other}/`)] },
});

module.exports = {
  forbidden: [
    inside('lib', '^src/ui/lib/', []),
    inside('components', '^src/ui/components/', ['lib']),
    inside('features', '^src/ui/features/', ['lib', 'components']),
    {
      name: 'ui-workspaces-apart',
      severity: 'error',
      comment: 'a workspace imports no other: what two of them use is a feature',
      from: { path: `^src/ui/(${screens})/` },
      to: { path: '^src/ui/', pathNot: ['^src/ui/$1/', '^src/ui/(lib|components|features|theme)/'] },
    },
    {
      name: 'nobody-imports-the-frame',
      severity: 'error',
      from: { path: '^src/ui/', pathNot: '^src/ui/frame/' },
      to: { path: '^src/ui/frame/' },
    },
    layer('core', []),
    layer('store', ['core']),
    layer('deliver', ['core']),
    layer('collect', ['core', 'store']),
    layer('server', ['core', 'store', 'deliver']),
    layer('app', ['server', 'ui']),
    layer('ui', ['core']),
    layer('sim', ['core/values']),
    {
      name: 'core-is-pure',
      severity: 'error',
      comment: 'core knows neither interface, disk, network nor clock',
      from: { path: '^src/core/', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'core-has-no-heavy-packages',
      severity: 'error',
      comment: 'core may use small libraries of values and validation only',
      from: { path: '^src/core/', pathNot: '\\.test\\.ts$' },
      to: {
        path: 'node_modules/',
        pathNot: 'node_modules/(ipaddr\\.js|yup|d3[a-z-]*|fast-deep-equal|re2js|ical\\.js)/',
      },
    },
    { name: 'no-cycles', severity: 'error', from: {}, to: { circular: true } },
  ],
  options: {
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
    doNotFollow: { path: 'node_modules' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'require', 'node', 'default', 'types'],
    },
  },
};
