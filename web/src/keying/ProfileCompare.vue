<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref, watch } from 'vue'
import { compareProfiles, mergeProfiles, readEdition, readProfile, useEditions, useProfiles } from '../api/profiles'
import { useVocabulary } from '../api/scales'
import type { ProfileDifference } from '../api/types'
import { useTried } from '../state/tried'
import { dayText } from '../ui/format'
import RefusalNote from '../ui/RefusalNote.vue'
import { say } from '../words'

// In what another profile, or an earlier edition, differs; any part of it can be taken over.
const text = defineModel<string>({ required: true })
const props = defineProps<{ profile: string; edition: number }>()
const { data: editions } = useEditions(() => props.profile)
const { data: rows } = useProfiles()
const { data: words } = useVocabulary()
const { failure, busy, tried } = useTried()
const other = ref('')
const there = ref('')
const differences = ref<ProfileDifference[] | null>(null)
const chosen = ref<number[]>([])
const taken = ref(0)

async function look(): Promise<void> {
  differences.value = null
  chosen.value = []
  if (!other.value) return
  await tried(async () => {
    const [kind, which] = other.value.split(' ') as [string, string]
    const found = await (kind === 'edition' ? readEdition(props.profile, Number(which)) : readProfile(which))
    there.value = found.text
    differences.value = await compareProfiles(text.value, there.value)
  })
}
watch(other, () => {
  taken.value = 0
  void look()
})
async function take(): Promise<void> {
  const parts = chosen.value.flatMap((at) => differences.value?.[at]?.part ?? [])
  const done = await tried(async () => {
    text.value = await mergeProfiles(text.value, there.value, parts)
  })
  if (!done) return
  await look()
  taken.value = parts.length
}
function called(d: ProfileDifference): string {
  const name = d.here ?? d.there ?? ''
  if (d.part.part !== 'item') return `${say(`profile-part-${d.part.part.replaceAll('_', '-')}`)} ${name}`.trim()
  const { meaning, point } = d.part
  const label = words.value?.meanings.find((m) => m.value === meaning)?.label ?? meaning
  return `${String(label)}${point > 1 ? ` ${point}` : ''} · ${name}`
}
const fieldWord = (field: string) => say(`profile-field-${field.replaceAll('_', '-')}`)
// What the profile says by a name of its own is told in words.
const NAMED = ['style', 'cursor', 'starts']
function shown(field: string, value: string): string {
  if (value === 'true') return say('common-yes')
  if (value && NAMED.includes(field)) return say(`profile-value-${value}`)
  if (value && field === 'how') return say(`ask-rest-save-${value.replace('_', '-')}`)
  return value || '–'
}
const all = computed(() => chosen.value.length === (differences.value?.length ?? 0))
const flip = () => (chosen.value = all.value ? [] : (differences.value ?? []).map((_, at) => at))
</script>

<template>
  <div class="stack tight" data-testid="compare">
    <div class="field">
      <label for="compare-with">{{ $t('profile-compare-with') }}</label>
      <select id="compare-with" v-model="other" class="input">
        <optgroup :label="$t('profile-compare-editions')">
          <option v-for="e in editions ?? []" :key="e.edition" :value="`edition ${e.edition}`">
            {{ $t('profile-edition-edition', { edition: e.edition }) }} · {{ dayText(e.changed_at) }} ·
            {{ e.changed_by }}
          </option>
        </optgroup>
        <optgroup :label="$t('profile-compare-others')">
          <option v-for="r in rows?.filter((r) => r.id !== profile) ?? []" :key="r.id" :value="`profile ${r.id}`">
            {{ r.name }}
          </option>
        </optgroup>
      </select>
    </div>
    <RefusalNote :failure="failure" />
    <p v-if="taken" class="note note-good" role="status">{{ $t('profile-compare-taken', { count: taken }) }}</p>
    <p v-if="differences && !differences.length" role="status">{{ $t('profile-compare-nothing') }}</p>
    <template v-else-if="differences">
      <div class="scrolls">
        <table class="small">
          <thead>
            <tr>
              <th class="tick">
                <input type="checkbox" :checked="all" :aria-label="$t('profile-compare-take-all')" @change="flip" />
              </th>
              <th scope="col" class="part">{{ $t('profile-compare-part') }}</th>
              <th scope="col">{{ $t('profile-compare-here') }}</th>
              <th scope="col">{{ $t('profile-compare-there') }}</th>
            </tr>
          </thead>
          <tbody v-for="(d, at) in differences" :key="at">
            <tr>
              <td>
                <input v-model="chosen" type="checkbox" :value="at" :aria-label="called(d)" :data-take="at" />
              </td>
              <th scope="rowgroup">{{ called(d) }}</th>
              <td>{{ d.here === null ? $t('profile-compare-not-there') : '' }}</td>
              <td>{{ d.there === null ? $t('profile-compare-not-there') : '' }}</td>
            </tr>
            <tr v-for="(f, i) in d.here !== null && d.there !== null ? d.fields : []" :key="i">
              <td></td>
              <td class="quiet">{{ fieldWord(f.field) }}</td>
              <td class="figure">{{ shown(f.field, f.here) }}</td>
              <td class="figure">{{ shown(f.field, f.there) }}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <Button type="button" class="start" :disabled="busy || !chosen.length" @click="take">{{
        $t('profile-compare-take', { count: chosen.length })
      }}</Button>
    </template>
  </div>
</template>

<style scoped>
.scrolls {
  overflow-x: auto;
}
table {
  table-layout: fixed;
}
td,
th {
  vertical-align: top;
}
td.figure {
  white-space: normal;
  overflow-wrap: anywhere;
}
.tick {
  width: 2.2rem;
}
.part {
  width: 9rem;
}
.start {
  align-self: flex-start;
}
</style>
