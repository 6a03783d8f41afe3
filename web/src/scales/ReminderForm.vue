<script setup lang="ts">
import Button from 'primevue/button'
import { reactive, ref, watch } from 'vue'
import { setReminders, useReminders } from '../api/reminders'
import { useTried } from '../state/tried'
import RefusalNote from '../ui/RefusalNote.vue'
import TextField from '../ui/TextField.vue'

// Reminders by mail, to customers and to the workshop: never twice for one due date.
defineProps<{ manages: boolean }>()
const { data } = useReminders()
const form = reactive({ days: '0', customers: false, workshop: '' })
const saved = ref(false)
const saving = useTried()
watch(
  data,
  (now) => {
    if (now)
      Object.assign(form, {
        days: String(now.rules.days ?? 0),
        customers: now.rules.customers ?? false,
        workshop: now.rules.workshop ?? '',
      })
  },
  { immediate: true },
)
async function save(): Promise<void> {
  saved.value = await saving.tried(() =>
    setReminders({ days: Number.parseInt(form.days, 10) || 0, customers: form.customers, workshop: form.workshop }),
  )
}
</script>

<template>
  <section v-if="data" class="reminders no-print" aria-labelledby="reminders">
    <h2 id="reminders">{{ $t('reminder-form-reminders-by-mail') }}</h2>
    <p v-if="!data.mail" class="small quiet">{{ $t('reminder-form-this-server-sends-no-mail') }}</p>
    <p class="small quiet">
      {{
        $t('reminder-form-days-each-due-date-is', {
          days: data.sent
            ? $t('reminder-form-sent-sent-in-the-last', { sent: data.sent })
            : $t('reminder-form-none-sent-in-the-last'),
        })
      }}
    </p>
    <form v-if="manages" class="stack tight form" @submit.prevent="save">
      <TextField
        id="reminder-days"
        v-model="form.days"
        :label="$t('reminder-form-days-before-a-scale-is')"
        figure
        :wrong="saving.wrong('days')"
      />
      <label class="check"
        ><input v-model="form.customers" type="checkbox" name="reminder-customers" />
        {{ $t('reminder-form-to-every-customer-with-a') }}</label
      >
      <TextField
        id="reminder-workshop"
        v-model="form.workshop"
        :label="$t('reminder-form-to-the-workshop-too-at')"
        :wrong="saving.wrong('workshop')"
      />
      <div class="row">
        <Button type="submit">{{ $t('common-save') }}</Button><span v-if="saved" role="status">{{
          $t('common-saved')
        }}</span>
      </div>
      <RefusalNote :failure="saving.general(['days', 'workshop'])" />
    </form>
  </section>
</template>

<style scoped>
.reminders {
  border-top: 1px solid var(--rule);
  padding-top: 0.6rem;
}
.form {
  max-width: 30rem;
}
</style>
