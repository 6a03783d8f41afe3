import type { Directive } from 'vue'

// On a phone a row of a list is a card, and each cell says what its column is called (style/base.css).
function label(table: HTMLTableElement): void {
  table.classList.add('cards')
  const heads = [...(table.tHead?.rows[0]?.cells ?? [])].map((head) => head.textContent?.trim() ?? '')
  for (const body of table.tBodies)
    for (const row of body.rows)
      for (const [at, cell] of [...row.cells].entries()) if (heads[at]) cell.dataset.label = heads[at]
}

export const vCards: Directive<HTMLTableElement> = { mounted: label, updated: label }
