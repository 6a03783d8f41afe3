import { onBeforeUnmount, onMounted } from 'vue'

/** Where a key is a character like any other and does nothing: in every field, in those for words, nowhere. */
type NotIn = 'fields' | 'texts' | 'nothing'

interface Stroke {
  /** The keys themselves, as the browser names them. */
  keys: readonly string[]
  /** As they stand in the list, where that is not the keys one after the other. */
  label?: string
  says: string
  alt?: boolean
  notIn: NotIn
}

// The one map of keys: what answers to a key asks for it by its name, and the list shows them all.
const map = {
  next: {
    keys: ['Enter'],
    label: 'common-enter',
    says: 'shortcut-list-the-next-action-the-filled',
    notIn: 'nothing',
  },
  finding: { keys: ['1', '2', '3'], says: 'shortcut-list-at-the-checklist-in-order', notIn: 'fields' },
  direction: { keys: ['*'], says: 'shortcut-list-at-a-reading-going-up', notIn: 'texts' },
  run: { keys: ['+'], says: 'shortcut-list-at-a-live-reading-take', notIn: 'texts' },
  part: { keys: ['/'], says: 'shortcut-list-next-part-of-a-check', notIn: 'texts' },
  stage: {
    keys: ['1', '2', '3', '4', '5', '6'],
    label: 'shortcut-list-alt-1-6',
    says: 'shortcut-list-go-to-a-stage',
    alt: true,
    notIn: 'nothing',
  },
  display: { keys: ['d'], says: 'shortcut-list-in-a-job-what-does', notIn: 'fields' },
  search: { keys: ['/'], says: 'shortcut-list-search-in-a-list', notIn: 'fields' },
  close: {
    keys: ['Escape'],
    label: 'shortcut-list-esc',
    says: 'shortcut-list-close-what-lies-on-top',
    notIn: 'nothing',
  },
  list: { keys: ['?'], says: 'shortcut-list-this-list', notIn: 'fields' },
} as const satisfies Record<string, Stroke>

/** A key by what it does. Enter and Esc are the browser's own and are listed only. */
export type StrokeName = Exclude<keyof typeof map, 'next' | 'close'>

/** Every key with what it does, for the list. */
export const strokes: readonly Stroke[] = Object.values(map)

function standsInTheWay(notIn: NotIn, at: EventTarget | null): boolean {
  if (notIn === 'nothing' || !(at instanceof HTMLElement)) return false
  const field = at.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(at.tagName)
  if (notIn === 'texts')
    return field && !(at instanceof HTMLInputElement && ['decimal', 'numeric'].includes(at.inputMode))
  return field
}

/** Does something at a key while the component stands; `false`: it has no use for it now, and the key stays a key. */
export function onKey(name: StrokeName, does: (key: string) => unknown): void {
  const stroke: Stroke = map[name]
  function pressed(event: KeyboardEvent): void {
    const modified = event.ctrlKey || event.metaKey || event.altKey !== Boolean(stroke.alt)
    if (modified || !stroke.keys.includes(event.key) || standsInTheWay(stroke.notIn, event.target)) return
    if (does(event.key) !== false) event.preventDefault()
  }
  onMounted(() => addEventListener('keydown', pressed))
  onBeforeUnmount(() => removeEventListener('keydown', pressed))
}
