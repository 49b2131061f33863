import hooks from 'eslint-plugin-react-hooks';
import globals from 'globals';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  { ignores: ['**/dist/', '.tsc/', '.data/', '**/*.cjs', 'test-results/', 'apps/server/test/*.mjs'] },
  ...tseslint.configs.strictTypeChecked,
  {
    languageOptions: {
      parserOptions: {
        projectService: { allowDefaultProject: ['*.mjs', 'apps/web/vite.config.ts'] },
        tsconfigRootDir: import.meta.dirname,
      },
    },
    rules: {
      'no-control-regex': 'error',
      '@typescript-eslint/consistent-type-imports': ['error', { disallowTypeAnnotations: false }],
      '@typescript-eslint/no-explicit-any': 'error',
      // Numbers and booleans in sentences are what templates are for.
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true, allowBoolean: true }],
      '@typescript-eslint/no-confusing-void-expression': ['error', { ignoreArrowShorthand: true }],
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_', ignoreRestSiblings: true },
      ],
      // Nest modules and controllers are classes by the framework's design.
      '@typescript-eslint/no-extraneous-class': ['error', { allowWithDecorator: true }],
      // Options and rows are plain objects by design of the framework and of TypeORM.
      '@typescript-eslint/no-unsafe-class-instance-assignment': 'off',
      eqeqeq: ['error', 'always', { null: 'ignore' }],
    },
  },
  {
    files: ['apps/web/**/*.{ts,tsx}'],
    ...hooks.configs.flat['recommended-latest'],
    languageOptions: { globals: globals.browser },
  },
  { files: ['**/*.{mjs,js}'], ...tseslint.configs.disableTypeChecked },
  { files: ['**/*.{mjs,js}'], languageOptions: { globals: globals.node } },
  {
    files: ['**/*.test.ts', '**/test/**/*.ts', 'e2e/**/*.ts', 'bench/**/*.ts'],
    rules: {
      '@typescript-eslint/no-non-null-assertion': 'off',
      // Answers of the server are read as what the test expects of them.
      '@typescript-eslint/no-unsafe-assignment': 'off',
      '@typescript-eslint/no-unsafe-member-access': 'off',
    },
  },
);
