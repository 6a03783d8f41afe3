import type { RouteRecordRaw } from 'vue-router'

/** Pages about the workshop itself. */
export const workshopRoutes: RouteRecordRaw[] = [
  {
    path: '/archive',
    name: 'archive',
    component: () => import('./ArchivePage.vue'),
    meta: { title: 'router-archive-of-this-workshop' },
  },
  {
    path: '/letterhead',
    name: 'letterhead',
    component: () => import('./LetterheadPage.vue'),
    meta: { title: 'router-paper-of-this-workshop' },
  },
  {
    path: '/statistics',
    name: 'statistics',
    component: () => import('./StatisticsPage.vue'),
    meta: { title: 'router-figures-of-this-workshop' },
  },
  {
    path: '/fault-likelihoods',
    name: 'priors',
    component: () => import('./FaultLikelihoodsPage.vue'),
    meta: { title: 'router-how-this-workshop-judges' },
  },
]
