import { type CompletionContext, type CompletionResult, autocompletion } from '@codemirror/autocomplete'
import { StreamLanguage } from '@codemirror/language'
import { toml } from '@codemirror/legacy-modes/mode/toml'
import { type Diagnostic, setDiagnostics } from '@codemirror/lint'
import { EditorState, type Extension } from '@codemirror/state'
import { EditorView } from '@codemirror/view'
import schema from '../../../docs/profile.schema.json'
import type { ProfileProblem } from '../api/types'

// What may stand in a profile, from its schema: what is completed, and what is told beside the text.

interface Shape {
  description?: string
  properties?: Record<string, Shape>
  enum?: string[]
  $ref?: string
  oneOf?: Shape[]
  items?: Shape
  type?: string | string[]
}

const defs = schema.$defs as unknown as Record<string, Shape>
const root = schema as unknown as Shape
const whole = (shape: Shape): Shape =>
  shape.$ref ? { ...whole(defs[shape.$ref.split('/').pop() ?? ''] ?? {}), ...shape, $ref: undefined } : shape
/** A thing may be of several sorts; every field of any of them. */
function fieldsOf(shape: Shape): Record<string, Shape> {
  const it = whole(shape)
  const sorts = (it.oneOf ?? []).map((one) => fieldsOf(one))
  const joined: Record<string, Shape> = { ...it.properties }
  for (const sort of sorts)
    for (const [name, field] of Object.entries(sort)) {
      const values = [...(joined[name]?.enum ?? []), ...(field.enum ?? [])]
      joined[name] = values.length ? { ...field, enum: values } : field
    }
  return joined
}
const valuesOf = (shape: Shape): string[] => {
  const it = whole(shape)
  const own = it.enum ?? (it.oneOf ?? []).flatMap((one) => valuesOf(one))
  return own.length ? own : it.type === 'boolean' ? ['true', 'false'] : []
}
const isList = (shape: Shape): boolean => whole(shape).type === 'array'
const inner = (shape: Shape): Shape => whole(whole(shape).items ?? shape)

export interface Section {
  head: string
  says: string
  fields: { name: string; says: string; values: string[] }[]
}

const told = (fields: Record<string, Shape>) =>
  Object.entries(fields).map(([name, f]) => ({ name, says: whole(f).description ?? '', values: valuesOf(f) }))
const isSection = (shape: Shape): boolean =>
  Object.keys(fieldsOf(inner(shape))).length > 0 || (whole(shape).type === 'object' && !whole(shape).properties)

/** The sections of a profile with what may stand in each. */
export const sections: Section[] = [
  { head: '', says: '', fields: told(fieldsOf(root)).filter((f) => !isSection(fieldsOf(root)[f.name] ?? {})) },
  ...Object.entries(fieldsOf(root))
    .filter(([, shape]) => isSection(shape))
    .map(([name, shape]) => ({
      head: isList(shape) ? `[[${name}]]` : `[${name}]`,
      says: whole(shape).description ?? '',
      fields: told(fieldsOf(inner(shape))),
    })),
]

const HEAD = /^\s*(\[\[?\w+\]?\]?)\s*(#.*)?$/

function complete(context: CompletionContext): CompletionResult | null {
  const line = context.state.doc.lineAt(context.pos)
  const before = line.text.slice(0, context.pos - line.from)
  let head = ''
  for (let at = line.number - 1; at > 0 && !head; at -= 1) head = HEAD.exec(context.state.doc.line(at).text)?.[1] ?? ''
  const section = sections.find((s) => s.head === head)
  const heading = /^\s*(\[+\w*)$/.exec(before)
  if (heading?.[1] !== undefined) {
    const options = sections.filter((s) => s.head).map((s) => ({ label: s.head, detail: s.says }))
    return { from: context.pos - heading[1].length, options }
  }
  const name = /^\s*(\w*)$/.exec(before)
  if (name?.[1] !== undefined && (name[1] || context.explicit)) {
    const options = (section?.fields ?? []).map((f) => ({ label: f.name, detail: f.says, apply: `${f.name} = ` }))
    return { from: context.pos - name[1].length, options }
  }
  const value = /^\s*(\w+)\s*=\s*"?(\w*)$/.exec(before)
  const field = section?.fields.find((f) => f.name === value?.[1])
  if (!value || !field?.values.length) return null
  return { from: context.pos - (value[2] ?? '').length, options: field.values.map((label) => ({ label })) }
}

/** The lines that are wrong, marked with why. */
export function markProblems(view: EditorView, problems: ProfileProblem[]): void {
  const marks: Diagnostic[] = problems
    .filter((p) => p.line <= view.state.doc.lines)
    .map((p) => {
      const { from, to } = view.state.doc.line(p.line)
      return { from, to, severity: 'error', message: String(p.says) }
    })
  view.dispatch(setDiagnostics(view.state, marks))
}

/** Writing TOML: colours, completion, what is wrong at its line. */
export const tomlEditing = (readonly: boolean): Extension => [
  StreamLanguage.define(toml),
  autocompletion({ override: [complete] }),
  EditorState.readOnly.of(readonly),
]
