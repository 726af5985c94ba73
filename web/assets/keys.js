// The keys of the bench.
import { moveEnd, moveTap, nudgePeg, plantAt, raise, shift } from './drag.js'
import { letGo } from './hand.js'
import { go, page, send } from './send.js'

export const typing = (el) => el.matches('input:not([type=radio]):not([type=range]), select, textarea')

function act(name) {
  const form = page().querySelector(`form[data-act=${name}]`)
  if (form && !form.querySelector('button').disabled) send(form)
}

// beside goes to the stage so many further on.
function beside(by) {
  const all = [...page().querySelectorAll('.path a')]
  all[all.findIndex((a) => a.hasAttribute('aria-current')) + by]?.click()
}

const keys = {
  '[': () => beside(-1),
  ']': () => beside(1),
  u: () => act('undo'),
  U: () => act('redo'),
  '?': () => document.getElementById('keys').showModal(),
  '/': () => document.getElementById('find')?.focus(),
  v: () => {
    const views = [...page().querySelectorAll('a[data-view]')]
    const now = views.findIndex((a) => a.hasAttribute('aria-current'))
    if (views.length) views[(now + 1) % views.length].click()
  },
  w: () => {
    const near = document.activeElement.closest?.('article, .field, dd, section')
    const why = near?.querySelector('.why') || page().querySelector('.figure-total .why')
    if (why) why.open = !why.open
  },
}

// key acts on a key that was pressed.
export function key(e) {
  const el = document.activeElement || document.body
  if (el.id === 'over-input' && e.key === 'Escape') return letGo(el.name)
  const close = page().querySelector('a[data-close]')
  if (e.key === 'Escape' && close) return void close.click()
  if (el.id === 'find' && e.key === 'Enter') {
    const lit = [...page().querySelectorAll('.drawing .part.d-lit[href]')].find((a) => a.getClientRects().length)
    const first = '#inhand input:not([type=hidden]), #inhand button'
    if (lit) go(lit.getAttribute('href')).then(() => page().querySelector(first)?.focus())
    return
  }
  const onDrawing = el.classList?.contains('d-edit') ? el.dataset.field : ''
  const field = el.dataset?.nudge || onDrawing || (el.id === 'over-input' ? el.name : '')
  const sideways = el.tagName === 'a' && (e.key === 'ArrowRight' || e.key === 'ArrowLeft')
  if (field && (e.key === 'ArrowUp' || e.key === 'ArrowDown' || sideways)) {
    e.preventDefault()
    const more = e.key === 'ArrowUp' || e.key === 'ArrowRight'
    const by = (more ? '+' : '-').repeat(e.shiftKey ? 2 : 1)
    const form = page().querySelector('.hand-form')
    delete el.dataset.dirty
    return void send(form, { nudge: `${field}:${by}` })
  }
  const steps = { ArrowRight: [1, 0], ArrowLeft: [-1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key]
  if (steps && el.classList?.contains('stand')) {
    e.preventDefault()
    const mm = e.shiftKey ? 254 : 25.4
    const held = el.dataset.stand
    const again = () => [...page().querySelectorAll(`.stand[data-stand="${held}"]`)]
    return void shift(el, steps[0] * mm, steps[1] * mm)
      .then(() => again().find((a) => a.getClientRects().length)?.focus())
  }
  if (steps && el.classList?.contains('patch')) {
    e.preventDefault()
    const again = `a.patch[data-patch="${el.dataset.patch}"]`
    const [right, away] = e.shiftKey ? [25.4, 25.4] : [Number(el.dataset.wide), Number(el.dataset.deep)]
    return void plantAt(el, steps[0] * right, steps[1] * away)
      .then(() => [...page().querySelectorAll(again)].find((a) => a.getClientRects().length)?.focus())
  }
  if (steps && steps[1] && el.classList?.contains('d-layer')) {
    e.preventDefault()
    const again = `.d-layer[data-layer="${el.dataset.layer}"]`
    return void raise(el, steps[1] * (e.shiftKey ? 100 : 12.7))
      .then(() => [...page().querySelectorAll(again)].find((a) => a.getClientRects().length)?.focus())
  }
  if (steps && el.classList?.contains('d-tap')) {
    e.preventDefault()
    const mm = e.shiftKey ? 254 : 25.4
    return void moveTap(steps[0] * mm, steps[1] * mm)
      .then(() => [...page().querySelectorAll('.d-tap')].find((a) => a.getClientRects().length)?.focus())
  }
  if (steps && el.classList?.contains('d-cut-end')) {
    e.preventDefault()
    const mm = e.shiftKey ? 254 : 25.4
    const again = `.d-cut-end[data-end="${el.dataset.end}"]`
    return void moveEnd(el, steps[0] * mm, steps[1] * mm)
      .then(() => [...page().querySelectorAll(again)].find((a) => a.getClientRects().length)?.focus())
  }
  if (steps && el.classList?.contains('d-peg')) {
    e.preventDefault()
    const mm = e.shiftKey ? 254 : 25.4
    const again = `.d-peg[data-point="${el.dataset.point.replace('+', '')}"]`
    return void nudgePeg(el, steps[0] * mm, steps[1] * mm)
      .then(() => [...page().querySelectorAll(again)].find((a) => a.getClientRects().length)?.focus())
  }
  if (e.ctrlKey || e.metaKey || e.altKey || typing(el) || document.querySelector('dialog[open]')) return
  if (/^[0-9]$/.test(e.key)) return void page().querySelector(`a[data-digit="${e.key}"]`)?.click()
  if (keys[e.key]) {
    e.preventDefault()
    keys[e.key]()
  }
}
