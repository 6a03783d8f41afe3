<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { signOut } from '../api/session'
import { session } from '../state/session'
import OfflineMark from '../offline/OfflineMark.vue'
import LeaveDialog from '../offline/LeaveDialog.vue'
import { held } from '../offline/held'
import LookSwitches from './LookSwitches.vue'
import PhoneBar from './PhoneBar.vue'
import { PLACES } from './places'

const router = useRouter()
const places = PLACES.filter((place) => place.name !== 'home' && !place.elsewhere)
const asks = ref(false)
async function leave(sure = false): Promise<void> {
  asks.value = held.unsent.value > 0 && !sure
  if (asks.value) return
  await signOut()
  await router.replace({ name: 'sign-in' })
}
</script>

<template>
  <header class="bar no-print">
    <RouterLink class="brand" :to="{ name: 'home' }">
      <svg viewBox="0 0 32 20" width="32" height="20" aria-hidden="true">
        <path d="M0 7h9V4h10V1h13v18H19v-3H9v-3H0z" class="shadow" />
        <circle cx="20" cy="10" r="3" class="dot" />
      </svg>
      {{ $t('common-ombret') }}
    </RouterLink>
    <nav class="places" :aria-label="$t('app-bar-places')">
      <RouterLink
        v-for="p in places"
        :key="p.name"
        class="btn btn-bare"
        :class="{ seldom: p.seldom }"
        :to="{ name: p.name }"
        >{{ $t(p.says) }}</RouterLink
      >
    </nav>
    <div id="bar-middle" class="middle"></div>
    <OfflineMark />
    <span class="looks"><LookSwitches /></span>
    <RouterLink class="btn btn-bare who small" :to="{ name: 'me' }">{{ session.person.value?.name }}</RouterLink>
    <button class="btn btn-bare out" type="button" @click="leave()">{{ $t('app-bar-sign-out') }}</button>
    <PhoneBar @leave="leave()" />
    <LeaveDialog :show="asks" @stay="asks = false" @leave="leave(true)" />
  </header>
</template>

<style scoped>
.bar {
  display: flex;
  align-items: center;
  gap: 0.4rem;
  padding: 0 1.25rem;
  min-height: 3rem;
  border-bottom: 2px solid var(--ink);
  background: var(--sheet);
  flex-wrap: wrap;
}
.brand {
  display: flex;
  align-items: center;
  gap: 0.6rem;
  font-weight: 700;
  font-size: 1.1rem;
  text-decoration: none;
  min-height: var(--target);
}
.shadow {
  fill: var(--shade);
}
.dot {
  fill: var(--ink);
}
.places {
  display: flex;
  flex-wrap: wrap;
}
.bar .btn,
.bar .looks :deep(.btn) {
  padding: 0.4rem 0.35rem;
}
.places .router-link-active {
  font-weight: 700;
}
.middle {
  flex: 1;
  min-width: 0;
  padding-left: 1rem;
}
.btn[aria-checked='true'] {
  background: none;
  color: var(--ink);
  border-color: var(--ink);
  text-decoration: none;
}
.who {
  color: var(--ink-2);
}
/* The capacity and the division of the scale in hand come before the name of who is signed in. */
@media (max-width: 90rem) {
  .who {
    display: none;
  }
}
/* On a job the way to lists that nobody needs there gives its room to the scale in hand. */
@media (max-width: 100rem) {
  :global(#app:has(main.job) .places .seldom) {
    display: none;
  }
}
@media (max-width: 60rem) {
  :global(#app:has(main.job) .bar .looks > :not([role='switch'])) {
    display: none;
  }
  .middle {
    order: 9;
    flex: 1 1 100%;
    padding: 0;
  }
}
.looks {
  display: contents;
}
/* What is not sent is more than how it looks. */
@media (max-width: 100rem) {
  .bar:has(.mark) .looks {
    display: none;
  }
}
/* On a phone: the sign, the scale in hand, and what is not sent; everything else lies below. */
@media (max-width: 40rem) {
  .bar {
    flex-wrap: nowrap;
    min-height: 3rem;
    max-height: 3.5rem;
    padding: 0 0.8rem;
    overflow: hidden;
  }
  .brand {
    font-size: 0;
    gap: 0;
  }
  .middle {
    order: 0;
    flex: 1 1 0;
    padding-left: 0.6rem;
  }
  .places,
  .looks,
  .who,
  .bar .out {
    display: none;
  }
}
</style>
