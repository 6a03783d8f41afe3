<script setup lang="ts">
import Dialog from 'primevue/dialog'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { connection } from '../offline/connection'
import { session } from '../state/session'
import SignInForm from './SignInForm.vue'

const route = useRoute()
const show = computed(() => session.asking.value && !route.meta.open)
</script>

<template>
  <Dialog :visible="show" modal :closable="false" :header="$t('sign-in-dialog-sign-in-again')">
    <p class="quiet">
      {{ connection.answers.value ? $t('sign-in-dialog-your-session-has-ended-what') : $t('device-lock-locked') }}
    </p>
    <br />
    <SignInForm />
  </Dialog>
</template>
