import vue from 'eslint-plugin-vue'
import prettier from 'eslint-config-prettier/flat'
import { defineConfigWithVueTs, vueTsConfigs } from '@vue/eslint-config-typescript'

export default defineConfigWithVueTs(
  { ignores: ['dist/**', 'src/api/schema.d.ts'] },
  vue.configs['flat/recommended'],
  vueTsConfigs.recommended,
  // What a line looks like is Prettier's business alone; this turns off every rule of ESLint about it.
  prettier,
  {
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      'vue/multi-word-component-names': 'off',
      'vue/require-default-prop': 'off',
      // A file is read in one sitting, a function at one glance.
      'max-lines': ['error', { max: 250 }],
      'max-lines-per-function': ['error', { max: 60 }],
    },
  },
)
