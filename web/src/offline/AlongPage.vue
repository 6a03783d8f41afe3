<script setup lang="ts">
import Button from 'primevue/button'
import { computed, onMounted, ref } from 'vue'
import { useRoute } from 'vue-router'
import ScalePicker from '../scales/ScalePicker.vue'
import { session } from '../state/session'
import { useTried } from '../state/tried'
import { momentText, rounded } from '../ui/format'
import RefusalNote from '../ui/RefusalNote.vue'
import DeviceLock from './DeviceLock.vue'
import DeviceList from './DeviceList.vue'
import UnsentList from './UnsentList.vue'
import { carried, leaveBehind, room, rowOf, takeAlong, taking } from './along'
import { connection } from './connection'
import { hasCore } from './core'
import { held } from './held'
import { vault } from './vault'

// What this device takes along, and what of it is not home yet.
const route = useRoute()
const brought = typeof route.query.scales === 'string' ? route.query.scales.split(',').filter(Boolean) : []
const chosen = ref<string[]>(brought)
const { failure, busy, tried } = useTried()
const along = computed(() => carried.along.value?.scales ?? [])
const mine = computed(() => vault.lock.value?.person.id === session.person.value?.id)
const space = ref<{ used: number; of: number; persists: boolean } | null>(null)
const megabytes = (bytes: number): string => rounded(bytes / 1e6, 1)
const tight = computed(() => Boolean(space.value && space.value.of && space.value.used > 0.8 * space.value.of))
const A_DAY = 86_400_000
const old = (at: string): boolean => Date.now() - Date.parse(at) > A_DAY

async function look(): Promise<void> {
  space.value = await room()
}
onMounted(look)
async function take(ids: string[]): Promise<void> {
  if (await tried(async () => takeAlong(await Promise.all(ids.map(rowOf))))) chosen.value = []
  await look()
}
</script>

<template>
  <main id="main" class="along">
    <section class="stack">
      <h1>{{ $t('along-on-this-device') }}</h1>
      <p v-if="!hasCore || !vault.possible" class="note note-caution">
        {{ hasCore ? $t('along-needs-https') : $t('along-no-core') }}
      </p>
      <DeviceLock v-else-if="!mine" />
      <template v-else>
        <UnsentList />
        <template v-if="along.length">
          <h2>{{ $t('along-taken-along') }}</h2>
          <ul class="list">
            <li v-for="s in along" :key="s.row.sheet.id">
              <span class="grow"
                ><strong>{{ s.row.sheet.name }}</strong>
                <span class="quiet">{{ s.row.sheet.owner }}, {{ s.row.sheet.place }}</span
                ><br /><span class="small" :class="old(s.at) ? 'old' : 'quiet'">{{
                  $t(old(s.at) ? 'along-as-of-old' : 'along-as-of', { at: momentText(s.at) })
                }}</span></span
              ><button type="button" class="btn btn-bare" @click="leaveBehind(s.row.sheet.id)">
                {{ $t('along-leave-behind') }}
              </button>
            </li>
          </ul>
          <div>
            <Button
              type="button"
              :disabled="busy || !connection.answers.value"
              @click="take(along.map((s) => s.row.sheet.id))"
              >{{ $t('along-bring-up-to-date') }}</Button
            >
          </div>
        </template>
        <p v-else-if="!held.all.value.length" class="quiet">{{ $t('along-nothing-taken-yet') }}</p>
        <p v-if="space?.of" class="small quiet">
          {{ $t('along-space', { used: megabytes(space.used), of: megabytes(space.of / 1000) }) }}
          {{ space.persists ? $t('along-persists') : $t('along-may-be-cleared') }}
        </p>
        <p v-if="tight" class="note note-caution">{{ $t('along-nearly-full') }}</p>
      </template>
      <p>
        <RouterLink :to="{ name: 'came-home' }">{{ $t('along-what-came-home') }}</RouterLink>
      </p>
      <DeviceList v-if="connection.answers.value" />
    </section>
    <section v-if="mine" class="pick stack tight">
      <h2>{{ $t('along-take-scales-along') }}</h2>
      <p v-if="!connection.answers.value" class="note">{{ $t('along-only-with-the-server') }}</p>
      <template v-else>
        <ScalePicker v-model="chosen" />
        <div class="row">
          <Button
            type="button"
            :class="held.unsent.value ? '' : 'btn-next'"
            :disabled="busy || !chosen.length"
            @click="take(chosen)"
            >{{
              taking
                ? $t('along-taking', { done: taking.done, of: taking.of })
                : $t('along-take-no-scales', { no: chosen.length })
            }}</Button
          >
        </div>
        <RefusalNote :failure="failure" />
      </template>
    </section>
  </main>
</template>

<style scoped>
.along {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  flex: 1;
}
.along > section {
  padding: 1rem 1.25rem;
}
.pick {
  background: var(--sheet);
  border-left: 1px solid var(--rule);
}
.list li {
  display: flex;
  gap: 1rem;
  align-items: center;
  border-bottom: 1px solid var(--rule-2);
  padding: 0.2rem 0;
}
.grow {
  flex: 1;
  min-width: 0;
}
.old {
  color: var(--caution);
}
@media (max-width: 56rem) {
  .along {
    grid-template-columns: 1fr;
  }
  .pick {
    border-left: none;
    border-top: 1px solid var(--rule);
  }
}
</style>
