// What the first page of a first visit needs to say; the rest comes after (de_rest.ts).
export default import.meta.glob<string>(
  ['../../../words/de/page/{api,app,common,offline,router,ui,workshop}.ftl', '../../../words/de/server.ftl'],
  { query: '?raw', import: 'default', eager: true },
)
