import next from 'eslint-config-next/core-web-vitals';
import nextTypescript from 'eslint-config-next/typescript';

/** Layers, lowest first. A folder may import its own layer and those below it. */
const zones = [
  {
    target: './src/core',
    from: ['./src/bridge', './src/engine', './src/page', './src/data', './src/ui', './src/app'],
  },
  { target: './src/bridge', from: ['./src/engine', './src/page', './src/data', './src/ui', './src/app'] },
  { target: './src/engine', from: ['./src/bridge', './src/page', './src/data', './src/ui', './src/app'] },
  // A page carries what it needs to draw, and nothing of the control window.
  { target: './src/page', from: ['./src/bridge', './src/data', './src/ui', './src/app'] },
  { target: './src/data', from: ['./src/bridge', './src/engine', './src/page', './src/ui', './src/app'] },
  { target: './src/ui', from: ['./src/bridge', './src/page', './src/app'] },
  { target: './src/app', from: ['./src/bridge', './src/page'] },
].flatMap(({ target, from }) =>
  from.map((f) => ({ target, from: f, message: 'Layers point one way: see docs/architecture.md.' })),
);

const config = [
  {
    ignores: [
      'node_modules/',
      '.next/',
      'public/',
      '.data/',
      '.cache/',
      'next-env.d.ts',
      'coverage/',
      'src/core/kernels/assembly/',
    ],
  },
  ...next,
  ...nextTypescript,
  {
    files: ['src/**/*.{ts,tsx}'],
    settings: { 'import/resolver': { typescript: true, node: true } },
    rules: {
      'import/no-restricted-paths': ['error', { zones }],
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/no-non-null-assertion': 'off',
    },
  },
  {
    files: ['src/**/*.{ts,tsx}'],
    ignores: ['src/core/**'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              regex: '(^|/)core/[^/]+/',
              message:
                'A folder of src/core is used by its face: import from its index, and say there what it gives.',
            },
          ],
        },
      ],
    },
  },
  {
    // Where it is computed and carried, a name that hides another has already been a fault that nothing else saw.
    files: ['src/{core,engine,bridge}/**/*.ts'],
    rules: { '@typescript-eslint/no-shadow': 'error' },
  },
  {
    files: ['src/core/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              group: ['node:*', 'react', 'react-*', '@mui/*', 'three', 'next', 'next/*', 'dexie', 'ws'],
              message: 'src/core is pure: no interface, no Node, no drawing library.',
            },
          ],
        },
      ],
      'no-restricted-globals': [
        'error',
        'window',
        'document',
        'self',
        'navigator',
        'performance',
        'process',
        'Buffer',
        'setTimeout',
        'setInterval',
        'requestAnimationFrame',
        'localStorage',
        'fetch',
        'Date',
        'crypto',
      ],
      'no-restricted-properties': [
        'error',
        { object: 'Math', property: 'random', message: 'Randomness arrives as a seed.' },
      ],
    },
  },
  {
    // These are rules of the React compiler, which is not used here: per-frame drawing reuses its scratch arrays on purpose.
    rules: {
      'react-hooks/purity': 'off',
      'react-hooks/refs': 'off',
      'react-hooks/immutability': 'off',
      'react-hooks/incompatible-library': 'off',
      'react-hooks/preserve-manual-memoization': 'off',
      'react-hooks/exhaustive-deps': 'error',
      'no-console': ['error', { allow: ['error', 'warn'] }],
    },
  },
  {
    files: ['scripts/**', 'e2e/**', 'src/bridge/main.ts', 'src/bridge/relay/main.ts'],
    rules: { 'no-console': 'off' },
  },
];
export default config;
