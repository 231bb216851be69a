import type { Stands } from '../api/client'

/** How a piece of metal stands, in a word or two. */
export function standsWords(stands: Stands): string {
  switch (stands) {
    case 'supply':
      return 'supply'
    case 'ground':
      return 'grounded'
    case 'between':
      return 'through a load'
    default:
      return 'dead'
  }
}
