import { FluentBundle, FluentNumber, FluentResource, FluentType, type FluentVariable } from '@fluent/bundle'
import { readonly, ref } from 'vue'
import { createFluentVue } from 'fluent-vue'

// The texts of the house, read by the page and by Rust alike: words/<language>/*.ftl.
const texts = {
  en: { first: () => import('./words/en'), rest: () => import('./words/en_rest') },
  de: { first: () => import('./words/de'), rest: () => import('./words/de_rest') },
}

export const LANGUAGES = ['en', 'de'] as const
export type Language = (typeof LANGUAGES)[number]

// No number is grouped: a comma between thousands is a decimal mark to half of those who read it.
class Plain extends FluentBundle {
  override formatPattern(...[pattern, args, errors]: Parameters<FluentBundle['formatPattern']>): string {
    const plain = (value: FluentVariable) =>
      typeof value === 'number' ? new FluentNumber(value, { useGrouping: false }) : value
    const parts = args && Object.fromEntries(Object.entries(args).map(([name, value]) => [name, plain(value)]))
    return super.formatPattern(pattern, parts, errors)
  }
}

/** All texts are there; the first page of a first visit goes with a few. */
let all = false
const spokenAll = ref(false)
/** Everything can be said. */
export const saysAll = readonly(spokenAll)

function learn(bundle: FluentBundle, files: Record<string, string>): void {
  for (const text of Object.values(files)) bundle.addResource(new FluentResource(text))
}

async function bundleOf(language: Language): Promise<FluentBundle> {
  const bundle = new Plain(language, { useIsolating: false })
  const [first, rest] = await Promise.all([texts[language].first(), all ? texts[language].rest() : null])
  learn(bundle, first.default)
  if (rest) learn(bundle, rest.default)
  return bundle
}

const made = new Map<Language, FluentBundle>()

export const words = createFluentVue({ bundles: [] })

/** A message in the language that is chosen. */
export const say = words.format

/** How numbers and dates are written: the browser's own way where it speaks that language. */
export const localeOf = (language: Language): string =>
  navigator.languages.find((l) => l.toLowerCase().startsWith(language)) ?? (language === 'de' ? 'de-DE' : 'en-GB')

const spokenNow = ref<Language>('en')
const spoken = (): Language => spokenNow.value

let wanted: Language = 'en'

/** Chooses the language; everything that is shown follows as soon as its texts are there. */
export async function speak(language: Language): Promise<void> {
  wanted = language
  const bundle = made.get(language) ?? (await bundleOf(language))
  made.set(language, bundle)
  if (wanted !== language) return
  words.bundles = [bundle]
  spokenNow.value = language
  document.documentElement.lang = language
}

const RETRY_MS = 2_000

/** Loads the other texts as well; every page but the first waits for them. */
export async function speakAll(): Promise<void> {
  if (all) return
  all = true
  made.clear()
  try {
    await speak(wanted)
    spokenAll.value = true
  } catch {
    // The network went between the first page and the next: once more, until it is there.
    all = false
    setTimeout(() => void speakAll(), RETRY_MS)
  }
}

/** A message as the rules send it: which one, and its arguments. It says itself in the language that is chosen. */
export interface Text {
  say: string
  [argument: string]: unknown
}

// A value of Fluent, so that a message may be an argument of another.
class Message extends FluentType<unknown> {
  declare say: string;
  [argument: string]: unknown

  constructor(parts: object) {
    super(null)
    delete (this as { value?: unknown }).value
    Object.assign(this, parts)
  }

  toString(): string {
    if (this.say === 'verbatim') return shown(this.words)
    // What a person wrote in several languages; as it was written where this one has nothing.
    if (this.say === 'told') return shown(this[spoken()] ?? this.words)
    const parts: Record<string, string | number> = {}
    for (const [name, value] of Object.entries(this)) {
      if (name === 'say') continue
      parts[name] = typeof value === 'number' ? value : shown(value)
    }
    return say(this.say, parts)
  }
}

const BETWEEN: Record<string, string> = { nothing: '', space: ' ', comma: ', ', semicolon: '; ' }

/** A figure, also with its unit, as the language writes it: its decimal sign. */
export const figure = (text: string): string => (spoken() === 'de' ? text.replace(/(?<=\d)\.(?=\d)/g, ',') : text)

/** An argument as a person reads it. */
function shown(value: unknown): string {
  if (typeof value === 'string') return value
  if (typeof value === 'number') return String(value)
  if (typeof value !== 'object' || value === null) return ''
  const parts = value as Record<string, unknown>
  if (value instanceof Message) return value.toString()
  if (typeof parts.number === 'string') return figure(parts.number)
  if (typeof parts.value === 'string') return `${figure(parts.value)} ${String(parts.unit)}`
  if (typeof parts.day === 'string') return spoken() === 'de' ? parts.day.split('-').reverse().join('.') : parts.day
  if ('inside' in parts) return spoken() === 'en' ? shown(parts.inside).toLowerCase() : shown(parts.inside)
  if ('first' in parts) return shown(parts.first).replace(/^./u, (letter) => letter.toUpperCase())
  if (Array.isArray(parts.list)) {
    const between = String(parts.between)
    return parts.list.map(shown).join(BETWEEN[between] ?? say('common-and-between'))
  }
  return ''
}

/** What came from the server, with every message in it able to say itself. */
export function revived<T>(value: T): T {
  if (Array.isArray(value)) return value.map(revived) as T
  if (typeof value !== 'object' || value === null) return value
  const parts = Object.fromEntries(Object.entries(value).map(([name, part]) => [name, revived(part)]))
  return (typeof parts.say === 'string' ? new Message(parts) : parts) as T
}

/** A message of the page itself, as a message of the rules. */
export const message = (key: string): Text => new Message({ say: key }) as unknown as Text

/** Words that are the same in every language, as a message. */
export const verbatim = (words: string): Text => new Message({ say: 'verbatim', words }) as unknown as Text
