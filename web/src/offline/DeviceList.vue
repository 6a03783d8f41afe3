<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, settled } from '../api/client'
import { queryClient } from '../api/queries'
import { useTried } from '../state/tried'
import { dayText } from '../ui/format'
import RefusalNote from '../ui/RefusalNote.vue'
import { vault } from './vault'

// Devices that take jobs along; one that was lost is shut out, and forgets what it has at its next contact.
const { data } = useQuery({ queryKey: ['devices'], queryFn: () => settled(api.GET('/api/offline/devices')) })
const open = computed(() => data.value?.filter((d) => !d.revoked_at) ?? [])
const { failure, tried } = useTried()
const block = (id: string) =>
  tried(async () => {
    await settled(api.DELETE('/api/offline/devices/{id}', { params: { path: { id } } }))
    await queryClient.invalidateQueries({ queryKey: ['devices'] })
  })
</script>

<template>
  <details v-if="open.length">
    <summary class="opens">{{ $t('device-list-devices', { no: open.length }) }}</summary>
    <ul>
      <li v-for="d in open" :key="d.id" class="row">
        <span
          >{{ d.name }}
          <span v-if="d.id === vault.lock.value?.device" class="quiet">{{ $t('device-list-this') }}</span><br /><span
            class="small quiet"
            >{{ $t('device-list-of-person-last-seen', { person: d.person, at: dayText(d.seen_at) }) }}</span
          ></span
        ><span class="push"></span
        ><button type="button" class="btn btn-bare" @click="block(d.id)">{{ $t('device-list-block') }}</button>
      </li>
    </ul>
    <RefusalNote :failure="failure" />
  </details>
</template>
