<script setup lang="ts">
import { nextTick, onMounted, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { useVocabulary } from '../api/scales'
import type { Parameter, Profile, ProfileProblem } from '../api/types'
import ItemForm from './ItemForm.vue'

// The items of the menu in the order in which they are keyed; one at a time is open.
const form = defineModel<Profile>({ required: true })
const props = defineProps<{ problems: ProfileProblem[]; wrong: (at: string) => string }>()
const route = useRoute()
const { data: words } = useVocabulary()
const open = ref<number | null>(null)
const rows = ref<HTMLElement | null>(null)

const meaningWord = (p: Parameter) => words.value?.meanings.find((m) => m.value === p.meaning)?.label ?? ''
const around = (p: Parameter): string => {
  const group = form.value.group?.find((g) => g.id === p.inside)
  return group ? `${group.label} › ` : ''
}
function entered(p: Parameter): string {
  if (p.options?.length) return p.options.map((o) => `${o.is} = ${o.shows}`).join(' · ')
  return p.digits ? '0'.repeat(p.digits) : ''
}
const bad = (at: number): boolean => props.problems.some((p) => p.at.startsWith(`parameter.${at}.`))
function move(from: number, by: number): void {
  const list = form.value.parameter
  const [moved] = list.splice(from, 1)
  if (moved) list.splice(from + by, 0, moved)
  if (open.value === from) open.value = from + by
}
function remove(at: number): void {
  form.value.parameter.splice(at, 1)
  open.value = null
}
function add(): void {
  form.value.parameter.push({ meaning: 'other', label: '', point: 1, per_pad: false, options: [], typed: false })
  open.value = form.value.parameter.length - 1
}
// From a visit one comes to the item that differed there.
async function find(): Promise<void> {
  const at = form.value.parameter.findIndex((p) => p.label === route.query.item)
  if (at < 0) return
  open.value = at
  await nextTick()
  rows.value?.querySelector(`[data-item='${at}']`)?.scrollIntoView({ block: 'start' })
}
onMounted(find)
watch(() => route.query.item, find)
</script>

<template>
  <section class="stack tight">
    <h2>{{ $t('profile-items-items') }}</h2>
    <ol ref="rows" class="items">
      <li v-for="(p, at) in form.parameter" :key="at" :data-item="at" :class="{ bad: bad(at) }">
        <div class="row tight head">
          <button
            type="button"
            class="btn btn-bare grow"
            :aria-expanded="open === at"
            @click="open = open === at ? null : at"
          >
            <span class="quiet figure">{{ around(p) }}</span><strong class="figure">{{ p.label || '?' }}</strong>
            {{ meaningWord(p) }}{{ p.point! > 1 ? ` ${p.point}` : '' }}
            <span class="small quiet figure">{{ entered(p) }}</span>
          </button>
          <template v-if="open === at">
            <button
              type="button"
              class="btn btn-bare"
              :disabled="at === 0"
              :aria-label="$t('profile-items-up')"
              @click="move(at, -1)"
            >
              ↑
            </button>
            <button
              type="button"
              class="btn btn-bare"
              :disabled="at === form.parameter.length - 1"
              :aria-label="$t('profile-items-down')"
              @click="move(at, 1)"
            >
              ↓
            </button>
            <button type="button" class="btn btn-bare" @click="remove(at)">{{ $t('common-remove') }}</button>
          </template>
        </div>
        <ItemForm
          v-if="open === at"
          v-model="form.parameter[at]!"
          :groups="form.group ?? []"
          :wrong="(field: string) => wrong(`parameter.${at}.${field}`)"
        />
      </li>
    </ol>
    <p v-if="wrong('parameter')" class="wrong" role="alert">{{ wrong('parameter') }}</p>
    <button type="button" class="btn start" @click="add">{{ $t('profile-items-add') }}</button>
  </section>
</template>

<style scoped>
li {
  border-top: 1px solid var(--rule-2);
  border-left: 5px solid transparent;
  padding-left: 0.4rem;
}
li.bad {
  border-left-color: var(--light-ink);
}
.grow {
  flex: 1;
  text-align: left;
  justify-content: flex-start;
  gap: 0.5rem;
  flex-wrap: wrap;
  font-weight: 400;
}
.start {
  align-self: flex-start;
}
</style>
