import words from '@intlify/eslint-plugin-vue-i18n'
import vue from 'eslint-plugin-vue'
import tseslint from 'typescript-eslint'

export default tseslint.config(
  { ignores: ['dist', 'src/api/schema.d.ts'] },
  ...tseslint.configs.strict,
  ...vue.configs['flat/recommended'],
  {
    files: ['**/*.vue'],
    languageOptions: { parserOptions: { parser: tseslint.parser } },
  },
  {
    files: ['src/places/**', 'src/parts/**', 'src/shell/**', 'src/marks/**'],
    rules: {
      // what a screen asks and does stands in api/queries and api/acts
      '@typescript-eslint/no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              group: ['**/api/client'],
              allowTypeImports: true,
              message: 'Ask through api/queries, act through api/acts.',
            },
          ],
        },
      ],
    },
  },
  ...words.configs.base,
  {
    files: ['src/**/*.{vue,ts}'],
    // the page of parts is for developers, and says nothing to users
    ignores: ['src/theme/PartsPage.vue'],
    settings: { 'vue-i18n': { localeDir: './src/words/*.json', messageSyntaxVersion: '^11.0.0' } },
    rules: {
      // every sentence stands in the catalogue; the type of `t` sees to it that each that is asked for is there
      '@intlify/vue-i18n/no-raw-text': [
        'error',
        {
          ignorePattern: '^[^A-Za-z]*$',
          ignoreNodes: ['code'],
          ignoreText: ['Rugged Raft'],
          attributes: { '/.+/': ['label', 'title', 'aria-label', 'placeholder', 'alt', 'words', 'empty'] },
        },
      ],
      '@intlify/vue-i18n/no-missing-keys': 'error',
    },
  },
  {
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      'vue/no-v-html': 'error',
      // Prettier lays the templates out
      'vue/max-attributes-per-line': 'off',
      'vue/singleline-html-element-content-newline': 'off',
      'vue/html-self-closing': 'off',
      'vue/html-indent': 'off',
      'vue/html-closing-bracket-newline': 'off',
      'vue/multiline-html-element-content-newline': 'off',
      'vue/first-attribute-linebreak': 'off',
    },
  },
)
