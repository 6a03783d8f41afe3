<script setup lang="ts">
import Toast from 'primevue/toast'
import { computed, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { whoAmI } from './api/session'
import AppBar from './ui/AppBar.vue'
import ShortcutList from './ui/ShortcutList.vue'
import UpdateNote from './ui/UpdateNote.vue'
import SignInDialog from './workshop/SignInDialog.vue'
import { session } from './state/session'
import { saysAll, speakAll } from './words'

const route = useRoute()
const router = useRouter()
const away = ref(false)
const open = computed(() => Boolean(route.meta.open))

async function find(): Promise<void> {
  try {
    await whoAmI()
    away.value = false
  } catch {
    away.value = true
    setTimeout(() => void find(), 2000)
  }
}

onMounted(async () => {
  await router.isReady()
  await find()
})
watch([session.known, session.person, open], ([known, person]) => {
  if (known && !person && !open.value) void router.replace({ name: 'sign-in', query: { to: route.fullPath } })
})
// The page to sign in at is there before most words are.
const first = computed(() => route.name === 'sign-in')
watch(
  [() => route.name, session.person],
  ([name, person]) => {
    if (name && !first.value && (person || open.value)) void speakAll()
  },
  { immediate: true },
)
</script>

<template>
  <a class="skip" href="#main">{{ $t('app-skip-to-the-work') }}</a>
  <AppBar v-if="session.person.value && !open && saysAll" />
  <UpdateNote v-if="session.person.value && route.name !== 'job'" />
  <p v-if="away" class="note note-wrong" role="status">{{ $t('app-the-server-does-not-answer') }}</p>
  <RouterView v-if="(open || session.person.value) && (first || saysAll)" />
  <SignInDialog />
  <ShortcutList />
  <Toast position="bottom-right" />
</template>
