<script setup lang="ts">
import { say } from '../words'
import Button from 'primevue/button'
import { v7 as uuidv7 } from 'uuid'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { beginLesson, keepLesson, throwPracticeAway, useLessons } from '../api/practice'
import RefusalNote from '../ui/RefusalNote.vue'
import { session } from '../state/session'
import { useTried } from '../state/tried'

const router = useRouter()
const lessons = useLessons()
const { failure, tried } = useTried()
const busy = ref('')
const works = session.has('technician')

async function begin(id: string): Promise<void> {
  busy.value = id
  const job = uuidv7()
  if (await tried(() => beginLesson(id, job))) await router.push({ name: 'job', params: { job } })
  busy.value = ''
}
function take(event: Event): void {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (file) void tried(async () => keepLesson(await file.text()))
  input.value = ''
}
const gone = ref<number | null>(null)
async function throwAway(): Promise<void> {
  if (!window.confirm(say('practice-every-run-of-a-lesson'))) return
  gone.value = await throwPracticeAway()
}
</script>

<template>
  <main id="main" class="practice-page stack">
    <div class="row">
      <h1>{{ $t('common-practice') }}</h1>
      <p class="quiet lead">
        {{ $t('practice-each-lesson-is-a-scale') }}
      </p>
      <span class="push"></span
      ><label v-if="works" class="btn own"
        >{{ $t('practice-lesson-from-a-file')
        }}<input class="sr-only" type="file" accept="application/json,.json" @change="take"
      /></label>
    </div>
    <RefusalNote :failure="failure" />
    <p v-if="lessons.error.value" class="note note-wrong" role="alert">{{ lessons.error.value.message }}</p>
    <ol class="lessons">
      <li v-for="(l, i) in lessons.data.value" :key="l.id">
        <span class="figure no">{{ i + 1 }}</span>
        <div class="what">
          <h2>
            {{ l.title }} <span v-if="l.done" class="small done">{{ $t('practice-done') }}</span>
          </h2>
          <p>{{ l.story }}</p>
          <p class="small quiet">
            {{
              $t('practice-kind-about-minutes-minhere', {
                kind: l.kind,
                minutes: l.minutes,
                here: l.own ? $t('practice-written-here') : '',
              })
            }}
            <a :href="`/api/lessons/${l.id}/file`" download>{{ $t('practice-its-file') }}</a>
          </p>
        </div>
        <Button
          v-if="works"
          type="button"
          :class="{ 'btn-next': i === lessons.data.value?.findIndex((x) => !x.done) }"
          :disabled="busy !== ''"
          @click="begin(l.id)"
          >{{ busy === l.id ? $t('practice-switching-on') : $t('practice-begin') }}</Button
        >
      </li>
    </ol>
    <p v-if="session.has('manager')" class="row small">
      <button type="button" class="btn btn-bare" @click="throwAway">
        {{ $t('practice-delete-all-practice-of-the') }}
      </button>
      <span v-if="gone !== null" role="status">{{ $t('practice-gone-runs-were-deleted-records', { gone }) }}</span>
    </p>
  </main>
</template>

<style scoped>
.practice-page {
  padding: 1rem 1.25rem 2rem;
}
.lead {
  max-width: 44rem;
}
.own {
  cursor: pointer;
}
.own:focus-within {
  outline: 3px solid var(--focus);
  outline-offset: 2px;
}
.lessons {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(34rem, 100%), 1fr));
  gap: 0 2.5rem;
}
.lessons li {
  display: flex;
  gap: 1rem;
  align-items: center;
  border-bottom: 1px solid var(--rule-2);
  padding: 0.7rem 0;
}
.no {
  font-size: 1.6rem;
  color: var(--ink-2);
  min-width: 2ch;
  text-align: right;
}
.what {
  flex: 1;
  min-width: 0;
}
.what h2 {
  font-size: 1.05rem;
}
.done {
  color: var(--shade-ink);
  font-weight: 700;
}
.done::before {
  content: '✓ ';
}
</style>
