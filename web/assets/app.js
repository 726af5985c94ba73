// The page's script. The server renders everything; this sends a changed form
// and puts the part that comes back in place, keeping focus and scroll. Without
// it every form still works.
import Alpine from '@alpinejs/csp'
import morph from '@alpinejs/morph'

document.documentElement.classList.add('js')
Alpine.plugin(morph)

const page = () => document.getElementById('bench')
const typing = (el) => el.matches('input:not([type=radio]):not([type=range]), select, textarea')

// One request at a time: each sends the revision the last one left behind.
let queue = Promise.resolve()

// send posts a form. Where that fails (the server has stopped, the answer is no
// page) what was typed stays in its field and the page says so.
function send(form, extra) {
  clearTimeout(soon.get(form))
  queue = queue.then(() => post(form, extra)).catch((fault) => {
    const said = document.createElement('div')
    said.className = 'notice bad'
    said.setAttribute('role', 'alert')
    said.textContent = fault instanceof Told ? fault.message
      : 'That could not be sent, and nothing was saved. What you typed is still in its field: is Chamfer still running? Then try again.'
    document.getElementById('notice').replaceChildren(said)
  })
  return queue
}

// Told is a fault that the server has put into words.
class Told extends Error {}

// told finds those words on a page.
function told(html) {
  const words = new DOMParser().parseFromString(html, 'text/html').querySelector('[data-fault]')
  return words && [...words.children].map((el) => el.textContent.trim()).join(' ')
}

// Enter changes a field and submits its form: the change waits a moment, so
// that the two are sent once.
const soon = new WeakMap()

async function post(form, extra) {
  const body = new URLSearchParams(new FormData(form))
  const rev = page().querySelector('input[name=rev]')
  if (rev) body.set('rev', rev.value)
  for (const [key, value] of Object.entries(extra || {})) body.set(key, value)
  const started = performance.now()
  const answer = await fetch(form.action, { method: 'POST', body, headers: { 'X-Chamfer': 'part' } })
  const type = answer.headers.get('Content-Type') || ''
  const html = await answer.text()
  if (!type.startsWith('text/html') || !html.includes('id="bench"')) {
    const words = told(html)
    throw words ? new Told(words) : new Error('not a part')
  }
  put(html)
  requestAnimationFrame(() => setTimeout(() => { page().dataset.painted = String(Math.round(performance.now() - started)) }))
}

// put morphs the bench, leaves open what was opened, and brings every field to
// what the server says, the one being typed in excepted.
function put(html) {
  const held = document.activeElement
  const kind = [...page().querySelectorAll('.cut-group')].indexOf(held.closest?.('.longer')?.parentElement)
  Alpine.morph(page(), html, {
    updating(from, to, childrenOnly, skip) {
      if (from.nodeType !== 1) return
      if (from.tagName === 'DETAILS' && from.open) to.setAttribute('open', '')
      if (from.tagName === 'svg' && from.outerHTML === to.outerHTML) skip()
    },
    key: (el) => el.id || el.dataset?.part || undefined,
  })
  for (const el of page().querySelectorAll('input[value]:not(#find):not([type=hidden]):not([type=radio]):not([type=range]):not([type=checkbox])')) {
    if (el !== held || !el.dataset.dirty) el.value = el.getAttribute('value')
  }
  for (const el of page().querySelectorAll('input[type=radio], input[type=checkbox]')) el.checked = el.hasAttribute('checked')
  for (const el of page().querySelectorAll('[data-dirty]')) delete el.dataset.dirty
  // A longer search that has ended takes its buttons away.
  if (kind >= 0 && document.activeElement === document.body) page().querySelectorAll('.cut-group')[kind]?.querySelector('h2').focus()
}

// go fetches the bench at another address and puts it in place, without a new
// page; where that fails the address is simply opened.
let going = 0
async function go(url, keep) {
  const turn = ++going
  try {
    const answer = await fetch(url, { headers: { 'X-Chamfer': 'part' } })
    const html = await answer.text()
    if (turn !== going) return // something later was asked for
    if (!answer.ok || !html.includes('id="bench"')) throw new Error('not a part')
    if (keep) history.replaceState(null, '', url)
    else history.pushState(null, '', url)
    put(html)
  } catch {
    location.href = url
  }
}

// swallowClick keeps the end of a drag from pressing what is under the pointer.
// Not every drag ends in a click, so it lets go again at once.
function swallowClick() {
  const swallow = (c) => { c.preventDefault(); c.stopPropagation() }
  addEventListener('click', swallow, { capture: true })
  setTimeout(() => removeEventListener('click', swallow, { capture: true }), 30)
}

