import eslint from '@eslint/js';
import angular from 'angular-eslint';
import prettier from 'eslint-config-prettier';
import tseslint from 'typescript-eslint';

// Each package imports only from those above it: docs/architecture.md.
const MAY_USE = {
  core: [],
  formats: ['core'],
  contracts: ['core'],
  demo: ['core', 'contracts'],
  server: ['core', 'formats', 'contracts', 'demo'],
  cli: ['core', 'formats'],
  web: ['core', 'formats', 'contracts'],
};
// Core imports nothing but itself and a time zone library; its tests also what they check against.
const CORE_MAY_NOT = '^(?!\\.|luxon$|dequal/lite$|postcode-validator$|fastest-levenshtein$|fast-check$|iso-3166$|temporal-polyfill$)';
const NODE = ['node:*'];

function boundaries([name, allowed]) {
  const forbidden = Object.keys(MAY_USE)
    .filter((other) => !allowed.includes(other))
    .map((other) => `@relvik/${other}`);
  // What runs in the browser too has no Node and no other packages than its own.
  const inBrowser = ['core', 'contracts', 'web', 'formats'].includes(name) ? NODE : [];
  const message = `packages/${name} may not import this: see docs/architecture.md`;
  return {
    files: [`packages/${name}/src/**/*.ts`],
    // Tests run in Node, whatever they test.
    ...(inBrowser.length > 0 && name !== 'core' ? { ignores: ['**/*.spec.ts', '**/jest-setup.ts'] } : {}),
    rules: {
      // What is taken out of an object so that the rest is left is named and not used.
      '@typescript-eslint/no-unused-vars': ['error', { ignoreRestSiblings: true }],
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            name === 'core' ? { regex: CORE_MAY_NOT, message } : { group: [...forbidden, ...inBrowser], message },
          ],
        },
      ],
    },
  };
}

export default tseslint.config(
  { ignores: ['**/dist/**', '**/*.gen.ts', '**/*.cjs', '**/*.js', '**/*.mjs', '**/.angular/**'] },
  {
    files: ['**/*.ts'],
    extends: [eslint.configs.recommended, ...tseslint.configs.strictTypeChecked, prettier],
    languageOptions: {
      parserOptions: {
        project: ['./tsconfig.check.json', './packages/web/tsconfig.lint.json'],
        tsconfigRootDir: import.meta.dirname,
      },
    },
    rules: {
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      '@typescript-eslint/consistent-type-imports': ['error', { fixStyle: 'inline-type-imports' }],
      '@typescript-eslint/switch-exhaustiveness-check': ['error', { considerDefaultExhaustiveForUnions: true }],
      '@typescript-eslint/no-extraneous-class': 'off',
      '@typescript-eslint/unbound-method': 'off',
      // Rows for TypeORM are plain objects in the shape of their entity.
      '@typescript-eslint/no-unsafe-class-instance-assignment': 'off',
      '@typescript-eslint/no-misused-spread': 'off',
      'no-console': 'error',
    },
  },
  {
    files: ['packages/web/src/**/*.ts'],
    extends: [...angular.configs.tsRecommended],
    processor: angular.processInlineTemplates,
    rules: {
      '@angular-eslint/prefer-on-push-component-change-detection': 'error',
      '@angular-eslint/component-selector': 'off',
      '@angular-eslint/directive-selector': 'off',
    },
  },
  { files: ['packages/web/src/main.ts', 'bench/**/*.ts'], rules: { 'no-console': 'off' } },
  {
    files: ['packages/web/src/**/*.html'],
    extends: [...angular.configs.templateRecommended, ...angular.configs.templateAccessibility],
  },
  {
    files: ['**/*.spec.ts', '**/*.fixture.ts', 'e2e/**', 'bench/**'],
    rules: {
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-unnecessary-condition': 'off',
      '@typescript-eslint/no-confusing-void-expression': 'off',
    },
  },
  ...Object.entries(MAY_USE).map(boundaries),
);
