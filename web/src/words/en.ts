// The texts of the house in one language: the page loads those of the language that is spoken.
export default import.meta.glob<string>('../../../words/en/**/*.ftl', { query: '?raw', import: 'default', eager: true })
