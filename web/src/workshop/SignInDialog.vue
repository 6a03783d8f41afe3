<script setup lang="ts">
import Dialog from 'primevue/dialog'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { session } from '../state/session'
import SignInForm from './SignInForm.vue'

const route = useRoute()
const show = computed(() => session.asking.value && !route.meta.open)
</script>

<template>
  <Dialog :visible="show" modal :closable="false" header="Sign in again">
    <p class="quiet">Your session has ended. What you typed is still here and goes on where it was.</p>
    <br />
    <SignInForm />
  </Dialog>
</template>
