<script setup lang="ts">
import Button from 'primevue/button'
import { computed, defineAsyncComponent, nextTick, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import RefusalNote from '../ui/RefusalNote.vue'
import VirtualIndicator from './VirtualIndicator.vue'
import { session } from '../state/session'
import KeyMoves from './KeyMoves.vue'
import ProfileCompare from './ProfileCompare.vue'
import ProfileForm from './ProfileForm.vue'
import ProfileVisits from './ProfileVisits.vue'
import { useProfileText } from './useProfileText'

// Whoever does not write TOML does not load its editor.
const ProfileToml = defineAsyncComponent(() => import('./ProfileToml.vue'))
const props = defineProps<{ profile?: string }>()
const router = useRouter()
const route = useRoute()
const { data, error, text, checked, form, changed, sending, keep } = useProfileText(() => props.profile)
const { failure, busy } = sending
const works = computed(() => session.has('technician'))
const VIEWS = ['form', 'text', 'compare', 'visits'] as const
type View = (typeof VIEWS)[number]
const views = computed(() => VIEWS.filter((v) => props.profile || v === 'form' || v === 'text'))
const view = computed<View>(() => views.value.find((v) => v === route.query.view) ?? 'form')
const show = (v: View) => router.replace({ query: v === 'form' ? {} : { view: v } })
const line = ref(Number(route.query.line ?? 0))
async function toLine(wanted: number): Promise<void> {
  line.value = 0
  await show('text')
  await nextTick()
  line.value = wanted
}

async function save(): Promise<void> {
  const id = await keep()
  if (id && !props.profile) await router.replace({ name: 'profile', params: { profile: id } })
}
// What a span of the sample is captured with.
const spanWeight = computed(() => {
  const acts = checked.value?.sample?.steps.find((s) => s.phase === 'span' && s.platform)?.acts ?? []
  const load = acts.find((a) => a.act === 'load')
  return load?.act === 'load' ? String(load.what) : undefined
})
</script>

<template>
  <main id="main" class="desk">
    <p v-if="error" class="note note-wrong" role="alert">{{ error.message }}</p>
    <section class="left stack tight">
      <div class="row">
        <h1>{{ checked?.profile?.name ?? data?.name ?? $t('common-new-profile') }}</h1>
        <span v-if="data" class="quiet figure">{{
          $t('profile-edition-edition', { edition: data.edition })
        }}</span><span class="push"></span
        ><a v-if="data" class="btn btn-bare" :href="`/api/profiles/${data.id}/file`" download>{{
          $t('profile-file')
        }}</a
        ><RouterLink class="btn btn-bare" :to="{ name: 'profiles' }">{{ $t('profile-all-profiles') }}</RouterLink>
      </div>
      <div class="row tight" role="group" :aria-label="$t('profile-view')">
        <button
          v-for="v in views"
          :key="v"
          type="button"
          class="btn"
          :aria-pressed="view === v"
          :data-view="v"
          @click="show(v)"
        >
          {{ $t(`profile-view-${v}`) }}
        </button>
      </div>
      <RefusalNote :failure="failure" />
      <ul v-if="checked?.problems.length" class="note note-wrong" data-testid="problems" role="alert">
        <li v-for="p in checked.problems" :key="`${p.line}${p.says}`">
          <button v-if="view !== 'form'" type="button" class="line figure" @click="toLine(p.line)">
            {{ $t('profile-line-line', { line: p.line }) }}
          </button>
          {{ p.says }}
        </li>
      </ul>
      <div v-if="works && view !== 'visits'" class="row save">
        <Button
          type="button"
          :class="changed || !data ? 'btn-next' : ''"
          :disabled="busy || Boolean(checked?.problems.length) || (Boolean(data) && !changed)"
          @click="save"
          >{{ data ? $t('profile-keep-as-a-new-edition') : $t('profile-keep-the-profile') }}</Button><span
          v-if="checked && !checked.problems.length"
          class="quiet"
          role="status"
          >{{
            data && !changed ? $t('profile-nothing-is-wrong-with-it-2') : $t('profile-nothing-is-wrong-with-it')
          }}</span
        ><span v-else-if="checked" class="quiet">{{ $t('profile-put-the-lines-above-right') }}</span>
      </div>
      <template v-if="view === 'form'">
        <ProfileForm v-if="form" v-model="form" :problems="checked?.problems ?? []" :readonly="!works" />
        <p v-else-if="checked" class="quiet">{{ $t('profile-form-comes-when') }}</p>
      </template>
      <ProfileToml
        v-else-if="view === 'text'"
        v-model="text"
        :line="line"
        :problems="checked?.problems ?? []"
        :readonly="!works"
      />
      <template v-else-if="profile && data">
        <ProfileCompare v-if="view === 'compare'" v-model="text" :profile="profile" :edition="data.edition" />
        <ProfileVisits v-else :profile="profile" :edition="data.edition" />
      </template>
    </section>
    <section v-if="checked?.profile" class="preview stack">
      <h2>{{ $t('profile-try-it') }}</h2>
      <VirtualIndicator :profile="checked.profile" :what="{ text }" :weight="spanWeight" />
      <template v-if="checked.sample">
        <h2>
          {{ $t('profile-a-sheet-made-from-it') }}
          <span class="small quiet figure">{{
            $t('keying-presses-presses-naive-without-thinking', {
              presses: checked.sample.presses,
              naive: checked.sample.naive,
            })
          }}</span>
        </h2>
        <ol class="steps">
          <li v-for="s in checked.sample.steps" :key="s.number">
            <p>
              <span class="figure quiet">{{ s.number }}</span> <strong>{{ s.title }}</strong>
            </p>
            <KeyMoves :step="s" />
          </li>
        </ol>
      </template>
      <p v-else class="quiet">{{ $t('profile-none-of-the-sample-plans') }}</p>
    </section>
    <p v-else class="preview quiet">{{ $t('profile-the-preview-comes-when-nothing') }}</p>
  </main>
</template>

<style scoped>
.desk {
  display: grid;
  grid-template-columns: minmax(0, 1.1fr) minmax(0, 1fr);
  flex: 1;
  min-height: 0;
}
.left {
  padding: 1rem 1.25rem;
  overflow: auto;
  max-height: calc(100vh - 3.2rem);
}
.preview {
  padding: 1rem 1.25rem;
  border-left: 1px solid var(--rule);
  background: var(--sheet);
  overflow: auto;
  max-height: calc(100vh - 3.2rem);
}
/* However far down one works, what is changed can be saved. */
.save {
  position: sticky;
  top: -1rem;
  z-index: 2;
  background: var(--paper);
  padding: 0.3rem 0;
}
.line {
  font: inherit;
  background: none;
  border: none;
  text-decoration: underline;
  cursor: pointer;
  color: inherit;
  min-height: 1.9rem;
}
.steps {
  display: flex;
  flex-direction: column;
  gap: 0.8rem;
}
@media (max-width: 56rem) {
  .desk {
    grid-template-columns: 1fr;
  }
  .left {
    max-height: none;
  }
  .preview {
    border-left: none;
    border-top: 1px solid var(--rule);
    max-height: none;
  }
}
</style>
