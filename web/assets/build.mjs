// Copies the fonts and the accessibility checker out of their packages, with
// their licences.
import { copyFileSync, mkdirSync } from 'node:fs'

mkdirSync('../static/fonts', { recursive: true })
mkdirSync('../testdata', { recursive: true })
const font = 'node_modules/@fontsource/alegreya-sans'
for (const weight of [400, 700]) {
  copyFileSync(`${font}/files/alegreya-sans-latin-${weight}-normal.woff2`, `../static/fonts/alegreya-sans-${weight}.woff2`)
}
copyFileSync(`${font}/LICENSE`, '../static/fonts/LICENSE-alegreya-sans.txt')
copyFileSync('node_modules/axe-core/axe.min.js', '../testdata/axe.min.js')
copyFileSync('node_modules/axe-core/LICENSE', '../testdata/LICENSE-axe-core.txt')
