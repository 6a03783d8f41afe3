<script setup lang="ts">
import type { Parameter } from '../api/types'

// What an option stands for, and what the display shows or what is typed for it.
const item = defineModel<Parameter>({ required: true })
defineProps<{ wrong: string }>()
const add = () => (item.value.options = [...(item.value.options ?? []), { is: '', shows: '' }])
const drop = (at: number) => (item.value.options = (item.value.options ?? []).filter((_, i) => i !== at))
</script>

<template>
  <div class="stack tight">
    <div v-for="(o, at) in item.options ?? []" :key="at" class="row tight" :data-option="at">
      <input v-model="o.is" class="input figure short" :aria-label="$t('profile-form-stands-for')" />
      <span aria-hidden="true">=</span>
      <input
        v-model="o.shows"
        class="input figure short"
        :aria-label="item.typed ? $t('ask-field-typed') : $t('profile-form-shows')"
      />
      <button type="button" class="btn btn-bare" :aria-label="$t('common-remove')" @click="drop(at)">×</button>
    </div>
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
    <div class="row">
      <button type="button" class="btn" @click="add">{{ $t('profile-form-another-option') }}</button>
      <label class="check"><input v-model="item.typed" type="checkbox" /> {{ $t('profile-field-typed') }}</label>
    </div>
  </div>
</template>

<style scoped>
.short {
  width: 8rem;
}
</style>
