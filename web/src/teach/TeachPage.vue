<script setup lang="ts">
import { v7 as uuidv7 } from 'uuid'
import { computed, onMounted, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import RefusalNote from '../ui/RefusalNote.vue'
import AskCard from './AskCard.vue'
import DraftSide from './DraftSide.vue'
import InBetween from './InBetween.vue'
import KeyCaps from './KeyCaps.vue'
import SentDisplay from './SentDisplay.vue'
import StepList from './StepList.vue'
import { provideTeaching } from './useTeaching'

// An indicator is taught by showing it: one question at a time, everything that was said below.
const props = defineProps<{ session?: string }>()
const router = useRouter()
const route = useRoute()
const id = props.session ?? uuidv7()
const teaching = provideTeaching(id)
const { view, session: taught, sending, away } = teaching
// What is refused at a field is told there.
const FIELDS = ['name', 'keys', 'least', 'most', 'codes', 'least_span_percent', 'text', 'says', 'then']
const general = computed(() => {
  const failure = sending.general(FIELDS)
  return failure?.problem?.field?.startsWith('option-') ? null : failure
})
const begun = computed(() => Boolean(view.value))
onMounted(() => {
  if (props.session) void teaching.load()
})
watch(begun, (now) => {
  if (now && !props.session) void router.replace({ name: 'teach', params: { session: id }, query: route.query })
})
</script>

<template>
  <main id="main" class="teach">
    <section class="work stack">
      <div class="row">
        <h1>{{ taught?.name ? $t('teach-name', { name: taught.name }) : $t('teach-an-indicator') }}</h1>
        <span class="push"></span>
        <RouterLink class="btn btn-bare" :to="{ name: 'profiles' }">{{ $t('profile-all-profiles') }}</RouterLink>
      </div>
      <p v-if="away" class="note note-caution" role="status" data-testid="teach-away">{{ $t('teach-kept-here') }}</p>
      <RefusalNote v-else :failure="general" />
      <KeyCaps v-if="!begun && !props.session" />
      <template v-else-if="view">
        <AskCard :question="view.learnt.next" :contradiction="view.learnt.contradiction" />
        <SentDisplay />
        <InBetween />
        <StepList />
      </template>
      <p v-else class="quiet" role="status">{{ $t('common-looking') }}</p>
    </section>
    <DraftSide v-if="view" class="side" :view="view" />
  </main>
</template>

<style scoped>
.teach {
  display: grid;
  grid-template-columns: minmax(0, 1.4fr) minmax(20rem, 1fr);
  flex: 1;
}
.work {
  padding: 1rem 1.25rem 2rem;
}
.side {
  padding: 1rem 1.25rem;
  border-left: 1px solid var(--rule);
  background: var(--sheet);
}
@media (max-width: 56rem) {
  .teach {
    grid-template-columns: 1fr;
  }
  .side {
    border-left: none;
    border-top: 1px solid var(--rule);
  }
}
</style>
