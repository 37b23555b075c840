/** Sizes, space, lines and colours are named once, in src/theme; a component says which of them it wears. */
export default {
  rules: {
    'unit-disallowed-list': ['px'],
    'color-no-hex': true,
    'color-named': 'never',
    'function-disallowed-list': ['rgb', 'rgba', 'hsl', 'hsla'],
    'no-duplicate-selectors': true,
    'custom-property-no-missing-var-function': true,
  },
  overrides: [
    { files: ['src/**/*.vue'], customSyntax: 'postcss-html' },
    {
      files: ['src/theme/tokens.css', 'src/theme/breakpoints.css'],
      rules: { 'unit-disallowed-list': null, 'color-no-hex': null, 'function-disallowed-list': null },
    },
  ],
}
