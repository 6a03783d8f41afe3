<script setup lang="ts">
import InputText from 'primevue/inputtext'

// Changeover points: small weights until the display goes to the next division. Beside it how often the weights
// were replaced with material, where a load is more than they are.
const small = defineModel<boolean>('small', { required: true })
const added = defineModel<string>('added', { required: true })
const rounds = defineModel<string>('rounds', { required: true })
defineProps<{ substitutes: boolean; unit: string; tenth: string; wrong: (field: string) => string }>()
</script>

<template>
  <div class="row smalls">
    <label v-if="substitutes" class="named push-right"
      ><span>{{ $t('reading-form-substitutions') }}</span
      ><InputText
        id="reading-rounds"
        v-model="rounds"
        class="input figure rounds"
        inputmode="numeric"
        autocomplete="off"
        placeholder="0"
        :aria-invalid="Boolean(wrong('substituted'))"
      /><span v-if="wrong('substituted')" class="wrong">{{ wrong('substituted') }}</span></label
    ><label class="named"
      ><input v-model="small" type="checkbox" data-testid="changeover" /><span>{{
        $t('reading-form-small-weights-for-the-point')
      }}</span></label
    >
    <template v-if="small"
      ><label for="reading-added">{{ $t('reading-form-added-until-it-changed-unit', { unit }) }}</label
      ><InputText
        id="reading-added"
        v-model="added"
        class="input figure added"
        inputmode="decimal"
        autocomplete="off"
        :aria-invalid="Boolean(wrong('added'))"
      /><span :class="wrong('added') ? 'wrong' : 'small quiet'">{{
        wrong('added') || $t('reading-form-add-tenth-at-a-time', { tenth })
      }}</span></template
    >
  </div>
</template>

<style scoped>
.named {
  display: flex;
  gap: 0.5rem;
  align-items: center;
  color: var(--ink-2);
}
.named input {
  width: 1.2rem;
  height: 1.2rem;
  accent-color: var(--ink);
  flex: none;
}
.smalls {
  gap: 0.4rem 0.8rem;
}
.added {
  width: 7rem;
}
.push-right {
  order: 9;
  margin-left: auto;
}
.named .rounds {
  width: 3.5rem;
  min-width: 3.5rem;
  height: auto;
}
</style>
