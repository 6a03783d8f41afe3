<script setup lang="ts">
import type { KeyingReply } from '../api/types'

// What this indicator cannot be told, before anybody drives out to it.
defineProps<{ cannot: KeyingReply['cannot'] }>()
</script>

<template>
  <div class="note note-wrong" role="alert" data-testid="cannot">
    <p>
      <strong>{{ $t('cannot-list-this-cannot-be-keyed-in') }}</strong>
    </p>
    <ul>
      <li v-for="c in cannot" :key="String(c.says)">
        {{ c.says
        }}<template v-if="c.nearest"
          >{{ $t('cannot-list-nearest') }} <strong class="figure">{{ c.nearest }}</strong></template
        >
      </li>
    </ul>
  </div>
</template>
