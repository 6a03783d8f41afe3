<script setup lang="ts">
import { useVersions } from '../api/papers'
import { momentText, outcomeWord } from '../ui/format'
import { vCards } from '../ui/cards'

// Every version of a record as it was frozen; the newest stands first.
const props = defineProps<{ job: string; entries: number }>()
const { data } = useVersions(
  () => props.job,
  () => props.entries,
)
</script>

<template>
  <section v-if="data && data.length > 1" class="versions no-print">
    <h2>{{ $t('version-list-versions') }}</h2>
    <table v-cards>
      <thead>
        <tr>
          <th scope="col">{{ $t('version-list-number') }}</th>
          <th scope="col">{{ $t('common-signed') }}</th>
          <th scope="col">{{ $t('common-approved') }}</th>
          <th scope="col">{{ $t('version-list-came-to') }}</th>
          <th scope="col">{{ $t('version-list-as-it-was-frozen') }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(v, i) in data" :key="v.version">
          <td class="figure">{{ v.number }}</td>
          <td>{{ momentText(v.signed_at) }}</td>
          <td>{{ v.approved_at ? momentText(v.approved_at) : $t('common-no') }}</td>
          <td>{{ outcomeWord(v.outcome) }}</td>
          <td>
            <a :href="`/api/jobs/${job}/certificate?version=${v.version}`" download>{{ $t('version-list-pdf') }}</a> ·
            <a :href="`/api/jobs/${job}/file?version=${v.version}`" download>{{
              $t('version-list-job-file')
            }}</a><template v-if="data[i + 1]">
              ·
              <RouterLink
                :to="{
                  name: 'compare',
                  query: { one: `${job}.${data[i + 1]?.version}`, other: `${job}.${v.version}` },
                }"
                >{{ $t('version-list-beside-number', { number: data[i + 1]?.number }) }}</RouterLink
              ></template
            >
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.versions {
  width: min(52rem, 100%);
}
</style>
