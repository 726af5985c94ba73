// What goes to the server and what comes back: the server renders everything; a changed
// form is sent, and the part that comes back is put in place, keeping focus and scroll.
import Alpine from '@alpinejs/csp'
import { hold } from './along.js'

export const page = () => document.getElementById('bench')

// tab is what this page calls itself, so that it is not told of what it did.
export const tab = Math.random().toString(36).slice(2)

// One request at a time: each sends the revision the last one left behind.
let queue = Promise.resolve()

// send posts a form. Where that fails (the server has stopped, the answer is no
// page) what was typed stays in its field and the page says so.
export function send(form, extra) {
  clearTimeout(soon.get(form))
  sending(1)
  queue = queue.then(() => post(form, extra)).catch((fault) => {
    const said = document.createElement('div')
    said.className = 'notice bad'
    said.setAttribute('role', 'alert')
    said.textContent = fault instanceof Told ? fault.message
      : 'That could not be sent, and nothing was saved. What you typed is still in its field:' +
        ' is Chamfer still running? Then try again.'
    document.getElementById('notice').replaceChildren(said)
  }).finally(() => sending(-1))
  return queue
}

// sending counts what is under way; the page says whether anything is.
let underWay = 0
function sending(n) {
  underWay += n
  document.documentElement.toggleAttribute('data-sending', underWay > 0)
}

// What is in hand is answered first: the drawing, the tally, the size in hand. What else could be, and what it would
// cost, follows in a second answer; until then it stands dimmed as it was.
const first = ['.top-acts', '.drawing.wide', '.drawing.thin', '.hand-form', '.tally', '#said', '#notice']

// inHand puts those in place, where they are on the page as they are in the answer, and says whether they are.
function inHand(html, sent) {
  const next = new DOMParser().parseFromString(html, 'text/html').getElementById('bench')
  const now = page()
  const here = first.filter((s) => now.querySelector(s))
  if (!next || next.dataset.stage !== now.dataset.stage || !now.querySelector('.drawing') ||
    here.some((s) => !next.querySelector(s)) || first.some((s) => next.querySelector(s) && !now.querySelector(s))) {
    return false
  }
  for (const s of here) {
    const typed = [...now.querySelectorAll(s + ' [data-dirty]')].some((el) => sent.get(el) !== state(el))
    if (!typed) morph(now.querySelector(s), next.querySelector(s).outerHTML)
  }
  const hand = now.querySelector('.hand-form input:not([type=hidden])')
  if (hand && (!hand.dataset.dirty || sent.get(hand) === state(hand))) hand.value = hand.getAttribute('value')
  now.toggleAttribute('data-late', true)
  document.dispatchEvent(new Event('chamfer:put'))
  document.dispatchEvent(new Event('chamfer:shown'))
  return true
}

// later asks for the rest. What is sent meanwhile waits for it: a form of the old page would take back what follows
// from the change.
async function later(url, sent) {
  const turn = going
  let html = ''
  try {
    const answer = await fetch(url, { headers: { 'X-Chamfer': 'part', 'X-Chamfer-Late': 'rest' } })
    if (answer.ok) html = await answer.text()
  } catch { /* said below */ }
  if (turn !== going) return // another page has been gone to
  if (!html.includes('id="bench"')) {
    throw new Told('What you changed is saved. What else could be, and what it would cost, did not come: load this' +
      ' page again.')
  }
  put(html, sent)
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
export const soon = new WeakMap()

// A tick that has had no answer for so many ms waits like one that could not be sent: where the network goes away,
// rather than refuses, a browser itself waits for minutes.
const lost = 8000

async function post(form, extra) {
  const body = new URLSearchParams(new FormData(form))
  const rev = page().querySelector('input[name=rev]')
  if (rev) body.set('rev', rev.value)
  for (const [key, value] of Object.entries(extra || {})) body.set(key, value)
  const sent = new Map([...form.elements].map((el) => [el, state(el)]))
  const started = performance.now()
  let answer
  try {
    const headers = { 'X-Chamfer': 'part', 'X-Chamfer-Tab': tab, 'X-Chamfer-Late': 'yes' }
    answer = await fetch(form.action, { method: 'POST', body, headers,
      signal: form.dataset.title ? AbortSignal.timeout(lost) : undefined })
  } catch (fault) {
    if (!form.dataset.title) throw fault
    hold(form, extra) // a tick waits for the network
    return
  }
  const type = answer.headers.get('Content-Type') || ''
  const html = await answer.text()
  if (!type.startsWith('text/html') || !html.includes('id="bench"')) {
    const words = told(html)
    throw words ? new Told(words) : new Error('not a part')
  }
  const took = () => String(Math.round(performance.now() - started))
  const painted = () => new Promise((done) => {
    requestAnimationFrame(() => setTimeout(() => { done(page().dataset.painted = took()) }))
  })
  const late = html.match(/^[^>]* data-late="([^"]*)"/)?.[1].replaceAll('&amp;', '&')
  const shown = late && inHand(html, sent) ? painted() : undefined
  if (late) await later(late, sent)
  else put(html, sent)
  const ms = await (shown || painted())
  page().dataset.painted = ms
  page().dataset.whole = took()
}

