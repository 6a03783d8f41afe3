// What the rules, the paper and all other pages say.
export default import.meta.glob<string>(
  [
    '../../../words/de/*.ftl',
    '../../../words/de/page/*.ftl',
    '!../../../words/de/page/{api,app,common,offline,router,ui,workshop}.ftl',
    '!../../../words/de/server.ftl',
  ],
  { query: '?raw', import: 'default', eager: true },
)
