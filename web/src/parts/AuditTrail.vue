<script setup lang="ts">
import type { AuditLine } from '../api/types'
import { momentText } from '../work/words'

// Who changed what that others rest on, the newest first.
defineProps<{ lines: AuditLine[] }>()
const acts: Record<AuditLine['act'], string> = {
  approval_rule: 'Approval of records',
  letterhead: 'Letterhead and texts',
  judgement: 'How causes are judged',
  job_imported: 'Job file imported',
  archive_exported: 'Archive exported',
  archive_imported: 'Archive imported',
  calendar_address: 'New calendar address',
  signed_in: 'Signed in',
  sign_in_refused: 'Wrong password at sign-in',
  signed_out: 'Signed out',
  workshop_set_up: 'Workshop set up',
  invited: 'Invited',
  joined: 'Joined',
  roles_changed: 'Roles changed',
  deactivated: 'Deactivated',
  reactivated: 'Activated again',
  password_link: 'Link for a new password',
  password_changed: 'Password changed',
  name_changed: 'Name changed',
  sessions_ended: 'Session ended',
}
function change(line: AuditLine): string {
  if (line.act !== 'approval_rule') return ''
  const { after } = line.detail as { after: boolean }
  return after ? ': a reviewer approves each record' : ': records need no approval'
}
</script>

<template>
  <section aria-labelledby="trail" class="trail">
    <h2 id="trail">Audit trail</h2>
    <p v-if="!lines.length" class="quiet">Nothing was changed yet.</p>
    <table v-else>
      <thead>
        <tr>
          <th scope="col">When</th>
          <th scope="col">Who</th>
          <th scope="col">What</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="line in lines" :key="line.seq">
          <td class="figure">{{ momentText(line.at) }}</td>
          <td>{{ line.name }}</td>
          <td>{{ acts[line.act] }}{{ change(line) }}</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.trail {
  margin-top: 2rem;
}
th,
td {
  text-align: left;
  padding: 0.35rem 1.2rem 0.35rem 0;
  vertical-align: top;
}
</style>
