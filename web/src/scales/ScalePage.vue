<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { useDefaults } from '../api/people'
import { useProfiles, useSites } from '../api/profiles'
import { useSaveScale, useScale, useVocabulary } from '../api/scales'
import { session } from '../state/session'
import { useTried } from '../state/tried'
import FileList from '../ui/FileList.vue'
import RefusalNote from '../ui/RefusalNote.vue'
import SiteForm from './SiteForm.vue'
import { emptySheet, sheetFields, toForm, typedFrom } from './sheet'
import CellFields from './sheet/CellFields.vue'
import ConnectionFields from './sheet/ConnectionFields.vue'
import IndicatorFields from './sheet/IndicatorFields.vue'
import JudgedFields from './sheet/JudgedFields.vue'
import PlateFields from './sheet/PlateFields.vue'
import WhichFields from './sheet/WhichFields.vue'

const props = defineProps<{ scale?: string }>()
const router = useRouter()
const { data: words } = useVocabulary()
const { data: sites } = useSites()
const { data: profiles } = useProfiles()
const { data: detail, error } = useScale(() => props.scale)
const save = useSaveScale()
const { general, tried, wrong } = useTried()
const works = computed(() => session.has('technician'))
const form = ref(emptySheet())

watch(
  [detail, words],
  ([found]) => {
    if (found) form.value = typedFrom(found, words.value?.line_pattern ?? '')
    else if (!form.value.pattern && words.value) form.value.pattern = words.value.line_pattern
  },
  { immediate: true },
)
// A new sheet begins with the workshop's unit and tolerance book; what was typed meanwhile stays.
const { data: defaults } = useDefaults()
watch(
  defaults,
  (now) => {
    if (!now || props.scale) return
    const plain = emptySheet()
    if (now.unit && form.value.unit === plain.unit) form.value.unit = now.unit
    if (now.scheme && form.value.scheme === plain.scheme) form.value.scheme = now.scheme
  },
  { immediate: true },
)
async function submit(): Promise<void> {
  await tried(async () => {
    const saved = await save.mutateAsync(toForm(form.value, detail.value, sites.value ?? [], profiles.value ?? []))
    await (props.scale
      ? router.push({ name: 'home' })
      : router.replace({ name: 'scale', params: { scale: saved.sheet.id } }))
  })
}
</script>

<template>
  <main id="main" class="sheet">
    <p v-if="error" class="note note-wrong" role="alert">{{ error.message }}</p>
    <form v-else class="stack tight" @submit.prevent="submit">
      <div class="row head">
        <h1>{{ props.scale ? form.name || $t('common-scale') : $t('common-new-scale') }}</h1>
        <span class="push"></span>
        <Button v-if="works" type="submit" class="btn-next" :disabled="save.isPending.value">{{
          props.scale ? $t('scale-keep-the-changes') : $t('scale-add-the-scale')
        }}</Button><RouterLink
          v-if="props.scale"
          class="btn"
          :to="{ name: 'history', params: { scale: props.scale } }"
          >{{ $t('scale-its-records') }}</RouterLink
        ><RouterLink class="btn btn-bare" :to="{ name: 'home' }">{{ $t('scale-back-to-the-scales') }}</RouterLink>
      </div>
      <RefusalNote :failure="general(sheetFields)" />
      <WhichFields v-model="form" :known="Boolean(props.scale)" :wrong="wrong" :disabled="!works" />
      <SiteForm v-if="works" @kept="form.site = $event" />
      <PlateFields v-model="form" :wrong="wrong" :disabled="!works" />
      <CellFields v-model="form" :wrong="wrong" :disabled="!works" />
      <IndicatorFields v-model="form" :wrong="wrong" :disabled="!works" />
      <JudgedFields v-model="form" :wrong="wrong" :disabled="!works" />
      <ConnectionFields v-model="form" :wrong="wrong" :disabled="!works" />
    </form>
    <FileList v-if="props.scale && detail" :id="props.scale" of="scale" />
  </main>
</template>

<style scoped>
.sheet {
  padding: 0.5rem 1.25rem 2rem;
}
.head {
  position: sticky;
  top: 0;
  background: var(--paper);
  padding: 0.4rem 0;
  z-index: 2;
  border-bottom: 1px solid var(--rule);
}
</style>
