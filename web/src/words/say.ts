import { createI18n } from 'vue-i18n'
import en from './en.json'

/** Every sentence of the screens: rooms named after the component that says them, and the sentences in each. */
export type Catalogue = typeof en
/** The address of a sentence, such as `signIn.password`; one that is not in the catalogue breaks the build. */
export type Sentence = {
  [Room in keyof Catalogue & string]: `${Room}.${keyof Catalogue[Room] & string}`
}[keyof Catalogue & string]

/** A second language is one more file beside this one, named after its tag. What it does not say is said in English. */
const files = import.meta.glob<Catalogue>('./*.json', { eager: true, import: 'default' })
const messages = Object.fromEntries(
  Object.entries(files).map(([path, words]) => [path.replace(/^.*\/|\.json$/g, ''), words]),
)

/** The first of the browser's languages that there is a catalogue for. */
export const language = navigator.languages.find((tag) => tag in messages) ?? 'en'

/** English without a country writes the month first, and a comma before the last of several; call sheets do not. */
export const region = language === 'en' ? 'en-GB' : language

const FORMS = ['zero', 'one', 'two', 'few', 'many', 'other'] as const

/** Plural forms stand in a sentence in Unicode's order of categories, and only those that the language has. */
function pluralRule(count: number, forms: number): number {
  const has = new Intl.PluralRules(language).resolvedOptions().pluralCategories
  const ordered = FORMS.filter((form) => has.includes(form))
  return Math.min(forms - 1, ordered.indexOf(new Intl.PluralRules(language).select(count)))
}

export const i18n = createI18n({
  legacy: false,
  locale: language,
  fallbackLocale: 'en',
  messages,
  pluralRules: { [language]: pluralRule },
})

/** A sentence in the reader's language. count: of what it speaks, where the sentence has plural forms */
export function t(sentence: Sentence, values: Record<string, string | number> = {}, count?: number): string {
  return count === undefined
    ? i18n.global.t(sentence, values)
    : i18n.global.t(sentence, { n: number(count), ...values }, count)
}

/** A count as people of that language write it, such as 12,034. */
export const number = (count: number): string => new Intl.NumberFormat(language).format(count)

/** Several names in a row. */
export const listed = (names: readonly string[]): string =>
  new Intl.ListFormat(region, { type: 'conjunction' }).format(names)
