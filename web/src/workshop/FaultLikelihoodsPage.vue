<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref, watch } from 'vue'
import { keepRules, useRules } from '../api/judgement'
import RefusalNote from '../ui/RefusalNote.vue'
import { session } from '../state/session'
import { useTried } from '../state/tried'
import { plain } from '../ui/format'

// How the workshop judges: the one table of priors, and whether a scale that is inside is left alone.
const { data } = useRules()
const typed = ref<Record<string, string>>({})
const leave = ref(true)
const { failure, tried } = useTried()
const kept = ref(false)
const works = computed(() => session.has('technician'))
const shipped = (cause: string) => data.value?.causes.find((c) => c.cause === cause)?.prior ?? 0
watch(
  data,
  (now) => {
    if (!now) return
    leave.value = now.rules.leave_inside
    typed.value = Object.fromEntries(now.causes.map((c) => [c.cause, String(now.rules.priors?.[c.cause] ?? c.prior)]))
  },
  { immediate: true },
)

async function keep(): Promise<void> {
  kept.value = false
  const priors: Record<string, number> = {}
  for (const [cause, text] of Object.entries(typed.value)) {
    const prior = Number(plain(text))
    if (prior !== shipped(cause)) priors[cause] = Number.isFinite(prior) ? prior : -1
  }
  kept.value = await tried(() => keepRules({ priors, leave_inside: leave.value }))
}
</script>

<template>
  <main id="main" class="judgement stack">
    <h1>{{ $t('fault-likelihoods-fault-likelihoods') }}</h1>
    <p class="quiet lead">
      {{ $t('fault-likelihoods-before-anything-is-read-each') }}
    </p>
    <form v-if="data" class="stack" @submit.prevent="keep">
      <label class="check"
        ><input v-model="leave" type="checkbox" :disabled="!works" name="leave" />
        {{ $t('fault-likelihoods-a-scale-that-is-inside') }}</label
      >
      <table>
        <thead>
          <tr>
            <th scope="col">{{ $t('fault-likelihoods-cause') }}</th>
            <th scope="col">{{ $t('fault-likelihoods-what-is-done') }}</th>
            <th scope="col">{{ $t('fault-likelihoods-pointed-to-by') }}</th>
            <th scope="col" class="right">{{ $t('fault-likelihoods-probability-before') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="c in data.causes" :key="c.cause">
            <td>{{ c.label }}</td>
            <td>{{ data.acts[c.cause] }}</td>
            <td class="small quiet">{{ c.items.map((id) => data?.items[id] ?? id).join(', ') }}</td>
            <td class="right">
              <input
                v-model="typed[c.cause]"
                class="input figure prior"
                inputmode="decimal"
                :disabled="!works"
                :aria-label="$t('fault-likelihoods-probability-of-label', { label: c.label })"
              />
            </td>
          </tr>
        </tbody>
      </table>
      <RefusalNote :failure="failure" />
      <div v-if="works" class="row">
        <Button type="submit" class="btn-next">{{ $t('common-save') }}</Button><span v-if="kept" role="status">{{
          $t('common-saved')
        }}</span>
      </div>
    </form>
  </main>
</template>

<style scoped>
.judgement {
  padding: 1rem 1.25rem 2rem;
  max-width: 62rem;
}
.lead {
  max-width: 44rem;
}
.prior {
  width: 6rem;
  text-align: right;
}
td {
  vertical-align: middle;
}
</style>
