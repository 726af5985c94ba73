// Makes the two faces of printed sheets out of the pages' own: a PDF picks no
// features of a font, so lining tabular figures are the figures here, and the
// raised and lowered ones of true fractions have their own characters.
import { createFont } from 'fonteditor-core'
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { inflateSync } from 'node:zlib'

const figures = ['zero', 'one', 'two', 'three', 'four', 'five', 'six', 'seven', 'eight', 'nine']
const raised = [...'⁰¹²³⁴⁵⁶⁷⁸⁹'].map((c) => c.codePointAt(0))

mkdirSync('../../paper/faces', { recursive: true })
for (const [weight, style] of [[400, 'Regular'], [700, 'Bold']]) {
  const from = `node_modules/@fontsource/alegreya-sans/files/alegreya-sans-latin-${weight}-normal.woff`
  const font = createFont(readFileSync(from), { type: 'woff', inflate: (d) => [...inflateSync(Buffer.from(d))] })
  const glyphs = font.get()
  const called = new Map(glyphs.glyf.map((g) => [g.name, g]))
  const give = (name, rune) => {
    for (const g of glyphs.glyf) g.unicode = (g.unicode ?? []).filter((u) => u !== rune)
    called.get(name).unicode = [rune]
  }
  for (const [i, figure] of figures.entries()) {
    give(`${figure}.tf`, 0x30 + i)
    give(`${figure}.numr`, raised[i])
    give(`${figure}.dnom`, 0x2080 + i)
  }
  glyphs.name.fontFamily = 'Chamfer Paper'
  glyphs.name.fontSubFamily = style
  glyphs.name.fullName = `Chamfer Paper ${style}`
  glyphs.name.postScriptName = `ChamferPaper-${style}`
  glyphs.name.uniqueSubFamily = `Chamfer Paper ${style}`
  glyphs.head.created = glyphs.head.modified = Date.UTC(2013, 0, 1) // never the clock
  font.set(glyphs)
  writeFileSync(`../../paper/faces/paper-${weight}.ttf`, font.write({ type: 'ttf', hinting: false, toBuffer: true }))
}
