import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  { ignores: ['node_modules/', '.next/', 'dist/', 'next-env.d.ts', 'coverage/', 'demo-data/', '.tmp/'] },
  ...tseslint.configs.recommended,
  {
    files: ['**/*.ts', '**/*.tsx'],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: { attributes: false } }],
      '@typescript-eslint/await-thenable': 'error',
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/consistent-type-imports': [
        'error',
        { fixStyle: 'inline-type-imports', prefer: 'type-imports', disallowTypeAnnotations: false },
      ],
    },
  },
  {
    files: ['src/ui/**/*.tsx', 'src/ui/**/*.ts', 'src/app/**/*.tsx'],
    plugins: { 'react-hooks': hooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
  {
    files: ['src/**/*.ts', 'src/**/*.tsx'],
    ignores: ['src/app/**', '**/*.d.ts'],
    rules: {
      'no-restricted-syntax': ['error', { selector: 'ExportDefaultDeclaration', message: 'Name what you export.' }],
    },
  },
  {
    // one look and one behaviour for everything that is pressed, filled in and pointed at; the drawings and the cells of the
    // virtual table draw thousands of their own
    files: ['src/ui/**/*.tsx'],
    ignores: [
      'src/ui/components/table/CellHint.tsx',
      'src/ui/components/pictures/*.tsx',
      'src/ui/map/MapCanvas.tsx',
      'src/ui/map/hosts/LadderDrawing.tsx',
      'src/ui/ports/Faceplate.tsx',
      'src/ui/ports/floor/PlanCanvas.tsx',
      'src/ui/features/dossier/BayPicture.tsx',
      'src/ui/frame/TimeStrip.tsx',
    ],
    rules: {
      'no-restricted-syntax': [
        'error',
        { selector: 'ExportDefaultDeclaration', message: 'Name what you export.' },
        {
          selector: 'JSXOpeningElement[name.name=/^(button|input|select|textarea)$/]',
          message:
            'Use what src/ui/components has for it: TextButton, PlainButton, PlainInput, PlainSelect, CheckBox, Choices, form/*.',
        },
        {
          selector: 'JSXOpeningElement[name.name=/^[a-z]/] > JSXAttribute[name.name="title"]',
          message: 'Say more with <Hint words=…>: it works by keyboard too.',
        },
      ],
    },
  },
  {
    files: ['**/*.cjs'],
    rules: { '@typescript-eslint/no-require-imports': 'off' },
    languageOptions: { globals: { module: 'writable' } },
  },
);
