<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { session } from '../state/session'
import LookSwitches from './LookSwitches.vue'
import { PLACES } from './places'

// On a phone the places lie below, under the thumb: four of them, and the rest behind one more.
const emit = defineEmits<{ leave: [] }>()
const route = useRoute()
const below = PLACES.filter((place) => place.below)
const rest = PLACES.filter((place) => !place.below)
const open = ref(false)
const elsewhere = computed(() => !below.some((place) => place.name === route.name))
watch(
  () => route.fullPath,
  () => (open.value = false),
)
</script>

<template>
  <nav class="phone no-print" :aria-label="$t('app-bar-places')">
    <section v-if="open" class="sheet" :aria-label="$t('phone-bar-more')">
      <RouterLink v-for="p in rest" :key="p.name" class="btn" :to="{ name: p.name }">{{ $t(p.says) }}</RouterLink>
      <LookSwitches />
      <RouterLink class="btn" :to="{ name: 'me' }">{{ session.person.value?.name }}</RouterLink>
      <button class="btn" type="button" @click="emit('leave')">{{ $t('app-bar-sign-out') }}</button>
    </section>
    <RouterLink v-for="p in below" :key="p.name" class="place" :to="{ name: p.name }">{{ $t(p.says) }}</RouterLink>
    <button class="place" :class="{ here: elsewhere }" type="button" :aria-expanded="open" @click="open = !open">
      {{ $t('phone-bar-more') }}
    </button>
  </nav>
</template>

<style scoped>
.phone {
  display: none;
}
@media (max-width: 40rem) {
  .phone {
    position: fixed;
    inset: auto 0 0;
    z-index: 5;
    display: grid;
    grid-template-columns: repeat(5, 1fr);
    background: var(--sheet);
    border-top: 2px solid var(--ink);
    padding-bottom: env(safe-area-inset-bottom);
  }
  .place {
    display: grid;
    place-items: center;
    min-height: max(var(--target), 3.25rem);
    font: inherit;
    font-size: 0.9rem;
    text-decoration: none;
    color: var(--ink);
    background: none;
    border: none;
    border-top: 4px solid transparent;
  }
  .place.router-link-active,
  .here {
    border-top-color: var(--ink);
    font-weight: 700;
  }
  .sheet {
    position: absolute;
    inset: auto 0 100%;
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 0.4rem;
    padding: 0.8rem;
    background: var(--sheet);
    border-top: 2px solid var(--ink);
    max-height: 75vh;
    overflow: auto;
  }
}
</style>
