// What the rules, the paper and all other pages say.
export default import.meta.glob<string>(
  [
    '../../../words/en/*.ftl',
    '../../../words/en/page/*.ftl',
    '!../../../words/en/page/{api,app,common,offline,router,ui,workshop}.ftl',
    '!../../../words/en/server.ftl',
  ],
  { query: '?raw', import: 'default', eager: true },
)
