// The page's script. Without it every form still works.
import Alpine from '@alpinejs/csp'
import morph from '@alpinejs/morph'
import { along } from './along.js'
import { awake } from './awake.js'
import { carry, cutEnd, layer, patch, peg, tap, turn, wall } from './drag.js'
import { find, letGo, light, take } from './hand.js'
import { key, typing } from './keys.js'
import { leaders } from './leaders.js'
import { listen } from './live.js'
import { locate } from './locate.js'
import { passkeys } from './passkey.js'
import { go, page, send, soon } from './send.js'

document.documentElement.classList.add('js')

// A page that prints by itself says so: browsers on phones hide it.
document.addEventListener('click', (e) => { if (e.target.closest('[data-print]')) window.print() })
document.addEventListener('click', (e) => { // on a phone prices are written in when that is asked for
  if (e.target.closest('[data-prices]')) document.documentElement.classList.toggle('to-price')
})
Alpine.plugin(morph)

leaders()

// The tally folds to what it comes to, and stays so where the browser lets pages remember.
let tallyFolded = false
try { tallyFolded = localStorage.getItem('folded') === '1' } catch { /* it does not */ }
const folded = () => {
  document.documentElement.classList.toggle('folded', tallyFolded)
  for (const b of document.querySelectorAll('[data-fold]')) b.setAttribute('aria-expanded', String(!tallyFolded))
}
folded()
document.addEventListener('chamfer:put', folded)
document.addEventListener('click', (e) => {
  if (!e.target.closest('[data-fold]')) return
  tallyFolded = !tallyFolded
  try { localStorage.setItem('folded', tallyFolded ? '1' : '0') } catch { /* it does not */ }
  folded()
})

// watch asks again, while a longer search goes on, how far it is.
setInterval(() => {
  const form = document.querySelector('form[data-watch]')
  if (form && !document.hidden) send(form, { how: 'watch' })
}, 1000)

Alpine.data('bench', () => ({
  init() {
    const root = this.$root
    // Arrow keys pass over choices without taking one: Enter or space does.
    root.addEventListener('keydown', (e) => {
      const group = e.target.matches('input[type=radio]') && e.target.closest('form[data-auto] fieldset')
      if (!group) return
      if (e.key.startsWith('Arrow')) group.dataset.passing = '1'
      else if (group.dataset.passing && (e.key === 'Enter' || e.key === ' ')) {
        e.preventDefault()
        delete group.dataset.passing
        send(group.closest('form'))
      }
    })
    root.addEventListener('focusout', (e) => {
      const group = e.target.closest('fieldset[data-passing]')
      if (!group || group.contains(e.relatedTarget)) return
      delete group.dataset.passing
      for (const el of group.querySelectorAll('input[type=radio]')) el.checked = el.defaultChecked
    })
    root.addEventListener('pointerdown', (e) => {
      const group = e.target.closest('fieldset[data-passing]')
      if (group) delete group.dataset.passing
    })
    root.addEventListener('change', (e) => {
      if (e.target.closest('fieldset[data-passing]')) return
      const form = e.target.closest('form[data-auto]')
      if (form) soon.set(form, setTimeout(() => send(form)))
    })
    root.addEventListener('input', (e) => {
      if (e.target.id === 'find') find(e.target.value)
      else if (e.target.id === 'acts-range') {
        const url = new URL(location.href)
        url.searchParams.set('view', 'apart')
        url.searchParams.set('acts', e.target.value)
        go(url, true)
      } else if (e.target.matches('[data-slides]')) {
        const url = new URL(location.href)
        url.searchParams.set(e.target.name, e.target.value)
        go(url, true)
      }
      else if (typing(e.target)) e.target.dataset.dirty = '1'
    })
    page().querySelector('.path .now')?.scrollIntoView({ block: 'nearest', inline: 'center' })
    root.addEventListener('submit', (e) => {
      const form = e.target
      if (form.id === 'over') {
        e.preventDefault()
        const field = form.querySelector('#over-input').name
        let held = true // until the drawing shows the new size; what is in hand after that is let alone
        const close = () => {
          document.removeEventListener('chamfer:shown', close)
          if (held) letGo(field)
          held = false
        }
        document.addEventListener('chamfer:shown', close)
        send(form).then(close)
      } else if (form.matches('form[data-auto], form[data-act], form[data-auto-submit]')) {
        e.preventDefault()
        const b = e.submitter
        send(form, b && b.name ? { [b.name]: b.value } : {})
      }
    })
    root.addEventListener('click', (e) => {
      if (e.target.closest('[data-locate]')) return locate()
      const link = e.target.closest('.d-edit')
      if (link) {
        e.preventDefault()
        take(link)
        return
      }
      const soft = e.target.closest('a.part, a.stand, a.stand-on, a[data-soft], a[data-view], .beds a')
      if (soft && !e.ctrlKey && !e.metaKey && !e.shiftKey) {
        e.preventDefault()
        const href = soft.getAttribute('href')
        go(href, soft.matches('[data-soft]')).then(() => {
          if (soft.matches('a.part')) document.getElementById('inhand')?.scrollIntoView({ block: 'nearest' })
        })
      }
    })
    window.addEventListener('popstate', () => go(location.href, true))
    root.addEventListener('pointerdown', (e) => {
      const strip = e.target.closest('.d-drag')
      if (strip && e.button === 0) {
        e.preventDefault()
        wall(e, strip)
        return
      }
      const held = e.target.closest('.d-peg')
      if (held && e.button === 0) return peg(e, held)
      const top = e.target.closest('.d-layer')
      if (top && e.button === 0) return layer(e, top)
      const from = e.target.closest('.d-tap')
      if (from && e.button === 0) return tap(e, from)
      const end = e.target.closest('.d-cut-end')
      if (end && e.button === 0) return cutEnd(e, end)
      const stand = e.target.closest('.stand')
      if (stand && e.button === 0) return carry(e, stand)
      const grown = e.target.closest('a.patch')
      if (grown && e.button === 0) return patch(e, grown)
      const solid = e.target.closest('.drawing[data-turned]')
      if (solid && e.button === 0 && !e.target.closest('.d-edit')) turn(e, solid)
    })
    // Browsers scroll under a finger on what is drawn, whatever its style says.
    const held = '.d-layer, .d-peg, .d-drag, .d-cut-end, .d-tap, .stand, a.patch'
    root.addEventListener('touchmove', (e) => {
      if (e.cancelable && e.target.closest?.(held)) e.preventDefault()
    }, { passive: false })
    root.addEventListener('focusout', (e) => {
      if (e.target.id !== 'over-input') return
      setTimeout(() => {
        if (document.activeElement?.id !== 'over-input') document.getElementById('over').hidden = true
      }, 120)
    })
    root.addEventListener('dragstart', (e) => { if (e.target.closest?.('.drawing')) e.preventDefault() })
    for (const kind of ['mouseover', 'focusin']) {
      root.addEventListener(kind, (e) => light(e.target.closest?.('[data-letter]')?.dataset.letter))
    }
    document.addEventListener('keydown', (e) => key(e))
  },
}))

Alpine.start()
listen()
passkeys()
awake()
along()