// turnBy drags the solid round: the server draws it from where it is then looked
// at.
function turnBy(e, drawing) {
  const from = { x: e.clientX, y: e.clientY }
  const start = { turn: Number(drawing.dataset.turned), tilt: Number(drawing.dataset.tilted) }
  let moved = false
  let waiting = false
  let at = start
  const address = () => {
    const url = new URL(location.href)
    url.searchParams.set('view', 'solid')
    url.searchParams.set('turn', String(at.turn))
    url.searchParams.set('tilt', String(at.tilt))
    return url
  }
  const move = (m) => {
    const dx = m.clientX - from.x
    const dy = m.clientY - from.y
    if (!moved && Math.hypot(dx, dy) < 6) return
    moved = true
    at = { turn: Math.round(start.turn - dx * 0.5) % 360, tilt: Math.max(-24, Math.min(48, Math.round(start.tilt + dy * 0.3))) }
    if (waiting) return
    waiting = true
    const url = address()
    fetch(`/p/${location.pathname.split('/')[2]}/turned${url.search}&wide=${drawing.classList.contains('wide')}`)
      .then((r) => (r.ok ? r.text() : '')).then((svg) => {
        waiting = false
        if (svg && drawing.isConnected) drawing.innerHTML = svg
      }).catch(() => { waiting = false })
  }
  const stop = () => {
    removeEventListener('pointermove', move)
    removeEventListener('pointerup', stop)
    removeEventListener('pointercancel', stop)
    if (moved) {
      swallowClick()
      setTimeout(() => go(address(), true))
    }
  }
  addEventListener('pointermove', move)
  addEventListener('pointerup', stop)
  addEventListener('pointercancel', stop)
}

// carry moves a bed on the plot: it follows the pointer, and the server says
// where it comes to stand.
function carry(e, stand) {
  const svg = stand.ownerSVGElement
  const per = 1 / svg.getScreenCTM().a
  const from = { x: e.clientX, y: e.clientY }
  let by = null
  const move = (m) => {
    const dx = (m.clientX - from.x) * per
    const dy = (m.clientY - from.y) * per
    if (!by && Math.hypot(dx, dy) < 5) return
    by = { x: dx, y: dy }
    stand.setAttribute('transform', `translate(${dx} ${dy})`)
  }
  const stop = (m) => {
    removeEventListener('pointermove', move)
    removeEventListener('pointerup', stop)
    removeEventListener('pointercancel', stop)
    stand.removeAttribute('transform')
    if (!by || m.type !== 'pointerup') return
    swallowClick()
    setTimeout(() => shift(stand, by.x * Number(stand.dataset.per), -by.y * Number(stand.dataset.per)))
  }
  addEventListener('pointermove', move)
  addEventListener('pointerup', stop)
  addEventListener('pointercancel', stop)
}

// shift sends a bed so many millimetres to the right and away.
function shift(stand, right, away) {
  return send(document.getElementById('move'), { stand: stand.dataset.stand, by: `${right.toFixed(1)};${away.toFixed(1)}` })
}

// Taking a dimension in hand on the drawing: a field over it.
function take(link) {
  const over = document.getElementById('over')
  const input = over.querySelector('#over-input')
  const paper = over.closest('.paper')
  const at = link.querySelector('.d-hit').getBoundingClientRect()
  const box = paper.getBoundingClientRect()
  over.hidden = false
  input.name = link.dataset.field
  input.value = link.dataset.value
  over.querySelector('label').textContent = link.getAttribute('aria-label')
  over.querySelector('[name=hand]').value = link.dataset.field
  over.style.left = Math.max(0, Math.min(box.width - over.offsetWidth, at.left - box.left + at.width / 2 - over.offsetWidth / 2)) + 'px'
  over.style.top = at.top - box.top + at.height / 2 - over.offsetHeight / 2 + 'px'
  input.select()
  input.focus()
}

// letGo puts the field over the drawing away and goes back to its dimension.
function letGo(field) {
  document.getElementById('over').hidden = true
  const link = [...page().querySelectorAll(`.d-edit[data-field="${field}"]`)].find((a) => a.getClientRects().length)
  if (link) link.focus()
}

// Dragging a wall: the strip follows the pointer, the server says what the size
// would come to, and letting go sends it.
function drag(e, strip) {
  const svg = strip.ownerSVGElement
  const said = document.getElementById('dragging')
  const paper = strip.closest('.paper')
  const per = 1 / svg.getScreenCTM().a // drawing units to a screen pixel
  const from = { x: e.clientX, y: e.clientY }
  let mm = 0
  let asked = 0
  strip.setPointerCapture(e.pointerId)
  strip.classList.add('d-held')
  const move = (m) => {
    const dx = (m.clientX - from.x) * per
    const dy = (m.clientY - from.y) * per
    const along = Number(strip.dataset.dx) !== 0
    mm = dx * Number(strip.dataset.dx) + dy * Number(strip.dataset.dy)
    strip.setAttribute('transform', along ? `translate(${dx} 0)` : `translate(0 ${dy})`)
    const box = paper.getBoundingClientRect()
    said.style.left = Math.max(0, Math.min(box.width - 200, m.clientX - box.left + 14)) + 'px'
    said.style.top = m.clientY - box.top - 44 + 'px'
    const turn = ++asked
    fetch(`/p/${location.pathname.split('/')[2]}/drag/preview?bed=${strip.dataset.bed}&field=${strip.dataset.drag}&mm=${mm.toFixed(2)}`)
      .then((r) => r.text()).then((text) => {
        if (turn !== asked) return // an older answer
        said.textContent = text
        said.hidden = false
      }).catch(() => {})
  }
  const stop = (m) => {
    strip.removeEventListener('pointermove', move)
    strip.removeEventListener('pointerup', stop)
    strip.removeEventListener('pointercancel', stop)
    strip.classList.remove('d-held')
    strip.removeAttribute('transform')
    asked++
    said.hidden = true
    if (m.type === 'pointerup' && Math.abs(mm) > 0.1) send(page().querySelector('.hand-form'), { drag: `${strip.dataset.drag}:${mm.toFixed(2)}` })
  }
  strip.addEventListener('pointermove', move)
  strip.addEventListener('pointerup', stop)
  strip.addEventListener('pointercancel', stop)
}

