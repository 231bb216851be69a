import { readFileSync, readdirSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, test } from 'vitest'
import CODES from '../src/words/codes.json'
import SAY from '../src/words/say.json'

/** Words that nobody says across a bench, and what was decided instead; the glossary is docs/words.md. */
const BANNED: [RegExp, string][] = [
  [/\b(a|every|all is|be|is) sound\b|\bsound (to|machine|circuit|one|part)\b|^Sound\b/i, 'good'],
  [/\bhealthy\b/i, 'good'],
  [/\bbuzz(es|er)?\b/i, 'beeps, no beep'],
  [/^silent$|\bis silent\b/i, 'no beep, nothing'],
  [/\bkinds fit\b|\borders of\b/i, 'switch types match, possible layouts'],
  [/^made$|\b(not|now|be|is) made\b|\bmade with\b/i, 'open, closed'],
  [/\btak(e|en|es|ing) back\b/i, 'undo'],
  [/\bshall\b/i, 'must'],
  [/\bthus\b|\breckon\b|\bunasked\b|\bamiss\b|\bowe\b/i, 'say it plainly'],
  [/\b(is|are|set|keep it|stands?) so\b|^So it\b/i, 'like this'],
  [/\bcomes and goes\b/i, 'off and on'],
  [/\btold to me\b/i, 'customer says'],
  [/\bcould still be it\b|\bcannot be it\b/i, 'possible causes, ruled out'],
  [/\bno test at hand\b/i, 'can’t tell these apart from here'],
  [/\btells little\b|\bhangs on this\b|\bbest split\b|\bsplits\b/i, 'say what it tells'],
  [/\bcannot both hold\b|\bfits nothing\b/i, 'these two don’t agree, this reading doesn’t fit'],
  [/\bverdict kept\b|\bkeep verdict\b/i, 'that’s it, fault found'],
  [/\bbring a story\b|\btake in a\b|\bput away\b|\blay it\b/i, 'import, close, start'],
  [/\bharmless\b/i, 'no effect'],
  [/\bjob book\b|\bclearing the bench\b|\bfetching\b/i, 'loading'],
  [/\bstarter against\b/i, 'engine seized'],
  [/\bw\d+\b/, 'a wire by its color and ends'],
]

function files(directory: string): string[] {
  return readdirSync(directory).flatMap((name) => {
    const path = join(directory, name)
    if (statSync(path).isDirectory()) return files(path)
    return /\.(vue|ts)$/.test(name) && name !== 'schema.d.ts' ? [path] : []
  })
}

/** What of a file is said to people: text between tags, and string literals with more than one word. */
function strings(path: string): string[] {
  const whole = readFileSync(path, 'utf8')
    .replace(/<style[\s\S]*?<\/style>/g, '')
    .replace(/\/\*[\s\S]*?\*\/|^\s*\/\/.*$|<!--[\s\S]*?-->/gm, '')
  const template = /<template>[\s\S]*<\/template>/.exec(whole)?.[0] ?? ''
  const script = whole.replace(template, '')
  const texts = [...template.matchAll(/>([^<>]*)</g)].map((m) =>
    m[1]!.replace(/\{\{[\s\S]*?\}\}|&nbsp;/g, ' '),
  )
  const labels = [
    ...template.matchAll(/\s(?:label|aria-label|title|placeholder|question|what)="([^"]*)"/g),
  ]
  const literals = [
    ...`${script}${[...template.matchAll(/\{\{[\s\S]*?\}\}/g)].join('\n')}`.matchAll(
      /'([^'\n]*)'|`([^`]*)`/g,
    ),
  ]
  const said = [...texts, ...labels.map((m) => m[1]!), ...literals.map((m) => m[1] ?? m[2] ?? '')]
  return said
    .map((s) => s.replace(/\s+/g, ' ').trim())
    .filter((s) => /[a-z]{2,} |^[A-Z][a-z]+/.test(s))
}

const tables = (catalog: object): string[] =>
  Object.values(catalog).flatMap((table) => Object.values(table as object) as string[])

describe('plain words', () => {
  test('are all that is on a screen', () => {
    const found = [
      ...files('src').map((path) => [path, strings(path)] as const),
      ['core', tables(CODES)] as const,
      ['say.json', tables(SAY)] as const,
    ]
      .flatMap(([path, said]) => said.map((s) => [path, s] as const))
      .flatMap(([path, s]) =>
        BANNED.filter(([word]) => word.test(s)).map(([, instead]) => `${path}: “${s}”: ${instead}`),
      )
    expect(found).toEqual([])
  })

  test('are found where they are', () => {
    // The finder itself: a screen's texts, labels and literals are seen, its code is not.
    const said = strings('src/screens/job/test/WalkRound.vue')
    expect(said.some((s) => s.includes('everything off, no meter:'))).toBe(true)
    expect(said.some((s) => s.includes('defineProps'))).toBe(false)
    expect(BANNED.filter(([word]) => word.test('Sound: buzzes')).length).toBe(2)
  })

  test('of the catalog are each said somewhere', () => {
    const code = files('src').map((path) => readFileSync(path, 'utf8'))
    const whole = code.join('\n')
    const dead = Object.entries(SAY).flatMap(([screen, table]) =>
      Object.keys(table).filter((key) => !whole.includes(`SAY.${screen}.${key}`)),
    )
    expect(dead).toEqual([])
  })
})
