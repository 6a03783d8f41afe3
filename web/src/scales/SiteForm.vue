<script setup lang="ts">
import { ref } from 'vue'
import { keepSite } from '../api/profiles'
import { useTried } from '../state/tried'
import RefusalNote from '../ui/RefusalNote.vue'
import TextField from '../ui/TextField.vue'

// A place with its latitude and altitude; folded away until one is needed.
const emit = defineEmits<{ kept: [name: string] }>()
const name = ref('')
const latitude = ref('')
const altitude = ref('')
const { general, tried, wrong } = useTried()

async function keep(): Promise<void> {
  await tried(async () => {
    emit('kept', (await keepSite({ name: name.value, latitude: latitude.value, altitude: altitude.value })).name)
    name.value = latitude.value = altitude.value = ''
  })
}
</script>

<template>
  <details>
    <summary>{{ $t('site-form-another-site') }}</summary>
    <div class="row site">
      <TextField id="site_name" v-model="name" :label="$t('site-form-name-of-the-site')" :wrong="wrong('site_name')" />
      <TextField
        id="latitude"
        v-model="latitude"
        :label="$t('site-form-latitude-north-above-zero')"
        :wrong="wrong('latitude')"
        figure
      />
      <TextField
        id="altitude_m"
        v-model="altitude"
        :label="$t('site-form-altitude-m')"
        :wrong="wrong('altitude_m')"
        figure
      />
      <button type="button" class="btn" @click="keep">{{ $t('site-form-keep-the-site') }}</button>
    </div>
    <RefusalNote :failure="general(['site_name', 'latitude', 'altitude_m'])" />
  </details>
</template>

<style scoped>
summary {
  cursor: pointer;
  min-height: var(--target);
}
.site {
  align-items: end;
}
</style>
