import js from '@eslint/js';
import hooks from 'eslint-plugin-react-hooks';
import ts from 'typescript-eslint';

const stations = ['scene', 'shots', 'board', 'run', 'review'];

export default ts.config(
  { ignores: ['target', 'node_modules', 'src/api/schema.d.ts'] },
  js.configs.recommended,
  ...ts.configs.strict,
  { plugins: { 'react-hooks': hooks }, rules: hooks.configs.recommended.rules },
  { rules: { '@typescript-eslint/no-non-null-assertion': 'off' } },
  // A station imports no other station.
  ...stations.map((station) => ({
    files: [`src/${station}/**`],
    rules: {
      'no-restricted-imports': [
        'error',
        { patterns: stations.filter((s) => s !== station).map((s) => `**/${s}/*`) },
      ],
    },
  })),
);
