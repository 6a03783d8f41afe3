<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { ref } from 'vue'
import { changePieces } from '../api/kit'
import { useTried } from '../state/tried'
import RefusalNote from '../ui/RefusalNote.vue'

// What is done to all pieces that are chosen: where they are, who has them, damage.
const chosen = defineModel<string[]>({ required: true })
const place = ref('')
const holder = ref('')
const { failure, tried } = useTried()

async function bulk(what: { place?: string; holder?: string; damaged?: boolean }): Promise<void> {
  await tried(async () => {
    await changePieces({ ids: chosen.value, ...what })
    chosen.value = []
    place.value = holder.value = ''
  })
}
</script>

<template>
  <RefusalNote :failure="failure" />
  <form v-if="chosen.length" class="row bulk" @submit.prevent>
    <strong>{{ $t('weights-count-chosen', { count: chosen.length }) }}</strong>
    <InputText
      v-model="place"
      class="input short"
      :aria-label="$t('weights-new-place')"
      :placeholder="$t('weights-place')"
    /><Button type="button" @click="bulk({ place })">{{ $t('weights-move-there') }}</Button>
    <InputText
      v-model="holder"
      class="input short"
      :aria-label="$t('weights-who-has-them')"
      :placeholder="$t('weights-who-has-them-2')"
    /><Button type="button" @click="bulk({ holder })">{{
      holder ? $t('weights-give-to') : $t('weights-nobody-has-them')
    }}</Button>
    <Button type="button" @click="bulk({ damaged: true })">{{ $t('piece-form-damaged') }}</Button><Button
      type="button"
      @click="bulk({ damaged: false })"
      >{{ $t('weights-not-damaged') }}</Button
    >
  </form>
</template>

<style scoped>
.short {
  width: 11rem;
}
.bulk {
  position: sticky;
  top: 0;
  background: var(--sheet);
  border: 1.5px solid var(--ink);
  padding: 0.4rem 0.8rem;
  z-index: 3;
}
</style>
