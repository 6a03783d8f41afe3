<script setup lang="ts">
import { computed } from 'vue'
import type { FileRow, Stage } from '../api/types'
import FileList from '../ui/FileList.vue'
import { useEntry } from './useEntry'
import { useJob } from './useJob'

// Photos and files of the job; each says in which stage it was taken.
const props = defineProps<{ stage: Stage; headless?: boolean }>()
const job = useJob()
const entry = useEntry()
const a = computed(() => job.assessment.value)

async function attach(file: FileRow, on_record: boolean): Promise<void> {
  const { id, name, media, size, sha256, caption } = file
  await entry.enter({ kind: 'attached', id, name, media, size, sha256, caption, stage: props.stage, on_record })
}
</script>

<template>
  <FileList
    v-if="a"
    :id="job.id"
    of="job"
    :closed="job.frozen.value"
    :headless="headless"
    :named="a.files.filter((f) => f.on_record).map((f) => f.id)"
    @kept="attach"
  />
</template>
