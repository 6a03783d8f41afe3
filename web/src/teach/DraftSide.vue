<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useVocabulary } from '../api/scales'
import { keyScaleBy } from '../scales/keyed'
import { type TeachingView, profileOfTeaching } from '../api/teaching'
import VirtualIndicator from '../keying/VirtualIndicator.vue'
import { useTried } from '../state/tried'
import RefusalNote from '../ui/RefusalNote.vue'

// How far it is, what is not known, and the newest state to be tried.
const props = defineProps<{ view: TeachingView }>()
const router = useRouter()
const route = useRoute()
const { data: words } = useVocabulary()
const { failure, busy, tried } = useTried()
const profile = computed(() => props.view.draft?.profile ?? null)
const learnt = computed(() => props.view.learnt)
async function keep(): Promise<void> {
  await tried(async () => {
    const kept = await profileOfTeaching(props.view.id)
    // On a first visit the scale is keyed by it from here on, and its job goes on.
    const { scale, job } = route.query
    if (scale) await keyScaleBy(String(scale), kept, words.value?.line_pattern ?? '')
    if (job) await router.push({ name: 'job', params: { job: String(job), stage: 'set_up' } })
    else if (scale) await router.push({ name: 'scale', params: { scale: String(scale) } })
    else await router.push({ name: 'profile', params: { profile: kept.id } })
  })
}
</script>

<template>
  <aside class="stack" :aria-label="$t('draft-side-what-is-known')">
    <h2>{{ $t('draft-side-what-is-known') }}</h2>
    <p data-testid="teach-progress">
      {{ $t('draft-side-progress', { ...learnt.progress }) }}
    </p>
    <ul v-if="learnt.gaps.length" data-testid="gaps">
      <li v-for="g in learnt.gaps" :key="g.item.join()" class="note note-caution">
        <strong class="figure">{{ g.item.join(' › ') }}</strong> {{ g.says }}. <span class="small">{{ g.costs }}</span>
      </li>
    </ul>
    <template v-if="view.draft?.problems.length">
      <h3>{{ $t('draft-side-still-missing') }}</h3>
      <ul class="small">
        <li v-for="p in view.draft.problems" :key="String(p.says)">{{ p.says }}</li>
      </ul>
    </template>
    <RefusalNote :failure="failure" />
    <Button
      v-if="profile"
      type="button"
      :class="['start', learnt.next.ask === 'nothing' && !learnt.contradiction ? 'btn-next' : '']"
      :disabled="busy || Boolean(learnt.contradiction)"
      @click="keep"
      >{{ view.profile ? $t('draft-side-keep-again') : $t('draft-side-keep') }}</Button
    >
    <RouterLink v-if="view.profile" :to="{ name: 'profile', params: { profile: view.profile } }">{{
      $t('draft-side-its-profile')
    }}</RouterLink>
    <template v-if="profile && view.draft">
      <h3>{{ $t('profile-try-it') }}</h3>
      <VirtualIndicator :profile="profile" :what="{ text: view.draft.text }" />
    </template>
  </aside>
</template>

<style scoped>
.start {
  align-self: flex-start;
}
</style>
