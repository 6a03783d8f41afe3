<script setup lang="ts">
import { useVersions } from '../api/papers'
import { momentText, outcomeWord } from '../ui/format'

// Every version of a record as it was frozen; the newest stands first.
const props = defineProps<{ job: string; entries: number }>()
const { data } = useVersions(
  () => props.job,
  () => props.entries,
)
</script>

<template>
  <section v-if="data && data.length > 1" class="versions no-print">
    <h2>Versions</h2>
    <table>
      <thead>
        <tr>
          <th scope="col">Number</th>
          <th scope="col">Signed</th>
          <th scope="col">Approved</th>
          <th scope="col">Came to</th>
          <th scope="col">As it was frozen</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(v, i) in data" :key="v.version">
          <td class="figure">{{ v.number }}</td>
          <td>{{ momentText(v.signed_at) }}</td>
          <td>{{ v.approved_at ? momentText(v.approved_at) : 'no' }}</td>
          <td>{{ outcomeWord(v.outcome) }}</td>
          <td>
            <a :href="`/api/jobs/${job}/certificate?version=${v.version}`" download>PDF</a> ·
            <a :href="`/api/jobs/${job}/file?version=${v.version}`" download>job file</a
            ><template v-if="data[i + 1]">
              ·
              <RouterLink
                :to="{
                  name: 'compare',
                  query: { one: `${job}.${data[i + 1]?.version}`, other: `${job}.${v.version}` },
                }"
                >beside {{ data[i + 1]?.number }}</RouterLink
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
