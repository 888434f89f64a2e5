import js from '@eslint/js';
import astro from 'eslint-plugin-astro';
import a11y from 'eslint-plugin-jsx-a11y';
import hooks from 'eslint-plugin-react-hooks';
import globals from 'globals';
import ts from 'typescript-eslint';

export default ts.config(
  { ignores: ['dist', 'packages/*/dist', '.astro', '.run', 'node_modules', 'test-results', 'playwright-report'] },
  js.configs.recommended,
  ...ts.configs.strict,
  ...astro.configs.recommended,
  { languageOptions: { globals: { ...globals.node, ...globals.browser } } },
  {
    rules: {
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-invalid-void-type': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/consistent-type-imports': ['error', { prefer: 'type-imports', fixStyle: 'inline-type-imports' }],
    },
  },
  {
    // What runs for users; types of the tests are checked by the compiler, and a lint of them by types would double the time.
    files: ['src/**/*.{ts,tsx}', 'packages/*/src/**/*.ts', 'ops/**/*.ts'],
    extends: [ts.configs.strictTypeCheckedOnly],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/switch-exhaustiveness-check': ['error', { considerDefaultExhaustiveForUnions: true }],
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      // A matter of style, which costs more lines than it makes clear.
      '@typescript-eslint/no-confusing-void-expression': 'off',
      '@typescript-eslint/no-unnecessary-type-parameters': 'off',
      '@typescript-eslint/no-generated-empty-object-type': 'off',
      // What is stored or sent may lack what its type has; those places look all the same.
      '@typescript-eslint/no-unnecessary-condition': 'off',
      '@typescript-eslint/no-meaningless-void-operator': 'off',
      // The faces of checks, formats and gates are written as methods, so that their params may be narrower; none uses `this`.
      '@typescript-eslint/unbound-method': 'off',
      // A quarter of the time, for enums and assigned class instances, of which there are none or one.
      '@typescript-eslint/no-unsafe-enum-assignment': 'off',
      '@typescript-eslint/no-unsafe-class-instance-assignment': 'off',
      // A fifth of the time, for what the release notes of a package say.
      '@typescript-eslint/no-deprecated': 'off',
    },
  },
  {
    files: ['src/islands/**', 'src/ui/**', 'src/stand-ins/**'],
    extends: [hooks.configs.flat.recommended, a11y.flatConfigs.recommended],
    rules: {
      // The virtual list gives functions that a compiler cannot remember; there is no compiler here.
      'react-hooks/incompatible-library': 'off',
      // The field that somebody asked for by opening it takes the focus; nothing takes it on its own.
      'jsx-a11y/no-autofocus': 'off',
      'jsx-a11y/label-has-associated-control': ['error', { controlComponents: ['Kept'], depth: 3 }],
      // What scrolls is reached by the keyboard.
      'jsx-a11y/no-noninteractive-tabindex': 'off',
    },
  },
  {
    // Time and randomness come into the core as arguments.
    files: ['src/core/**'],
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector: "CallExpression[callee.object.name='Date'][callee.property.name='now']",
          message: 'The core has no clock: take the time as an argument.',
        },
        {
          selector: "NewExpression[callee.name='Date'][arguments.length=0]",
          message: 'The core has no clock: take the time as an argument.',
        },
        {
          selector: "MemberExpression[object.name='Math'][property.name='random']",
          message: 'The core has no randomness: take it as an argument.',
        },
      ],
    },
  },
);
