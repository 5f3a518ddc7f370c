import pluginVue from 'eslint-plugin-vue'
import tseslint from 'typescript-eslint'

/** The walls of the house: who may import whom. */
const rooms = ['core', 'db', 'server', 'app', 'widget', 'standins', 'demo', 'scripts']
const wall = (room, may) => ({
  files: [`${room}/**/*.{ts,vue}`],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: rooms
          .filter(other => other !== room && !may.includes(other))
          .flatMap(other => [
            {
              group: [`\\#${other}/**`, `**/../${other}/*`, `../${other}/*`, `~~/${other}/*`],
              message: `${room}/ may not import ${other}/: see docs/decisions/0001-walls.md.`,
            },
          ]),
      },
    ],
  },
})

export default tseslint.config(
  { ignores: ['.nuxt', '.output', '.cavlin', 'node_modules', 'public', 'test-results', 'playwright-report', '.bench', '*.tmp.mjs'] },
  ...tseslint.configs.recommended,
  ...pluginVue.configs['flat/recommended'],
  {
    files: ['**/*.vue'],
    languageOptions: { parserOptions: { parser: tseslint.parser } },
    rules: {
      'vue/max-attributes-per-line': 'off',
      'vue/singleline-html-element-content-newline': 'off',
      'vue/multi-word-component-names': 'off',
      'vue/html-self-closing': 'off',
      'vue/multiline-html-element-content-newline': 'off',
      'vue/first-attribute-linebreak': 'off',
      'vue/html-closing-bracket-newline': 'off',
      'vue/html-indent': 'off',
      'vue/attributes-order': 'off',
      'vue/require-default-prop': 'off',
      // As wide as Prettier lays out the scripts; a sentence or an expression within quotes stays whole.
      'vue/max-len': [
        'error',
        { code: 1000, template: 140, ignoreStrings: true, ignoreTemplateLiterals: true, ignoreUrls: true, ignoreHTMLAttributeValues: true },
      ],
    },
  },
  {
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      'no-undef': 'off',
      eqeqeq: ['error', 'smart'],
    },
  },
  wall('core', []),
  wall('db', ['core']),
  wall('server', ['core', 'db']),
  wall('app', ['core']),
  wall('widget', ['core']),
  wall('standins', []),
  wall('demo', ['core']),
)
