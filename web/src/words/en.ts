// What the first page of a first visit needs to say; the rest comes after (en_rest.ts).
export default import.meta.glob<string>(
  ['../../../words/en/page/{api,app,common,offline,router,ui,workshop}.ftl', '../../../words/en/server.ftl'],
  { query: '?raw', import: 'default', eager: true },
)