function light(letter) {
  for (const el of document.querySelectorAll('[data-letter]')) {
    const on = letter && el.dataset.letter === letter
    el.classList.toggle(el.closest('svg') ? 'd-lit' : 'lit', Boolean(on))
  }
}

// find lights every part whose letter is the text or whose name holds it.
function find(text) {
  const want = text.trim().toLowerCase()
  for (const part of page().querySelectorAll('.drawing .part')) {
    const name = part.querySelector('title')?.textContent.toLowerCase() || ''
    part.classList.toggle('d-lit', want !== '' && (part.dataset.letter.toLowerCase() === want || (want.length > 1 && name.includes(want))))
  }
}

function act(name) {
  const form = page().querySelector(`form[data-act=${name}]`)
  if (form && !form.querySelector('button').disabled) send(form)
}

const keys = {
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
      }
      else if (typing(e.target)) e.target.dataset.dirty = '1'
    })
    page().querySelector('.path .now')?.scrollIntoView({ block: 'nearest', inline: 'center' })
    root.addEventListener('submit', (e) => {
      const form = e.target
      if (form.id === 'over') {
        e.preventDefault()
        const field = form.querySelector('#over-input').name
        send(form).then(() => letGo(field))
      } else if (form.matches('form[data-auto], form[data-act], form[data-auto-submit]')) {
        e.preventDefault()
        const b = e.submitter
        send(form, b && b.name ? { [b.name]: b.value } : {})
      }
    })
    root.addEventListener('click', (e) => {
      const link = e.target.closest('.d-edit')
      if (link) {
        e.preventDefault()
        take(link)
        return
      }
      const soft = e.target.closest('a.part, a.stand, a[data-soft], a[data-view], .beds a')
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
        drag(e, strip)
        return
      }
      const stand = e.target.closest('.stand')
      if (stand && e.button === 0) return carry(e, stand)
      const solid = e.target.closest('.drawing[data-turned]')
      if (solid && e.button === 0 && !e.target.closest('.d-edit')) turnBy(e, solid)
    })
    root.addEventListener('focusout', (e) => {
      if (e.target.id === 'over-input') setTimeout(() => { if (document.activeElement?.id !== 'over-input') document.getElementById('over').hidden = true }, 120)
    })
    root.addEventListener('dragstart', (e) => { if (e.target.closest?.('.drawing')) e.preventDefault() })
    for (const kind of ['mouseover', 'focusin']) {
      root.addEventListener(kind, (e) => light(e.target.closest?.('[data-letter]')?.dataset.letter))
    }
    document.addEventListener('keydown', (e) => this.key(e))
  },
  key(e) {
    const el = document.activeElement || document.body
    if (el.id === 'over-input' && e.key === 'Escape') return letGo(el.name)
    if (e.key === 'Escape' && page().querySelector('a[data-close]')) return void page().querySelector('a[data-close]').click()
    if (el.id === 'find' && e.key === 'Enter') {
      const lit = [...page().querySelectorAll('.drawing .part.d-lit[href]')].find((a) => a.getClientRects().length)
      if (lit) go(lit.getAttribute('href')).then(() => page().querySelector('#inhand input:not([type=hidden]), #inhand button')?.focus())
      return
    }
    const field = el.dataset?.nudge || (el.classList?.contains('d-edit') ? el.dataset.field : '') || (el.id === 'over-input' ? el.name : '')
    if (field && (e.key === 'ArrowUp' || e.key === 'ArrowDown' || (el.tagName === 'a' && (e.key === 'ArrowRight' || e.key === 'ArrowLeft')))) {
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
      return void shift(el, steps[0] * mm, steps[1] * mm).then(() => [...page().querySelectorAll(`.stand[data-stand="${held}"]`)].find((a) => a.getClientRects().length)?.focus())
    }
    if (e.ctrlKey || e.metaKey || e.altKey || typing(el) || document.querySelector('dialog[open]')) return
    if (/^[0-9]$/.test(e.key)) return void page().querySelector(`a[data-digit="${e.key}"]`)?.click()
    if (keys[e.key]) {
      e.preventDefault()
      keys[e.key]()
    }
  },
}))

Alpine.start()
