<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import TextField from '../ui/TextField.vue'
import FrontPicture from './FrontPicture.vue'
import { useTeaching } from './useTeaching'

// What it is called, and the keys as they are printed on it.
const { begin, sending } = useTeaching()
// From a scale one comes with what its plate calls the indicator.
const name = ref(String(useRoute().query.name ?? ''))
const typed = ref('')
const keypad = ref(false)
const keys = computed(() => [...new Set(typed.value.split(/[,\s]+/).filter(Boolean))])
</script>

<template>
  <form class="stack" @submit.prevent="begin({ name, keys, keypad, events: [] })">
    <p>{{ $t('key-caps-what-this-is') }}</p>
    <p class="note note-caution">{{ $t('key-caps-caution') }}</p>
    <TextField id="teach-name" v-model="name" :label="$t('key-caps-called')" :wrong="sending.wrong('name')" />
    <TextField id="teach-keys" v-model="typed" :label="$t('key-caps-keys')" :wrong="sending.wrong('keys')" />
    <FrontPicture @key="(cap) => (typed = `${typed} ${cap}`.trim())" />
    <p class="row" :aria-label="$t('key-caps-as-understood')">
      <span v-for="key in keys" :key="key" class="cap">{{ key }}</span>
    </p>
    <label class="check"
      ><input v-model="keypad" name="teach-keypad" type="checkbox" /> {{ $t('key-caps-keypad') }}</label
    >
    <Button type="submit" class="btn-next start" :disabled="sending.busy.value || !name.trim() || !keys.length">{{
      $t('key-caps-begin')
    }}</Button>
  </form>
</template>

<style scoped>
.cap {
  border: 1.5px solid var(--ink);
  border-bottom-width: 4px;
  border-radius: 5px;
  padding: 0.2rem 0.7rem;
  font-weight: 650;
}
.start {
  align-self: flex-start;
}
</style>
