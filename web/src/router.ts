import { offlineRoutes } from './offline/routes'
import { say } from './words'
import { moved } from './moved'
import { workshopRoutes } from './workshop/routes'
import { createRouter, createWebHistory } from 'vue-router'

export const router = createRouter({
  history: createWebHistory(),
  // A new page begins at its top; the way back leads to where one was.
  scrollBehavior: (to, from, saved) => saved ?? (to.path === from.path ? false : { top: 0 }),
  routes: [
    { path: '/', name: 'home', component: () => import('./scales/HomePage.vue'), meta: { title: 'common-scales' } },
    {
      path: '/sign-in',
      name: 'sign-in',
      component: () => import('./workshop/SignInPage.vue'),
      meta: { title: 'router-sign-in', open: true },
    },
    {
      path: '/welcome/:token',
      name: 'welcome',
      component: () => import('./workshop/WelcomePage.vue'),
      props: true,
      meta: { title: 'router-welcome', open: true },
    },
    {
      path: '/customers',
      name: 'customers',
      component: () => import('./workshop/CustomersPage.vue'),
      meta: { title: 'common-customers' },
    },
    {
      path: '/customers/new',
      name: 'new-customer',
      component: () => import('./workshop/CustomerPage.vue'),
      meta: { title: 'common-new-customer' },
    },
    {
      path: '/customers/:customer',
      name: 'customer',
      component: () => import('./workshop/CustomerPage.vue'),
      props: true,
      meta: { title: 'common-customer' },
    },
    {
      path: '/records',
      name: 'records',
      component: () => import('./records/RecordsPage.vue'),
      meta: { title: 'common-records' },
    },
    {
      path: '/import',
      name: 'intake',
      component: () => import('./workshop/ImportPage.vue'),
      meta: { title: 'common-import-a-table' },
    },
    {
      path: '/audit',
      name: 'audit',
      component: () => import('./workshop/AuditPage.vue'),
      meta: { title: 'common-audit-trail' },
    },
    {
      path: '/people',
      name: 'people',
      component: () => import('./workshop/PeoplePage.vue'),
      meta: { title: 'common-people' },
    },
    {
      path: '/me',
      name: 'me',
      component: () => import('./workshop/MePage.vue'),
      meta: { title: 'common-your-account' },
    },
    {
      path: '/own/:token',
      name: 'own',
      component: () => import('./records/OwnerPage.vue'),
      props: true,
      meta: { title: 'router-your-scales', open: true },
    },
    {
      path: '/check/:job/:code',
      name: 'check',
      component: () => import('./records/CheckPage.vue'),
      props: true,
      meta: { title: 'router-is-this-paper-genuine', open: true },
    },
    {
      path: '/scales/new',
      name: 'new-scale',
      component: () => import('./scales/ScalePage.vue'),
      meta: { title: 'common-new-scale' },
    },
    {
      path: '/scales/:scale',
      name: 'scale',
      component: () => import('./scales/ScalePage.vue'),
      props: true,
      meta: { title: 'common-scale' },
    },
    {
      path: '/settings',
      name: 'settings',
      component: () => import('./workshop/SettingsPage.vue'),
      meta: { title: 'common-settings' },
    },
    {
      path: '/profiles',
      name: 'profiles',
      component: () => import('./keying/ProfilesPage.vue'),
      meta: { title: 'common-profiles' },
    },
    {
      path: '/profiles/new',
      name: 'new-profile',
      component: () => import('./keying/ProfilePage.vue'),
      meta: { title: 'common-new-profile' },
    },
    {
      path: '/profiles/teach/:session?',
      name: 'teach',
      component: () => import('./teach/TeachPage.vue'),
      props: true,
      meta: { title: 'router-teach' },
    },
    {
      path: '/profiles/:profile',
      name: 'profile',
      component: () => import('./keying/ProfilePage.vue'),
      props: true,
      meta: { title: 'router-profile' },
    },
    {
      path: '/calculators/:tool?',
      name: 'calculators',
      component: () => import('./calculators/CalculatorsPage.vue'),
      props: true,
      meta: { title: 'router-desk' },
    },
    {
      path: '/jobs/:job/keying',
      name: 'keying',
      component: () => import('./keying/KeyingPage.vue'),
      props: true,
      meta: { title: 'router-keying-sheet' },
    },
    ...offlineRoutes,
    ...workshopRoutes,
    { path: '/due', name: 'due', component: () => import('./scales/DuePage.vue'), meta: { title: 'common-due' } },
    {
      path: '/scales/:scale/history',
      name: 'history',
      component: () => import('./scales/HistoryPage.vue'),
      props: true,
      meta: { title: 'router-records-of-a-scale' },
    },
    {
      path: '/lookup',
      name: 'lookup',
      component: () => import('./scales/LookupPage.vue'),
      meta: { title: 'router-look-up' },
    },
    {
      path: '/compare',
      name: 'compare',
      component: () => import('./records/ComparePage.vue'),
      meta: { title: 'router-side-by-side' },
    },
    {
      path: '/dcc',
      name: 'dcc',
      component: () => import('./records/DccPage.vue'),
      meta: { title: 'common-read-a-digital-certificate' },
    },
    {
      path: '/practice',
      name: 'practice',
      component: () => import('./practice/PracticePage.vue'),
      meta: { title: 'common-practice' },
    },
    {
      path: '/practice/:job',
      name: 'account',
      component: () => import('./practice/AccountPage.vue'),
      props: true,
      meta: { title: 'router-account-of-a-lesson' },
    },
    {
      path: '/weights',
      name: 'weights',
      component: () => import('./kit/WeightsPage.vue'),
      meta: { title: 'common-weights' },
    },
    {
      path: '/route',
      name: 'route',
      component: () => import('./scales/RoutePage.vue'),
      meta: { title: 'router-a-day' },
    },
    {
      path: '/jobs/:job/loads',
      name: 'loads',
      component: () => import('./kit/LoadsPage.vue'),
      props: true,
      meta: { title: 'router-what-to-lift' },
    },
    {
      path: '/jobs/:job/record',
      name: 'record',
      component: () => import('./records/RecordPage.vue'),
      props: true,
      meta: { title: 'common-record' },
    },
    {
      path: '/jobs/:job/:stage?',
      name: 'job',
      component: () => import('./job/JobPage.vue'),
      props: true,
      meta: { title: 'router-job' },
    },
    ...moved,
    {
      path: '/:rest(.*)*',
      name: 'nowhere',
      component: () => import('./ui/NowherePage.vue'),
      meta: { title: 'router-nothing-here' },
    },
  ],
})

router.afterEach((to) => {
  document.title = say('router-title-ombret', { title: typeof to.meta.title === 'string' ? say(to.meta.title) : '' })
})
