// The page's script. The server renders everything; this sends a changed form
// and puts the part that comes back in place, keeping focus and scroll. Without
// it every form still works.
import Alpine from '@alpinejs/csp'
import morph from '@alpinejs/morph'

document.documentElement.classList.add('js')
Alpine.plugin(morph)

const page = () => document.getElementById('bench')
const typing = (el) => el.matches('input:not([type=radio]), select, textarea')

// One request at a time: each sends the revision the last one left behind.
let queue = Promise.resolve()

// send posts a form. Where that fails (the server has stopped, the answer is no
// page) what was typed stays in its field and the page says so.
function send(form, extra) {
  clearTimeout(soon.get(form))
  queue = queue.then(() => post(form, extra)).catch(() => {
    const said = document.createElement('div')
    said.className = 'notice bad'
    said.setAttribute('role', 'alert')
    said.textContent = 'That could not be sent, and nothing was saved. What you typed is still in its field: is Chamfer still running? Then try again.'
    document.getElementById('notice').replaceChildren(said)
  })
  return queue
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
  if (!type.startsWith('text/html') || !html.includes('id="bench"')) throw new Error('not a part')
  put(html)
  requestAnimationFrame(() => setTimeout(() => { page().dataset.painted = String(Math.round(performance.now() - started)) }))
}

// put morphs the bench, leaves open what was opened, and brings every field to
// what the server says, the one being typed in excepted.
function put(html) {
  const held = document.activeElement
  Alpine.morph(page(), html, {
    updating(from, to, childrenOnly, skip) {
      if (from.nodeType !== 1) return
      if (from.tagName === 'DETAILS' && from.open) to.setAttribute('open', '')
      if (from.tagName === 'svg' && from.outerHTML === to.outerHTML) skip()
    },
    key: (el) => el.id || el.dataset?.part || undefined,
  })
  for (const el of page().querySelectorAll('input[value]:not(#find):not([type=hidden]):not([type=radio])')) {
    if (el !== held || !el.dataset.dirty) el.value = el.getAttribute('value')
  }
  for (const el of page().querySelectorAll('input[type=radio]')) el.checked = el.hasAttribute('checked')
  for (const el of page().querySelectorAll('[data-dirty]')) delete el.dataset.dirty
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

Alpine.data('bench', () => ({
  init() {
    const root = this.$root
    root.addEventListener('change', (e) => {
      const form = e.target.closest('form[data-auto]')
      if (form) soon.set(form, setTimeout(() => send(form)))
    })
    root.addEventListener('input', (e) => {
      if (e.target.id === 'find') find(e.target.value)
      else if (typing(e.target)) e.target.dataset.dirty = '1'
    })
    page().querySelector('.path .now')?.scrollIntoView({ block: 'nearest', inline: 'center' })
    root.addEventListener('submit', (e) => {
      const form = e.target
      if (form.id === 'over') {
        e.preventDefault()
        const field = form.querySelector('#over-input').name
        send(form).then(() => letGo(field))
      } else if (form.matches('form[data-auto], form[data-act]')) {
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
      }
    })
    root.addEventListener('pointerdown', (e) => {
      const strip = e.target.closest('.d-drag')
      if (strip && e.button === 0) {
        e.preventDefault()
        drag(e, strip)
      }
    })
    root.addEventListener('focusout', (e) => {
      if (e.target.id === 'over-input') setTimeout(() => { if (document.activeElement?.id !== 'over-input') document.getElementById('over').hidden = true }, 120)
    })
    for (const kind of ['mouseover', 'focusin']) {
      root.addEventListener(kind, (e) => light(e.target.closest?.('[data-letter]')?.dataset.letter))
    }
    document.addEventListener('keydown', (e) => this.key(e))
  },
  key(e) {
    const el = document.activeElement || document.body
    if (el.id === 'over-input' && e.key === 'Escape') return letGo(el.name)
    const field = el.dataset?.nudge || (el.classList?.contains('d-edit') ? el.dataset.field : '') || (el.id === 'over-input' ? el.name : '')
    if (field && (e.key === 'ArrowUp' || e.key === 'ArrowDown' || (el.tagName === 'a' && (e.key === 'ArrowRight' || e.key === 'ArrowLeft')))) {
      e.preventDefault()
      const more = e.key === 'ArrowUp' || e.key === 'ArrowRight'
      const by = (more ? '+' : '-').repeat(e.shiftKey ? 2 : 1)
      const form = page().querySelector('.hand-form')
      delete el.dataset.dirty
      return void send(form, { nudge: `${field}:${by}` })
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
