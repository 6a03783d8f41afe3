<script setup lang="ts">
import { useTeachings } from '../api/teaching'
import { dayText } from '../ui/format'
import { vCards } from '../ui/cards'

// Sessions in which indicators were taught: gone on with, or looked at as the evidence of a profile.
const { data: rows } = useTeachings()
</script>

<template>
  <section v-if="rows?.length" class="stack tight" data-testid="teachings">
    <h2>{{ $t('sessions-of-teaching-taught') }}</h2>
    <table v-cards>
      <thead>
        <tr>
          <th scope="col">{{ $t('profiles-indicator') }}</th>
          <th scope="col">{{ $t('profiles-changed') }}</th>
          <th scope="col">{{ $t('router-profile') }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.id">
          <th scope="row">
            <RouterLink :to="{ name: 'teach', params: { session: row.id } }">{{ row.name }}</RouterLink>
          </th>
          <td>
            {{ dayText(row.changed_at) }} <span class="small quiet">{{ row.changed_by }}</span>
          </td>
          <td>
            <RouterLink v-if="row.profile" :to="{ name: 'profile', params: { profile: row.profile } }">{{
              $t('draft-side-its-profile')
            }}</RouterLink>
            <span v-else class="quiet">{{ $t('sessions-of-teaching-not-yet') }}</span>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>
