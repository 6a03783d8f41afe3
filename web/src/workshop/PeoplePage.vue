<script setup lang="ts">
import Button from 'primevue/button'
import { computed, reactive, ref } from 'vue'
import { endFactorOf } from '../api/factors'
import { reduceMember, changeMember, invite, passwordLink, usePeople } from '../api/people'
import { useReminders } from '../api/reminders'
import { useVocabulary } from '../api/scales'
import type { LinkMade, Member, Role } from '../api/types'
import RefusalNote from '../ui/RefusalNote.vue'
import SessionList from './SessionList.vue'
import TextField from '../ui/TextField.vue'
import { useTried } from '../state/tried'
import { momentText, roleWord } from '../ui/format'
import { vCards } from '../ui/cards'

// Who works here, and as what; for managers.
const { data, error } = usePeople()
const { data: words } = useVocabulary()
const { data: reminders } = useReminders()
const roles = computed(() => words.value?.roles ?? [])
const fresh = reactive({ name: '', email: '', roles: ['technician'] as Role[] })
const made = ref<{ link: LinkMade; whose: string } | null>(null)
const inviting = useTried()
const changing = useTried()
const address = (link: LinkMade) => `${location.origin}${link.path}`

async function send(): Promise<void> {
  await inviting.tried(async () => {
    const link = await invite(fresh.name, fresh.roles, fresh.email)
    made.value = { link, whose: fresh.name }
    fresh.name = fresh.email = ''
    fresh.roles = ['technician']
  })
}
async function reset(m: Member): Promise<void> {
  await changing.tried(async () => {
    made.value = { link: await passwordLink(m.id), whose: m.name }
  })
}
function turn(m: Member, role: Role): void {
  const now = m.roles.includes(role) ? m.roles.filter((r) => r !== role) : [...m.roles, role]
  void changing.tried(() => changeMember(m.id, now, m.active))
}
</script>

<template>
  <main id="main" class="people stack">
    <h1>{{ $t('common-people') }}</h1>
    <p v-if="error" class="note note-wrong" role="alert">{{ error.message }}</p>
    <template v-if="data">
      <form class="row end" @submit.prevent="send">
        <TextField
          id="invite-name"
          v-model="fresh.name"
          :label="$t('people-invite-name-as-it-is')"
          :wrong="inviting.wrong('name')"
        />
        <TextField
          v-if="reminders?.mail"
          id="invite-email"
          v-model="fresh.email"
          :label="$t('people-send-the-link-to-empty')"
          :wrong="inviting.wrong('email')"
        />
        <fieldset class="roles">
          <legend class="small">{{ $t('people-roles') }}</legend>
          <label v-for="r in roles" :key="r" class="check"
            ><input v-model="fresh.roles" type="checkbox" :value="r" :name="`invite-${r}`" /> {{ roleWord(r) }}</label
          >
        </fieldset>
        <Button type="submit" class="btn-next">{{ $t('people-make-an-invitation') }}</Button>
      </form>
      <p v-if="inviting.wrong('roles')" class="wrong" role="alert">{{ inviting.wrong('roles') }}</p>
      <RefusalNote :failure="inviting.general(['name', 'roles', 'email'])" />
      <p v-if="made" class="note" role="status" data-testid="link">
        {{
          $t('people-for-whose-until-expires-at', { whose: made.whose, expires_at: momentText(made.link.expires_at) })
        }}
        <span class="figure address">{{ address(made.link) }}</span>
      </p>
      <p class="small quiet">
        {{ $t('people-a-technician-works-and-signs') }}
      </p>
      <table v-cards>
        <thead>
          <tr>
            <th scope="col">{{ $t('common-name') }}</th>
            <th scope="col">{{ $t('people-signs-in-as') }}</th>
            <th scope="col">{{ $t('people-roles') }}</th>
            <th scope="col">{{ $t('people-sessions') }}</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="m in data.members" :key="m.id" :class="{ gone: !m.active }">
            <td>
              {{ m.name }}<span v-if="!m.active" class="quiet">{{ $t('people-signs-in-no-more') }}</span>
            </td>
            <td class="figure">{{ m.sign_in }}</td>
            <td>
              <label v-for="r in roles" :key="r" class="check inline"
                ><input
                  type="checkbox"
                  :checked="m.roles.includes(r)"
                  :disabled="!m.active"
                  :aria-label="`${m.name}: ${roleWord(r)}`"
                  @click.prevent="turn(m, r)"
                />
                {{ roleWord(r) }}</label
              >
            </td>
            <td class="figure">{{ m.sessions }}</td>
            <td class="row tight">
              <Button v-if="m.second_factor" type="button" @click="changing.tried(() => endFactorOf(m.id))">{{
                $t('people-remove-second-factor')
              }}</Button><Button v-if="m.active" type="button" @click="reset(m)">{{
                $t('audit-link-for-a-new-password')
              }}</Button
              ><Button type="button" @click="changing.tried(() => changeMember(m.id, m.roles, !m.active))">{{
                m.active ? $t('people-deactivate') : $t('people-activate')
              }}</Button
              ><Button v-if="!m.active && m.sign_in" type="button" @click="changing.tried(() => reduceMember(m.id))">{{
                $t('people-delete-personal-data')
              }}</Button>
            </td>
          </tr>
        </tbody>
      </table>
      <RefusalNote :failure="changing.failure.value" />
      <template v-if="data.invitations.length">
        <h2>{{ $t('people-waiting') }}</h2>
        <ul>
          <li v-for="(i, n) in data.invitations" :key="n">
            {{
              $t('people-name-what-until-expires-at', {
                name: i.name,
                what: i.reset ? $t('people-a-new-password') : i.roles.map(roleWord).join(' and '),
                expires_at: momentText(i.expires_at),
              })
            }}
          </li>
        </ul>
      </template>
      <SessionList :all="true" />
    </template>
  </main>
</template>

<style scoped>
.people {
  padding: 1rem 1.25rem 2rem;
  max-width: 76rem;
}
.roles {
  display: flex;
  gap: 0.8rem;
  border: 0;
  padding: 0;
  flex-wrap: wrap;
}
.inline {
  display: inline-flex;
  margin-right: 0.9rem;
}
.address {
  overflow-wrap: anywhere;
}
.gone td {
  opacity: 0.7;
}
th,
td {
  text-align: left;
  padding: 0.4rem 1.2rem 0.4rem 0;
  vertical-align: middle;
}
</style>
