import { createRouter, createWebHistory } from 'vue-router'

export const router = createRouter({
  history: createWebHistory(),
  // A new page begins at its top; the way back leads to where one was.
  scrollBehavior: (to, from, saved) => saved ?? (to.path === from.path ? false : { top: 0 }),
  routes: [
    { path: '/', name: 'home', component: () => import('./pages/HomePage.vue'), meta: { title: 'Scales' } },
    {
      path: '/sign-in',
      name: 'sign-in',
      component: () => import('./pages/SignInPage.vue'),
      meta: { title: 'Sign in', open: true },
    },
    {
      path: '/check/:job/:code',
      name: 'check',
      component: () => import('./pages/CheckPage.vue'),
      props: true,
      meta: { title: 'Is this paper genuine?', open: true },
    },
    {
      path: '/scales/new',
      name: 'new-scale',
      component: () => import('./pages/ScalePage.vue'),
      meta: { title: 'New scale' },
    },
    {
      path: '/scales/:scale',
      name: 'scale',
      component: () => import('./pages/ScalePage.vue'),
      props: true,
      meta: { title: 'Scale' },
    },
    {
      path: '/settings',
      name: 'settings',
      component: () => import('./pages/SettingsPage.vue'),
      meta: { title: 'Settings' },
    },
    {
      path: '/profiles',
      name: 'profiles',
      component: () => import('./pages/ProfilesPage.vue'),
      meta: { title: 'Profiles' },
    },
    {
      path: '/profiles/new',
      name: 'new-profile',
      component: () => import('./pages/ProfilePage.vue'),
      meta: { title: 'New profile' },
    },
    {
      path: '/profiles/:profile',
      name: 'profile',
      component: () => import('./pages/ProfilePage.vue'),
      props: true,
      meta: { title: 'Profile' },
    },
    {
      path: '/desk/:tool?',
      name: 'desk',
      component: () => import('./pages/DeskPage.vue'),
      props: true,
      meta: { title: 'Desk' },
    },
    {
      path: '/jobs/:job/keying',
      name: 'keying',
      component: () => import('./pages/KeyingPage.vue'),
      props: true,
      meta: { title: 'Keying sheet' },
    },
    {
      path: '/archive',
      name: 'archive',
      component: () => import('./pages/ArchivePage.vue'),
      meta: { title: 'Archive of this workshop' },
    },
    {
      path: '/paper',
      name: 'paper',
      component: () => import('./pages/PaperPage.vue'),
      meta: { title: 'Paper of this workshop' },
    },
    { path: '/due', name: 'due', component: () => import('./pages/DuePage.vue'), meta: { title: 'Due' } },
    {
      path: '/scales/:scale/history',
      name: 'history',
      component: () => import('./pages/HistoryPage.vue'),
      props: true,
      meta: { title: 'Records of a scale' },
    },
    {
      path: '/figures',
      name: 'figures',
      component: () => import('./pages/FiguresPage.vue'),
      meta: { title: 'Figures of this workshop' },
    },
    { path: '/lookup', name: 'lookup', component: () => import('./pages/LookupPage.vue'), meta: { title: 'Look up' } },
    {
      path: '/compare',
      name: 'compare',
      component: () => import('./pages/ComparePage.vue'),
      meta: { title: 'Side by side' },
    },
    {
      path: '/dcc',
      name: 'dcc',
      component: () => import('./pages/DccPage.vue'),
      meta: { title: 'Read a digital certificate' },
    },
    {
      path: '/judgement',
      name: 'judgement',
      component: () => import('./pages/JudgementPage.vue'),
      meta: { title: 'How this workshop judges' },
    },
    {
      path: '/practice',
      name: 'practice',
      component: () => import('./pages/PracticePage.vue'),
      meta: { title: 'Practice' },
    },
    {
      path: '/practice/:job',
      name: 'account',
      component: () => import('./pages/AccountPage.vue'),
      props: true,
      meta: { title: 'Account of a lesson' },
    },
    {
      path: '/weights',
      name: 'weights',
      component: () => import('./pages/WeightsPage.vue'),
      meta: { title: 'Weights' },
    },
    { path: '/day', name: 'day', component: () => import('./pages/DayPage.vue'), meta: { title: 'A day' } },
    {
      path: '/jobs/:job/loads',
      name: 'loads',
      component: () => import('./pages/LoadsPage.vue'),
      props: true,
      meta: { title: 'What to lift' },
    },
    {
      path: '/jobs/:job/record',
      name: 'record',
      component: () => import('./pages/RecordPage.vue'),
      props: true,
      meta: { title: 'Record' },
    },
    {
      path: '/jobs/:job/:stage?',
      name: 'job',
      component: () => import('./pages/JobPage.vue'),
      props: true,
      meta: { title: 'Job' },
    },
    {
      path: '/:rest(.*)*',
      name: 'nowhere',
      component: () => import('./pages/NowherePage.vue'),
      meta: { title: 'Nothing here' },
    },
  ],
})

router.afterEach((to) => {
  document.title = `${to.meta.title ?? ''} · Ombret`
})
