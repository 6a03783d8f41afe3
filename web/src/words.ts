import { FluentBundle, FluentResource } from '@fluent/bundle'
import { createFluentVue } from 'fluent-vue'

// The texts of the house, read by the page and by Rust alike: words/<language>/*.ftl.
const files = import.meta.glob<string>('../../words/*/*/*.ftl', { query: '?raw', import: 'default', eager: true })

export const LANGUAGES = ['en', 'de'] as const
export type Language = (typeof LANGUAGES)[number]

function bundleOf(language: Language): FluentBundle {
  const bundle = new FluentBundle(language, { useIsolating: false })
  for (const [path, text] of Object.entries(files)) {
    if (path.includes(`/words/${language}/`)) bundle.addResource(new FluentResource(text))
  }
  return bundle
}

const made = new Map<Language, FluentBundle>()
const bundle = (language: Language): FluentBundle => {
  const known = made.get(language) ?? bundleOf(language)
  made.set(language, known)
  return known
}

export const words = createFluentVue({ bundles: [bundle('en')] })

/** A message in the language that is chosen. */
export const say = words.format

/** How numbers and dates are written: the browser's own way where it speaks that language. */
export const localeOf = (language: Language): string =>
  navigator.languages.find((l) => l.toLowerCase().startsWith(language)) ?? (language === 'de' ? 'de-DE' : 'en-GB')

/** Chooses the language; everything that is shown follows. */
export function speak(language: Language): void {
  words.bundles = language === 'en' ? [bundle('en')] : [bundle(language), bundle('en')]
  document.documentElement.lang = language
}
