<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import { Failure } from '../api/client'
import { practiceAct, usePractice } from '../api/practice'
import { useJob } from '../job/useJob'

// Says on every stage that this is practice; the owner's words, hints on request, and the way out.
const job = useJob()
const { data } = usePractice(job.id, () => Boolean(job.assessment.value?.sheet.practice))
const wrong = ref('')
const open = ref(false)
const over = computed(() => data.value?.over || job.frozen.value)
async function act(what: 'hint' | 'again' | 'reveal'): Promise<void> {
  wrong.value = ''
  try {
    await practiceAct(job.id, what)
    if (what === 'hint') open.value = true
  } catch (error) {
    wrong.value = error instanceof Failure ? error.message : String(error)
  }
}
</script>

<template>
  <section v-if="data" class="lesson no-print" :aria-label="$t('lesson-card-lesson')">
    <strong class="word">{{ $t('common-practice') }}</strong>
    <p class="story" :title="String(data.story)">
      <strong>{{ data.title }}.</strong> {{ data.story }}
    </p>
    <span class="row tight acts">
      <Button v-if="!over && !data.on" type="button" @click="act('again')">{{
        $t('lesson-card-switch-the-scale-on-again')
      }}</Button>
      <Button v-if="!over" type="button" class="btn-bare" :disabled="!data.left" @click="act('hint')">{{
        $t('lesson-card-hint', { left: data.left })
      }}</Button>
      <Button v-if="data.hints.length" type="button" class="btn-bare" :aria-expanded="open" @click="open = !open">{{
        open ? $t('diagnosis-panel-fold') : $t('lesson-card-show-count', { count: data.hints.length })
      }}</Button>
      <Button v-if="!over" type="button" class="btn-bare" @click="act('reveal')">{{
        $t('lesson-card-give-up')
      }}</Button>
      <RouterLink v-if="over" class="btn btn-next small-next" :to="{ name: 'account', params: { job: job.id } }">{{
        $t('lesson-card-account-of-this-lesson')
      }}</RouterLink>
    </span>
    <ol v-if="open && data.hints.length" class="hints" data-testid="hints">
      <li v-for="(h, i) in data.hints" :key="i">{{ h }}</li>
    </ol>
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
  </section>
</template>

<style scoped>
.lesson {
  display: flex;
  flex-wrap: wrap;
  gap: 0.3rem 1rem;
  align-items: center;
  padding: 0.2rem 1.25rem;
  border-bottom: 2px dashed var(--ink-2);
  background: repeating-linear-gradient(-45deg, transparent 0 10px, var(--rule-2) 10px 11px);
}
.word {
  text-transform: uppercase;
  letter-spacing: 0.08em;
  border: 2px dashed var(--ink);
  padding: 0 0.5rem;
  background: var(--sheet);
}
.story {
  flex: 1 1 20rem;
  min-width: 0;
  font-size: 0.9rem;
  background: var(--sheet);
  padding: 0 0.4rem;
  display: -webkit-box;
  -webkit-line-clamp: 2;
  -webkit-box-orient: vertical;
  overflow: hidden;
}
.acts {
  background: var(--sheet);
}
.small-next {
  min-height: var(--target);
  font-size: 1rem;
  padding: 0.3rem 1rem;
}
.hints {
  flex-basis: 100%;
  list-style: decimal;
  padding: 0.3rem 0.5rem 0.5rem 2rem;
  background: var(--sheet);
}
</style>
