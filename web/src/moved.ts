import type { RouteRecordRaw } from 'vue-router'

/** Addresses of earlier versions: a sum is kept as a link, a page as a bookmark. */
export const moved: RouteRecordRaw[] = [
  {
    path: '/desk/:tool?',
    redirect: (to) => ({ name: 'calculators', params: to.params, query: to.query }),
  },
  { path: '/day', redirect: (to) => ({ name: 'route', query: to.query }) },
  { path: '/paper', redirect: { name: 'letterhead' } },
  { path: '/figures', redirect: { name: 'statistics' } },
  { path: '/judgement', redirect: { name: 'priors' } },
]