const state = (el) => el.type === 'checkbox' ? el.checked : el.value

// meant tells which value a field is for: after a change the same box may stand for another.
const passing = ['rev', 'since', 'view', 'turn', 'tilt', 'acts', 'laid']
const meant = (el) => [el.name, el.form?.getAttribute('action'), ...[...el.form?.elements || []].filter((e) =>
  e.type === 'hidden' && !passing.includes(e.name) && !e.name.startsWith('was:')).map((e) => e.name + e.value)]
  .join(' ')

// morph changes what is there into an answer, and leaves open what was opened.
function morph(el, html) {
  Alpine.morph(el, html, {
    updating(from, to, childrenOnly, skip) {
      if (from.nodeType !== 1) return
      if (from.tagName === 'DETAILS' && from.open) to.setAttribute('open', '')
      if (from.isEqualNode(to)) skip()
    },
    key: (el) => el.id || el.dataset?.part || undefined,
  })
}

// put morphs the bench and brings every field to
// what the server says, but for what has been typed and is not sent yet: that
// stays, and stays marked, however many answers come before it goes. sent holds
// what was sent; without it (another address) only the field being typed in stays.
function put(html, sent) {
  const held = document.activeElement
  const above = [] // what holds it, from within
  for (let el = held; el && el !== document.body; el = el.parentElement) if (el.id) above.push(el.id)
  const kind = [...page().querySelectorAll('.cut-group')].indexOf(held.closest?.('.longer')?.parentElement)
  const typed = new Map([...page().querySelectorAll('[data-dirty]')]
    .filter((el) => sent ? sent.get(el) !== state(el) : el === held).map((el) => [el, meant(el)]))
  const stays = (el) => typed.has(el) && typed.get(el) === meant(el)
  morph(page(), html)
  const boxes = ['#find', '[type=hidden]', '[type=radio]', '[type=range]', '[type=checkbox]']
  for (const el of page().querySelectorAll('input[value]' + boxes.map((s) => `:not(${s})`).join(''))) {
    if (!stays(el)) el.value = el.getAttribute('value')
  }
  for (const el of page().querySelectorAll('input[type=radio], input[type=checkbox]')) {
    if (!stays(el)) el.checked = el.hasAttribute('checked')
  }
  for (const el of page().querySelectorAll('[data-dirty]')) delete el.dataset.dirty
  for (const el of typed.keys()) if (stays(el)) el.dataset.dirty = '1'
  document.dispatchEvent(new Event('chamfer:put'))
  // A longer search that has ended takes its buttons away.
  if (kind >= 0 && document.activeElement === document.body) {
    page().querySelectorAll('.cut-group')[kind]?.querySelector('h2').focus()
  }
  if (document.activeElement === document.body && above.length) { // what was in hand is gone: what it was in is next
    const next = above.map((id) => document.getElementById(id)).find((el) => el?.getClientRects().length)
    if (next && next.tabIndex < 0 && !next.hasAttribute('tabindex')) next.setAttribute('tabindex', '-1')
    next?.focus({ preventScroll: true })
  }
}

// refresh looks anew at what is shown, after what is under way; all that is typed and not sent stays.
export function refresh() {
  queue = queue.then(async () => {
    const answer = await fetch(location.href, { headers: { 'X-Chamfer': 'part' } })
    const html = await answer.text()
    if (answer.ok && html.includes('id="bench"')) put(html, new Map())
  }).catch(() => {})
  return queue
}

// go fetches the bench at another address and puts it in place, without a new
// page; where that fails the address is simply opened.
let going = 0
export async function go(url, keep) {
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
