<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { signOut } from '../api/session'
import { type Theme, glare, language, theme } from '../state/preferences'
import { session } from '../state/session'
import AwayMark from '../away/AwayMark.vue'
import LeaveDialog from '../away/LeaveDialog.vue'
import { held } from '../away/held'

const router = useRouter()
const themes: { value: Theme; label: string }[] = [
  { value: 'system', label: 'app-bar-system' },
  { value: 'light', label: 'app-bar-light' },
  { value: 'dark', label: 'app-bar-dark' },
]

// The button names the language to change to, in that language.
const other = computed(() => (language.value === 'en' ? 'de' : 'en'))

function turn(): void {
  const at = themes.findIndex((t) => t.value === theme.value)
  theme.value = themes[(at + 1) % themes.length]?.value ?? 'system'
}

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
      <RouterLink class="btn btn-bare seldom" :to="{ name: 'customers' }">{{
        $t('common-customers')
      }}</RouterLink><RouterLink class="btn btn-bare seldom" :to="{ name: 'records' }">{{
        $t('common-records')
      }}</RouterLink
      ><RouterLink class="btn btn-bare" :to="{ name: 'weights' }">{{ $t('common-weights') }}</RouterLink
      ><RouterLink class="btn btn-bare" :to="{ name: 'due' }">{{ $t('common-due') }}</RouterLink
      ><RouterLink class="btn btn-bare" :to="{ name: 'day' }">{{ $t('app-bar-day') }}</RouterLink
      ><RouterLink class="btn btn-bare seldom" :to="{ name: 'along' }">{{ $t('app-bar-along') }}</RouterLink
      ><RouterLink class="btn btn-bare seldom" :to="{ name: 'profiles' }">{{ $t('common-profiles') }}</RouterLink
      ><RouterLink class="btn btn-bare" :to="{ name: 'desk' }">{{ $t('router-desk') }}</RouterLink
      ><RouterLink class="btn btn-bare seldom" :to="{ name: 'practice' }">{{ $t('common-practice') }}</RouterLink
      ><RouterLink class="btn btn-bare" :to="{ name: 'settings' }">{{ $t('common-settings') }}</RouterLink>
    </nav>
    <div id="bar-middle" class="middle"></div>
    <AwayMark />
    <button class="btn btn-bare" type="button" @click="turn">
      {{ $t('app-bar-look-label', { label: $t(themes.find((t) => t.value === theme)?.label ?? 'app-bar-system') }) }}
    </button>
    <button class="btn btn-bare" type="button" role="switch" :aria-checked="glare" @click="glare = !glare">
      {{ $t('app-bar-high-contrast') }}
    </button>
    <button class="btn btn-bare" type="button" :lang="other" @click="language = other">
      {{ other === 'de' ? 'Deutsch' : 'English' }}
    </button>
    <RouterLink class="btn btn-bare who small" :to="{ name: 'me' }">{{ session.person.value?.name }}</RouterLink>
    <button class="btn btn-bare" type="button" @click="leave()">{{ $t('app-bar-sign-out') }}</button>
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
.bar .btn {
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
  .middle {
    order: 9;
    flex: 1 1 100%;
    padding: 0;
  }
}
</style>
