<script setup lang="ts">
import Dialog from 'primevue/dialog'
import InputText from 'primevue/inputtext'
import { ref, watch } from 'vue'
import { addMessage, askMessages } from '../api/profiles'
import type { Message, MessageView } from '../api/types'
import MessageForm from '../keying/MessageForm.vue'
import { onKey } from '../state/keys'
import { session } from '../state/session'
import { useTried } from '../state/tried'
import RefusalNote from '../ui/RefusalNote.vue'

// One key looks up what the display shows; what is likely on this scale comes first. What the profile does not know
// is added to it here, where it was met.
const props = defineProps<{ job: string; profile: string }>()
const open = ref(false)
const shown = ref('')
const found = ref<MessageView[]>([])
const wrong = ref('')
const adds = ref(false)
const sending = useTried()
const works = session.has('technician')
onKey('display', () => (open.value = true))

async function look(): Promise<void> {
  const asked = shown.value
  try {
    const told = await askMessages(props.job, asked)
    if (asked === shown.value) found.value = told
    wrong.value = ''
  } catch (error) {
    wrong.value = error instanceof Error ? error.message : String(error)
  }
}
watch([open, shown], ([now]) => {
  if (now) void look()
})
async function add(message: Message): Promise<void> {
  if (!(await sending.tried(() => addMessage(props.profile, message)))) return
  adds.value = false
  shown.value = message.text
  await look()
}
</script>

<template>
  <button type="button" class="btn btn-bare" @click="open = true">
    {{ $t('message-lookup-what-does-it-show') }} <span class="figure small">d</span>
  </button>
  <Dialog v-model:visible="open" modal :header="$t('message-lookup-what-the-display-shows')" dismissable-mask>
    <div class="stack">
      <InputText
        v-model="shown"
        class="input input-figure"
        autofocus
        :aria-label="$t('message-lookup-what-the-display-shows')"
        :placeholder="$t('message-lookup-type-it-or-look-below')"
      />
      <template v-if="adds">
        <RefusalNote :failure="sending.general(['text', 'says', 'then'])" />
        <MessageForm :shown="shown" :sending="sending" @said="add" />
      </template>
      <button v-else-if="works" type="button" class="btn start" data-testid="add-message" @click="adds = true">
        {{ $t('message-lookup-it-shows-something-new') }}
      </button>
      <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
      <p v-else-if="!found.length && !adds" class="quiet" role="status">
        {{ $t('message-lookup-the-profile-knows-no-such') }}
      </p>
      <ul v-if="!adds" class="found" data-testid="messages">
        <li v-for="m in found" :key="m.text" :class="m.kind">
          <p class="row">
            <span class="display figure">{{ m.text }}</span><strong>{{ m.says }}</strong>
          </p>
          <p v-if="m.because" class="because">{{ $t('message-lookup-likely-here-because', { because: m.because }) }}</p>
          <p class="small">{{ m.then }}</p>
        </li>
      </ul>
    </div>
  </Dialog>
</template>

<style scoped>
.found {
  display: flex;
  flex-direction: column;
  max-height: 55vh;
  overflow: auto;
}
li {
  border-top: 1px solid var(--rule-2);
  padding: 0.5rem 0;
}
.start {
  align-self: flex-start;
}
.display {
  background: var(--ink);
  color: var(--paper);
  padding: 0.1rem 0.5rem;
  border-radius: 2px;
  min-width: 5.5rem;
  text-align: right;
}
.because {
  font-weight: 650;
  color: var(--caution);
}
</style>
