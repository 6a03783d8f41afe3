<script setup lang="ts">
import Button from 'primevue/button'
import { ref } from 'vue'
import { beginFactor, confirmFactor, endFactor, useFactor } from '../api/factors'
import type { FactorBegun } from '../api/types'
import { useTried } from '../state/tried'
import RefusalNote from '../ui/RefusalNote.vue'
import TextField from '../ui/TextField.vue'

// A second factor by time: begun with the password, counted when a code of it was given.
const { data } = useFactor()
const password = ref('')
const code = ref('')
const begun = ref<FactorBegun | null>(null)
const codes = ref<string[]>([])
const work = useTried()

async function begin(): Promise<void> {
  await work.tried(async () => {
    begun.value = await beginFactor(password.value)
    password.value = ''
  })
}
async function confirm(): Promise<void> {
  await work.tried(async () => {
    codes.value = await confirmFactor(code.value)
    begun.value = null
    code.value = ''
  })
}
async function end(): Promise<void> {
  await work.tried(async () => {
    await endFactor(password.value)
    password.value = ''
    codes.value = []
  })
}
const picture = (svg: string) => `data:image/svg+xml,${encodeURIComponent(svg)}`
</script>

<template>
  <section class="stack tight factor" aria-labelledby="factor">
    <h2 id="factor">{{ $t('second-factor-second-factor') }}</h2>
    <p v-if="data?.on" role="status">
      {{ $t('second-factor-on-signing-in-asks-for') }}
      <span :class="{ wrong: data.codes_left < 3 }">{{
        $t('second-factor-codes-left-recovery-codes-left', {
          codes_left: data.codes_left,
        })
      }}</span>
    </p>
    <p v-else class="quiet">
      {{ $t('second-factor-off-with-it-signing-in') }}
    </p>
    <div v-if="codes.length" class="note" role="status" data-testid="codes">
      <p>
        <strong>{{ $t('second-factor-recovery-codes') }}</strong> {{ $t('second-factor-each-works-once-in-place') }}
      </p>
      <ul class="codes figure">
        <li v-for="c in codes" :key="c">{{ c }}</li>
      </ul>
    </div>
    <form v-if="begun" class="stack tight" @submit.prevent="confirm">
      <p>{{ $t('second-factor-take-this-picture-with-your') }}</p>
      <img v-if="begun.qr" :src="picture(begun.qr)" :alt="$t('second-factor-the-secret-as-a-picture')" class="qr" />
      <p class="figure secret" data-testid="secret">{{ begun.secret }}</p>
      <TextField
        id="factor-code"
        v-model="code"
        :label="$t('second-factor-the-six-digits-that-it')"
        figure
        autocomplete="one-time-code"
        :wrong="work.wrong('code')"
      />
      <div class="row">
        <Button type="submit" class="btn-next">{{ $t('second-factor-switch-it-on') }}</Button>
      </div>
    </form>
    <form v-else class="stack tight" @submit.prevent="data?.on ? end() : begin()">
      <TextField
        id="factor-password"
        v-model="password"
        :label="$t('program-tokens-your-password')"
        type="password"
        autocomplete="current-password"
        :wrong="work.wrong('password')"
      />
      <div class="row">
        <Button type="submit">{{
          data?.on ? $t('second-factor-switch-it-off') : $t('second-factor-set-it-up')
        }}</Button>
      </div>
    </form>
    <RefusalNote :failure="work.general(['password', 'code'])" />
  </section>
</template>

<style scoped>
.factor {
  max-width: 34rem;
  margin-bottom: 1.5rem;
}
.codes {
  columns: 2;
  margin-top: 0.5rem;
}
.qr {
  width: 12rem;
  background: #fff;
  padding: 0.5rem;
}
.secret {
  white-space: normal;
  overflow-wrap: anywhere;
}
</style>
