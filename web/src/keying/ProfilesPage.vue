<script setup lang="ts">
import { v7 as uuidv7 } from 'uuid'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { keepProfile, useProfiles } from '../api/profiles'
import SessionsOfTeaching from '../teach/SessionsOfTeaching.vue'
import RefusalNote from '../ui/RefusalNote.vue'
import { session } from '../state/session'
import { useTried } from '../state/tried'
import { dayText } from '../ui/format'
import { vCards } from '../ui/cards'

const router = useRouter()
const { data: rows, error, isPending } = useProfiles()
const works = computed(() => session.has('technician'))
const { failure, tried } = useTried()
const problems = computed(() => failure.value?.problem?.problems ?? [])
const picked = ref<HTMLInputElement | null>(null)

async function take(event: Event): Promise<void> {
  const field = event.target as HTMLInputElement
  const file = field.files?.[0]
  if (!file) return
  await tried(async () => {
    const kept = await keepProfile({ id: uuidv7(), text: await file.text(), edition: 0, file_name: file.name })
    await router.push({ name: 'profile', params: { profile: kept.id } })
  })
  field.value = ''
}
</script>

<template>
  <main id="main" class="list stack">
    <div class="row">
      <h1>{{ $t('profiles-profiles-of-indicators') }}</h1>
      <span class="push"></span>
      <template v-if="works">
        <input
          ref="picked"
          class="sr-only"
          type="file"
          accept=".toml"
          tabindex="-1"
          :aria-label="$t('profiles-a-profile-s-file')"
          @change="take"
        />
        <button type="button" class="btn" @click="picked?.click()">{{ $t('profiles-take-in-a-profile') }}</button>
        <RouterLink class="btn btn-next" :to="{ name: 'teach' }">{{ $t('teach-an-indicator') }}</RouterLink>
        <RouterLink class="btn" :to="{ name: 'new-profile' }">{{ $t('common-new-profile') }}</RouterLink>
      </template>
    </div>
    <p class="quiet">
      {{ $t('profiles-a-profile-says-how-one') }}
    </p>
    <RefusalNote :failure="failure" />
    <ul v-if="problems.length" class="note note-wrong" data-testid="problems">
      <li v-for="p in problems" :key="`${p.line}${p.says}`">
        <span class="figure">{{ $t('profile-line-line', { line: p.line }) }}</span> {{ p.says }}
      </li>
    </ul>
    <p v-if="error" class="note note-wrong" role="alert">{{ error.message }}</p>
    <p v-else-if="isPending" class="quiet" role="status">{{ $t('common-looking') }}</p>
    <p v-else-if="!rows?.length" class="quiet">{{ $t('profiles-no-profile-yet-take-one') }}</p>
    <table v-else v-cards>
      <thead>
        <tr>
          <th scope="col">{{ $t('profiles-indicator') }}</th>
          <th scope="col">{{ $t('profiles-how-it-is-told-things') }}</th>
          <th scope="col" class="right">{{ $t('profiles-edition') }}</th>
          <th scope="col">{{ $t('profiles-changed') }}</th>
          <th scope="col">{{ $t('profiles-used-by') }}</th>
          <th scope="col">{{ $t('profiles-proven') }}</th>
          <th>
            <span class="sr-only">{{ $t('profile-file') }}</span>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.id">
          <th scope="row" class="name">
            <RouterLink :to="{ name: 'profile', params: { profile: row.id } }">{{ row.name }}</RouterLink>
          </th>
          <td class="about">{{ row.about }}</td>
          <td class="figure right">{{ row.edition }}</td>
          <td class="once">
            {{ dayText(row.changed_at) }}<br /><span class="small quiet">{{ row.changed_by }}</span>
          </td>
          <td>
            <template v-for="(s, i) in row.keyed.slice(0, 3)" :key="s.id"
              ><template v-if="i">, </template
              ><RouterLink :to="{ name: 'scale', params: { scale: s.id } }">{{ s.name }}</RouterLink></template
            ><RouterLink
              v-if="row.scales > 3"
              :to="{ name: 'profile', params: { profile: row.id }, query: { view: 'visits' } }"
            >
              {{ $t('profile-visits-and-more', { more: row.scales - 3 }) }}</RouterLink
            ><span v-if="!row.scales" class="quiet">{{ $t('profiles-used-by-none') }}</span>
          </td>
          <td class="once">
            <RouterLink :to="{ name: 'profile', params: { profile: row.id }, query: { view: 'visits' } }">
              <strong v-if="row.differed" class="wrong">{{ $t('profiles-differed', { count: row.differed }) }}</strong>
              <template v-else-if="row.proven">{{ $t('profiles-proven-on', { count: row.proven }) }}</template>
              <strong v-else>{{ $t('profiles-never-proven') }}</strong>
            </RouterLink>
            <p v-if="row.proven && row.proven_at" class="small quiet">
              {{ dayText(row.proven_at)
              }}<template v-if="(row.proven_edition ?? 0) < row.edition">
                · {{ $t('profile-edition-edition', { edition: row.proven_edition ?? 0 }) }}</template
              >
            </p>
          </td>
          <td class="right">
            <a class="btn btn-bare" :href="`/api/profiles/${row.id}/file`" download>{{ $t('profile-file') }}</a>
          </td>
        </tr>
      </tbody>
    </table>
    <SessionsOfTeaching />
  </main>
</template>

<style scoped>
.list {
  padding: 1rem 1.25rem 2rem;
}
.about {
  min-width: 14rem;
}
.once {
  white-space: nowrap;
}
.name {
  font-size: 1rem;
  color: var(--ink);
  white-space: nowrap;
  padding-right: 1.2rem;
}
</style>
