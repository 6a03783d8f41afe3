<script setup lang="ts">
import { v7 } from 'uuid'
import { computed, ref, watch } from 'vue'
import { fileAddress } from '../offline/local'
import { type FileOf, putFile, removeFile, useFiles } from '../api/beside'
import type { FileRow } from '../api/types'
import { scaledDown } from '../state/pictures'
import { session } from '../state/session'
import { useTried } from '../state/tried'
import RefusalNote from './RefusalNote.vue'

// Photos and files of a scale, a job or a piece; taken with the device's camera, or chosen.
const props = defineProps<{ of: FileOf; id: string; closed?: boolean; named?: string[]; headless?: boolean }>()
const emit = defineEmits<{ kept: [file: FileRow, on_record: boolean] }>()
const { data } = useFiles(props.of, () => props.id)
// Where a file lies: with the server, or on this device while it is away.
const at = ref<Record<string, string>>({})
watch(
  data,
  async (files) => {
    for (const { id } of files ?? []) at.value[id] ??= await fileAddress(props.of, props.id, id)
  },
  { immediate: true },
)
const works = computed(() => session.has('technician') && !props.closed)
const caption = ref('')
const onRecord = ref(true)
const { failure, busy, tried } = useTried()

async function chosen(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const files = [...(input.files ?? [])]
  input.value = ''
  for (const file of files)
    await tried(async () => {
      const { name, bytes } = await scaledDown(file)
      emit('kept', await putFile(v7(), props.of, props.id, name, caption.value, bytes), onRecord.value)
      caption.value = ''
    })
}
</script>

<template>
  <section class="files" :aria-label="$t('common-photos-and-files')">
    <h2 v-if="!headless" class="head">{{ $t('common-photos-and-files') }}</h2>
    <ul v-if="data?.length" class="pictures">
      <li v-for="f in data" :key="f.id">
        <a :href="at[f.id]" target="_blank" rel="noopener">
          <img
            v-if="f.media.startsWith('image/') && at[f.id]"
            :src="at[f.id]"
            :alt="f.caption || f.name"
            loading="lazy"
          /><span v-else class="figure small">{{ f.name }}</span></a
        >
        <span class="small"
          >{{ f.caption || f.name
          }}<template v-if="named?.includes(f.id)">{{ $t('file-list-on-the-record') }}</template></span
        >
        <button
          v-if="works && of !== 'job'"
          type="button"
          class="btn btn-bare small"
          @click="tried(() => removeFile(f.id, of, id))"
        >
          {{ $t('instrument-list-remove') }}
        </button>
      </li>
    </ul>
    <div v-if="works" class="row tight">
      <input
        v-model="caption"
        class="input"
        :aria-label="$t('no-figure-form-what-it-shows')"
        :placeholder="$t('file-list-what-it-shows')"
      />
      <label v-if="of === 'job'" class="check small"
        ><input v-model="onRecord" type="checkbox" name="file-on-record" /> {{ $t('file-list-on-the-record-2') }}</label
      >
      <label class="btn"
        >{{ $t('file-list-take-a-photo')
        }}<input class="sr-only" type="file" accept="image/*" capture="environment" :disabled="busy" @change="chosen"
      /></label>
      <label class="btn"
        >{{ $t('file-list-choose-a-file')
        }}<input
          class="sr-only"
          type="file"
          name="file"
          accept="image/jpeg,image/png,image/webp,application/pdf"
          multiple
          :disabled="busy"
          @change="chosen"
      /></label>
    </div>
    <RefusalNote :failure="failure" />
    <p v-if="!data?.length && !works" class="small quiet">{{ $t('owner-none') }}</p>
  </section>
</template>

<style scoped>
.files {
  display: flex;
  flex-direction: column;
  gap: 0.4rem;
}
.head {
  font-size: 1rem;
}
.pictures {
  display: flex;
  flex-wrap: wrap;
  gap: 0.6rem;
}
.pictures li {
  display: flex;
  flex-direction: column;
  max-width: 9rem;
}
.pictures img {
  width: 9rem;
  height: 6.5rem;
  object-fit: cover;
  border: 1px solid var(--rule);
}
.input {
  width: 11rem;
}
label.btn:focus-within {
  outline: 3px solid var(--focus);
  outline-offset: 2px;
}
</style>
