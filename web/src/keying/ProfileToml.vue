<script setup lang="ts">
import { basicSetup } from 'codemirror'
import { EditorView } from '@codemirror/view'
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'
import type { ProfileProblem } from '../api/types'
import { say } from '../words'
import { markProblems, sections, tomlEditing } from './toml'

// The profile's text, for whoever writes TOML.
const text = defineModel<string>({ required: true })
const props = defineProps<{ line: number; problems: ProfileProblem[]; readonly: boolean }>()
const place = ref<HTMLElement | null>(null)
let view: EditorView | null = null
let shown = 0

/** To the line that is asked for, once it is there. */
function toLine(): void {
  if (props.line === 0) shown = 0
  if (!view || props.line === shown || props.line < 1 || props.line > view.state.doc.lines) return
  shown = props.line
  const { from, to } = view.state.doc.line(props.line)
  view.dispatch({ selection: { anchor: from, head: to }, effects: EditorView.scrollIntoView(from, { y: 'center' }) })
  view.focus()
}
onMounted(() => {
  if (!place.value) return
  view = new EditorView({
    parent: place.value,
    doc: text.value,
    extensions: [
      basicSetup,
      tomlEditing(props.readonly),
      EditorView.contentAttributes.of({ id: 'profile-text', 'aria-label': say('profile-the-profile-s-text') }),
      EditorView.updateListener.of((update) => {
        if (update.docChanged) text.value = update.state.doc.toString()
      }),
    ],
  })
  markProblems(view, props.problems)
  toLine()
})
watch(text, (now) => {
  if (!view || view.state.doc.toString() === now) return
  view.dispatch({ changes: { from: 0, to: view.state.doc.length, insert: now } })
  toLine()
})
watch(
  () => props.problems,
  (now) => {
    if (view) markProblems(view, now)
  },
)
watch(() => props.line, toLine)
onBeforeUnmount(() => view?.destroy())
</script>

<template>
  <div ref="place" class="text"></div>
  <details>
    <summary class="opens">{{ $t('profile-toml-what-may-stand') }}</summary>
    <dl class="small" lang="en">
      <template v-for="s in sections" :key="s.head">
        <dt class="head figure">
          {{ s.head }} <span class="quiet">{{ s.says }}</span>
        </dt>
        <dd v-for="f in s.fields" :key="f.name">
          <span class="figure">{{ f.name }}</span> {{ f.says }}
          <span v-if="f.values.length" class="quiet figure">{{ f.values.join(', ') }}</span>
        </dd>
      </template>
    </dl>
  </details>
</template>

<style scoped>
.text {
  border: 1px solid var(--rule);
  background: var(--sheet);
}
.text :deep(.cm-editor) {
  height: calc(100vh - 19rem);
  min-height: 24rem;
}
.text :deep(.cm-scroller) {
  font-family: var(--figure);
  font-size: 0.875rem;
  line-height: 20px;
}
.text :deep(.cm-gutters) {
  background: var(--paper);
  color: var(--ink-2);
  border-right: 1px solid var(--rule);
}
.text :deep(.cm-content),
.text :deep(.cm-tooltip) {
  color: var(--ink);
  caret-color: var(--ink);
}
.text :deep(.cm-tooltip) {
  background: var(--paper);
}
.text :deep(.cm-activeLine),
.text :deep(.cm-activeLineGutter) {
  background: transparent;
}
.head {
  padding-top: 0.5rem;
}
</style>
