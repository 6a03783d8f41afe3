<script setup lang="ts">
import { useRoute, useRouter } from 'vue-router'
import SignInForm from './SignInForm.vue'

const route = useRoute()
const router = useRouter()

function onward(): void {
  const to =
    typeof route.query.to === 'string' && route.query.to.startsWith('/') && !route.query.to.startsWith('//')
      ? route.query.to
      : '/'
  void router.replace(to)
}
</script>

<template>
  <main id="main" class="door">
    <div class="words">
      <svg viewBox="0 0 640 260" aria-hidden="true" class="picture">
        <path d="M0 96h150V72h200V48h290v164H350v-24H150v-24H0z" class="shade" />
        <path d="M0 130h640" class="axis" />
        <g class="found">
          <circle cx="40" cy="130" r="8" />
          <circle cx="250" cy="58" r="8" />
          <circle cx="520" cy="22" r="8" />
        </g>
        <g class="tie"><path d="M250 66v58M520 30v108" /></g>
        <g class="left">
          <circle cx="40" cy="130" r="6" />
          <circle cx="250" cy="132" r="8" />
          <circle cx="520" cy="142" r="8" />
        </g>
      </svg>
      <h1>{{ $t('common-ombret') }}</h1>
      <p class="quiet">{{ $t('sign-in-set-it-up-adjust-it') }}</p>
    </div>
    <div class="form"><SignInForm @done="onward" /></div>
  </main>
</template>

<style scoped>
.door {
  flex: 1;
  display: grid;
  grid-template-columns: 1.4fr 1fr;
  align-items: center;
}
.words {
  padding: 2rem 0 2rem 0;
}
.words h1,
.words p {
  padding-left: 4rem;
}
.words h1 {
  font-size: 3rem;
  margin-top: 1.5rem;
}
.picture {
  display: block;
  width: 100%;
}
.shade {
  fill: var(--shade);
}
.axis {
  stroke: var(--ink-2);
  stroke-width: 1;
  stroke-dasharray: 2 6;
}
.found circle {
  fill: var(--paper);
  stroke: var(--ink);
  stroke-width: 2.5;
}
.left circle {
  fill: var(--ink);
}
.tie path {
  stroke: var(--ink);
  stroke-width: 1.5;
  fill: none;
}
.form {
  padding: 2rem 4rem;
  max-width: 30rem;
}
@media (max-width: 50rem) {
  .door {
    grid-template-columns: 1fr;
  }
  .form {
    padding: 2rem;
  }
  .words h1,
  .words p {
    padding-left: 2rem;
  }
}
</style>
