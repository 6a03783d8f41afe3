import type { RouteRecordRaw } from 'vue-router'

// Work away from the server.
export const offlineRoutes: RouteRecordRaw[] = [
  {
    path: '/along',
    name: 'along',
    component: () => import('./AlongPage.vue'),
    meta: { title: 'router-along' },
  },
  {
    path: '/came-home',
    name: 'came-home',
    component: () => import('./CameHomePage.vue'),
    meta: { title: 'router-came-home' },
  },
]
