<script setup lang="ts">
import Button from 'primevue/button'
import { v7 as uuidv7 } from 'uuid'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { Failure } from '../api/client'
import { checkProfile, keepProfile, useProfile } from '../api/profiles'
import type { ProfileChecked } from '../api/types'
import RefusalNote from '../ui/RefusalNote.vue'
import VirtualIndicator from './VirtualIndicator.vue'
import { session } from '../state/session'
import { useTried } from '../state/tried'
import { useTyped } from '../state/typed'
import KeyMoves from './KeyMoves.vue'
import starter from './starter.toml?raw'

const props = defineProps<{ profile?: string }>()
const router = useRouter()
const { data, error } = useProfile(() => props.profile)
const works = computed(() => session.has('technician'))
// What is typed is kept until it is saved, also across a reload.
const text = useTyped(
  () => `profile.${props.profile ?? 'new'}`,
  () => (props.profile ? (data.value?.text ?? '') : starter),
)
watch(
  data,
  (now) => {
    if (now && !text.value) text.value = now.text
  },
  { immediate: true },
)
const checked = ref<ProfileChecked | null>(null)
const { failure, busy, tried } = useTried()
const changed = computed(() => text.value !== (data.value?.text ?? starter))

let timer: ReturnType<typeof setTimeout> | undefined
watch(
  text,
  (now) => {
    clearTimeout(timer)
    timer = setTimeout(() => void check(now), 150)
  },
  { immediate: true },
)
async function check(asked: string): Promise<void> {
  if (!asked) return
  try {
    const told = await checkProfile(asked)
    if (asked === text.value) checked.value = told
    failure.value = null
  } catch (told) {
    if (told instanceof Failure) failure.value = told
  }
}
async function keep(): Promise<void> {
  await tried(async () => {
    const kept = await keepProfile({
      id: data.value?.id ?? uuidv7(),
      text: text.value,
      edition: data.value?.edition ?? 0,
    })
    if (!props.profile) {
      text.value = starter
      await router.replace({ name: 'profile', params: { profile: kept.id } })
    }
  })
}
function toLine(line: number): void {
  const area = document.getElementById('profile-text') as HTMLTextAreaElement | null
  if (!area) return
  const before = text.value.split('\n').slice(0, line - 1)
  const from = before.reduce((sum, l) => sum + l.length + 1, 0)
  area.focus()
  area.setSelectionRange(from, from + (text.value.split('\n')[line - 1]?.length ?? 0))
  area.scrollTop = (line - 4) * 20
}
// What a span of the sample is captured with.
const spanWeight = computed(() => {
  const acts = checked.value?.sample?.steps.find((s) => s.phase === 'span' && s.platform)?.acts ?? []
  const load = acts.find((a) => a.act === 'load')
  return load?.act === 'load' ? String(load.what) : undefined
})
</script>

<template>
  <main id="main" class="desk">
    <p v-if="error" class="note note-wrong" role="alert">{{ error.message }}</p>
    <section class="left stack tight">
      <div class="row">
        <h1>{{ checked?.profile?.name ?? data?.name ?? $t('common-new-profile') }}</h1>
        <span v-if="data" class="quiet figure">{{
          $t('profile-edition-edition', { edition: data.edition })
        }}</span><span class="push"></span
        ><a v-if="data" class="btn btn-bare" :href="`/api/profiles/${data.id}/file`" download>{{
          $t('profile-file')
        }}</a
        ><RouterLink class="btn btn-bare" :to="{ name: 'profiles' }">{{ $t('profile-all-profiles') }}</RouterLink>
      </div>
      <label for="profile-text" class="sr-only">{{ $t('profile-the-profile-s-text') }}</label>
      <textarea
        id="profile-text"
        v-model="text"
        class="input figure"
        spellcheck="false"
        :readonly="!works"
        :aria-invalid="Boolean(checked?.problems.length)"
      ></textarea>
      <RefusalNote :failure="failure" />
      <ul v-if="checked?.problems.length" class="note note-wrong" data-testid="problems" role="alert">
        <li v-for="p in checked.problems" :key="`${p.line}${p.says}`">
          <button type="button" class="line figure" @click="toLine(p.line)">
            {{ $t('profile-line-line', { line: p.line }) }}
          </button>
          {{ p.says }}
        </li>
      </ul>
      <div v-if="works" class="row">
        <Button
          type="button"
          :class="changed || !data ? 'btn-next' : ''"
          :disabled="busy || Boolean(checked?.problems.length) || (Boolean(data) && !changed)"
          @click="keep"
          >{{ data ? $t('profile-keep-as-a-new-edition') : $t('profile-keep-the-profile') }}</Button><span
          v-if="checked && !checked.problems.length"
          class="quiet"
          role="status"
          >{{
            data && !changed ? $t('profile-nothing-is-wrong-with-it-2') : $t('profile-nothing-is-wrong-with-it')
          }}</span
        ><span v-else-if="checked" class="quiet">{{ $t('profile-put-the-lines-above-right') }}</span>
      </div>
    </section>
    <section v-if="checked?.profile" class="preview stack">
      <h2>{{ $t('profile-try-it') }}</h2>
      <VirtualIndicator :profile="checked.profile" :what="{ text }" :weight="spanWeight" />
      <template v-if="checked.sample">
        <h2>
          {{ $t('profile-a-sheet-made-from-it') }}
          <span class="small quiet figure">{{
            $t('keying-presses-presses-naive-without-thinking', {
              presses: checked.sample.presses,
              naive: checked.sample.naive,
            })
          }}</span>
        </h2>
        <ol class="steps">
          <li v-for="s in checked.sample.steps" :key="s.number">
            <p>
              <span class="figure quiet">{{ s.number }}</span> <strong>{{ s.title }}</strong>
            </p>
            <KeyMoves :step="s" />
          </li>
        </ol>
      </template>
      <p v-else class="quiet">{{ $t('profile-none-of-the-sample-plans') }}</p>
    </section>
    <p v-else class="preview quiet">{{ $t('profile-the-preview-comes-when-nothing') }}</p>
  </main>
</template>

<style scoped>
.desk {
  display: grid;
  grid-template-columns: minmax(0, 1.1fr) minmax(0, 1fr);
  flex: 1;
  min-height: 0;
}
.left {
  padding: 1rem 1.25rem;
}
.preview {
  padding: 1rem 1.25rem;
  border-left: 1px solid var(--rule);
  background: var(--sheet);
  overflow: auto;
  max-height: calc(100vh - 3.2rem);
}
textarea.input {
  flex: 1;
  min-height: 26rem;
  height: calc(100vh - 15rem);
  font-family: var(--figure);
  white-space: pre;
  overflow: auto;
  font-size: 0.875rem;
  line-height: 20px;
  resize: none;
}
.line {
  font: inherit;
  background: none;
  border: none;
  text-decoration: underline;
  cursor: pointer;
  color: inherit;
  min-height: 1.9rem;
}
.steps {
  display: flex;
  flex-direction: column;
  gap: 0.8rem;
}
@media (max-width: 56rem) {
  .desk {
    grid-template-columns: 1fr;
  }
  .preview {
    border-left: none;
    border-top: 1px solid var(--rule);
    max-height: none;
  }
}
</style>
