import { onBeforeUnmount, onMounted } from 'vue'

/** What stands in the way of a key: a field in which it would be a character of its own. */
type Besides = 'fields' | 'texts' | 'nothing'

interface Stroke {
  /** The keys themselves, as the browser names them. */
  keys: readonly string[]
  /** As they stand in the list, where that is not the keys one after the other. */
  label?: string
  says: string
  alt?: boolean
  /** `fields`: not in any field. `texts`: a field for a figure has no use for it. */
  besides: Besides
}

// The one map of keys: what answers to a key asks for it by its name, and the list shows them all.
const map = {
  next: {
    keys: ['Enter'],
    label: 'common-enter',
    says: 'shortcut-list-the-next-action-the-filled',
    besides: 'nothing',
  },
  finding: { keys: ['1', '2', '3'], says: 'shortcut-list-at-the-checklist-in-order', besides: 'fields' },
  direction: { keys: ['*'], says: 'shortcut-list-at-a-reading-going-up', besides: 'texts' },
  run: { keys: ['+'], says: 'shortcut-list-at-a-live-reading-take', besides: 'texts' },
  part: { keys: ['/'], says: 'shortcut-list-next-part-of-a-check', besides: 'texts' },
  stage: {
    keys: ['1', '2', '3', '4', '5', '6'],
    label: 'shortcut-list-alt-1-6',
    says: 'shortcut-list-go-to-a-stage',
    alt: true,
    besides: 'nothing',
  },
  display: { keys: ['d'], says: 'shortcut-list-in-a-job-what-does', besides: 'fields' },
  search: { keys: ['/'], says: 'shortcut-list-search-in-a-list', besides: 'fields' },
  close: {
    keys: ['Escape'],
    label: 'shortcut-list-esc',
    says: 'shortcut-list-close-what-lies-on-top',
    besides: 'nothing',
  },
  list: { keys: ['?'], says: 'shortcut-list-this-list', besides: 'fields' },
} as const satisfies Record<string, Stroke>

/** A key by what it does. Enter and Esc are the browser's own and are listed only. */
export type StrokeName = Exclude<keyof typeof map, 'next' | 'close'>

/** Every key with what it does, for the list. */
export const strokes: readonly Stroke[] = Object.values(map)

function standsInTheWay(besides: Besides, at: EventTarget | null): boolean {
  if (besides === 'nothing' || !(at instanceof HTMLElement)) return false
  const field = at.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(at.tagName)
  if (besides === 'texts')
    return field && !(at instanceof HTMLInputElement && ['decimal', 'numeric'].includes(at.inputMode))
  return field
}

/** Does something at a key while the component stands; `false`: it has no use for it now, and the key stays a key. */
export function onKey(name: StrokeName, does: (key: string) => unknown): void {
  const stroke: Stroke = map[name]
  function pressed(event: KeyboardEvent): void {
    const modified = event.ctrlKey || event.metaKey || event.altKey !== Boolean(stroke.alt)
    if (modified || !stroke.keys.includes(event.key) || standsInTheWay(stroke.besides, event.target)) return
    if (does(event.key) !== false) event.preventDefault()
  }
  onMounted(() => addEventListener('keydown', pressed))
  onBeforeUnmount(() => removeEventListener('keydown', pressed))
}
