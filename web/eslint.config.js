import js from '@eslint/js';
import a11y from 'eslint-plugin-jsx-a11y';
import hooks from 'eslint-plugin-react-hooks';
import ts from 'typescript-eslint';

export default ts.config(
  { ignores: ['dist', 'src/api/schema.d.ts'] },
  js.configs.recommended,
  ...ts.configs.recommendedTypeChecked,
  a11y.flatConfigs.recommended,
  hooks.configs.flat.recommended,
  {
    files: ['src/**/*.{ts,tsx}'],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      'max-len': ['error', { code: 120, ignoreUrls: true }],
      // A component or hook longer than this has parts that have names.
      'max-lines-per-function': ['error', { max: 150 }],
      'no-restricted-syntax': [
        'error',
        {
          selector: 'JSXAttribute[name.name="style"] ObjectExpression',
          message: 'Use a class of the module beside the component; only what is computed comes from common/place.',
        },
      ],
      // A feature has one door: its index.
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              regex: '^(\\.\\./)+(about|contracts|connections|data|flows|runs|settings)/.',
              message: 'Import from the feature’s door, its index.',
            },
          ],
        },
      ],
      // Fields that are to be typed into at once, where nothing else is on the page.
      'jsx-a11y/no-autofocus': 'off',
      'jsx-a11y/label-has-associated-control': ['error', { assert: 'either' }],
      // A dialog waits for the promise of its own button.
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: false }],
      // A part of a page may listen to its keys.
      'jsx-a11y/no-noninteractive-element-interactions': ['error', { handlers: ['onClick', 'onMouseDown'] }],
      // The list of rows in sight is looked at anew each time it is drawn.
      'react-hooks/incompatible-library': 'off',
    },
  },
  { files: ['*.js', '*.ts', 'scripts/**'], extends: [ts.configs.disableTypeChecked] },
);
