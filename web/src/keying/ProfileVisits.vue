<script setup lang="ts">
import { computed } from 'vue'
import { useProfiles, useProofs } from '../api/profiles'
import { useTeachings } from '../api/teaching'
import { dayText } from '../ui/format'

// Where a profile is used, how it came about, and what visits said of it.
const props = defineProps<{ profile: string; edition: number }>()
const { data: proofs } = useProofs(() => props.profile)
const { data: rows } = useProfiles()
const { data: taught } = useTeachings()
const row = computed(() => rows.value?.find((r) => r.id === props.profile))
const session = computed(() => taught.value?.find((t) => t.profile === props.profile))
</script>

<template>
  <div class="stack tight" data-testid="visits">
    <p v-if="session">
      <RouterLink :to="{ name: 'teach', params: { session: session.id } }">{{
        $t('profile-visits-was-taught')
      }}</RouterLink>
    </p>
    <h2>{{ $t('profile-visits-scales', { count: row?.scales ?? 0 }) }}</h2>
    <ul v-if="row?.keyed.length">
      <li v-for="s in row.keyed" :key="s.id">
        <RouterLink :to="{ name: 'scale', params: { scale: s.id } }">{{ s.name }}</RouterLink>
      </li>
      <li v-if="row.scales > row.keyed.length" class="quiet">
        {{ $t('profile-visits-and-more', { more: row.scales - row.keyed.length }) }}
      </li>
    </ul>
    <h2>{{ $t('profile-visits-what-they-said') }}</h2>
    <p v-if="proofs && !proofs.length" class="quiet">{{ $t('profile-visits-never') }}</p>
    <ul>
      <li v-for="p in proofs ?? []" :key="p.id" class="visit">
        <strong v-if="p.as_said">{{ $t('proof-bar-as-it-said') }}</strong><strong v-else
          >{{ $t('proof-bar-differed-at', { item: p.item }) }} <span v-if="p.shown" class="figure">{{ p.shown }}</span>
          {{ p.note }}</strong
        >
        <p class="small quiet">
          <RouterLink :to="{ name: 'keying', params: { job: p.job } }">{{ p.scale }}</RouterLink> ·
          {{ dayText(p.said_at) }} · {{ p.said_by }} · {{ $t('profile-edition-edition', { edition: p.edition }) }}
          <template v-if="p.edition < edition"> · {{ $t('profile-visits-changed-since') }}</template>
        </p>
        <RouterLink v-if="!p.as_said && p.edition === edition" class="btn" :to="{ query: { item: p.item } }" replace>{{
          $t('profile-visits-put-right')
        }}</RouterLink>
      </li>
    </ul>
  </div>
</template>

<style scoped>
.visit {
  border-top: 1px solid var(--rule-2);
  padding: 0.5rem 0;
}
</style>
