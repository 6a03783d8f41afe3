<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, ref, watch } from 'vue'
import { useScales } from '../api/scales'
import { refDebounced } from '../state/small'
import { dayText } from '../ui/format'

// Scales to tick, found by their words; a search does not lose what was ticked before.
const chosen = defineModel<string[]>({ required: true })
const emit = defineEmits<{ named: [names: Record<string, string>] }>()
const search = ref('')
const asked = refDebounced(search, 120)
const scales = useScales(asked)
const rows = computed(() => scales.data.value?.pages.flatMap((p) => p.scales) ?? [])
watch(rows, (now) => emit('named', Object.fromEntries(now.map((r) => [r.sheet.id, r.sheet.name]))), { immediate: true })
</script>

<template>
  <InputText
    v-model="search"
    type="search"
    :placeholder="$t('route-name-owner-place')"
    :aria-label="$t('home-search-among-the-scales')"
  />
  <ul class="scales">
    <li v-for="row in rows" :key="row.sheet.id">
      <label class="check"
        ><input v-model="chosen" type="checkbox" :value="row.sheet.id" /><span
          ><strong>{{ row.sheet.name }}</strong> <span class="quiet">{{ row.sheet.owner }}, {{ row.sheet.place }}</span
          ><br /><span class="small quiet">{{
            row.next_due ? $t('route-due-next-due', { next_due: dayText(row.next_due) }) : $t('route-no-record-yet')
          }}</span></span
        ></label
      >
    </li>
  </ul>
</template>

<style scoped>
.scales {
  overflow: auto;
  max-height: calc(100vh - 15rem);
}
.scales li {
  border-bottom: 1px solid var(--rule-2);
}
</style>
