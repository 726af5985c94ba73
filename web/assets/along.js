// A job on a phone where there is no network: its pages are taken along by the service worker, ticks wait here and are
// sent when the network is back, and what cannot be taken then is told and stays until it is dismissed.
const waiting = 'chamfer-waiting'
const known = () => `chamfer-ticks-${project()}${build()?.dataset.kind ?? ''}`
const read = (key, none) => { try { return JSON.parse(localStorage.getItem(key)) ?? none } catch { return none } }
const write = (key, value) => localStorage.setItem(key, JSON.stringify(value))
const build = () => document.querySelector('[data-made]') // the steps, or what is in the cart

// ticks on this phone are the newest the server told of, and what was ticked here since.
function overlay() {
  const at = build()
  if (!at) return
  const made = Number(at.dataset.made)
  const last = read(known(), { made: 0, ticks: {} })
  if (made > last.made) {
    const ticks = {}
    for (const a of at.querySelectorAll('[data-step]')) ticks[a.dataset.step] = a.dataset.done === 'yes'
    for (const w of read(waiting, [])) if (!w.refused && w.project === project()) ticks[w.step] = w.done
    write(known(), { made, ticks })
  }
  const { ticks } = read(known(), { ticks: {} })
  let done = 0
  for (const a of at.querySelectorAll('[data-step]')) {
    const is = Boolean(ticks[a.dataset.step])
    const box = a.querySelector('.tick')
    if (is) done++
    const sends = at.querySelector(`form[data-for="${CSS.escape(a.dataset.step)}"] input[name=done]`)
    if (sends) sends.value = is ? 'no' : 'yes'
    if (is === box.classList.contains('done')) continue
    box.classList.toggle('done', is)
    if (!a.dataset.number) box.textContent = is ? '✓' : ''
  }
  const count = at.querySelector('[data-count]')
  if (count) count.textContent = String(done)
  tell()
}

const project = () => document.getElementById('bench')?.dataset.project

function tell() {
  const at = document.querySelector('[data-along]')
  if (!at) return
  const list = read(waiting, [])
  const still = list.filter((w) => !w.refused)
  at.querySelector('.along-waits').textContent = still.length === 0 ? ''
    : `${still.length === 1 ? 'One tick waits' : `${still.length} ticks wait`} on this phone for the network.`
  const refused = at.querySelector('.along-refused')
  refused.replaceChildren(...list.filter((w) => w.refused).map((w) => {
    const p = document.createElement('p')
    p.className = 'error'
    p.textContent = `${w.title}: ${w.refused} `
    const b = document.createElement('button')
    b.type = 'button'
    b.className = 'button small'
    b.textContent = 'I have seen it'
    b.addEventListener('click', () => {
      write(waiting, read(waiting, []).filter((o) => o.id !== w.id))
      tell()
    })
    p.append(b)
    return p
  }))
}

// hold keeps a tick that could not be sent, and goes on to the next step.
export function hold(form, extra) {
  const data = new FormData(form)
  for (const [key, value] of Object.entries(extra || {})) data.set(key, value)
  const step = data.get('tick')
  const how = data.get('how') ?? ''
  const done = data.get('done') === 'yes' || how === 'paid'
  const same = (w) => w.project === project() && w.step === step && (w.how ?? '') === how
  const list = read(waiting, []).filter((w) => w.refused || !same(w))
  const body = [...data.entries()].filter(([key]) => !['rev', 'since'].includes(key))
  list.push({ id: `${Date.now()}-${Math.random()}`, project: project(), action: form.action, step, how, done, body,
    title: form.dataset.title, at: new Date().toISOString() })
  write(waiting, list)
  const last = read(known(), { made: 0, ticks: {} })
  last.ticks[step] = done
  write(known(), last)
  const next = done && form.dataset.next
  if (next && next !== location.pathname + location.search) location.href = next
  else overlay()
}

let flushing = false
async function flush() {
  if (flushing || !navigator.onLine) return
  flushing = true
  try {
    for (const w of read(waiting, []).filter((o) => !o.refused)) {
      const body = new URLSearchParams(w.body)
      body.set('at', w.at)
      let answer
      try {
        answer = await fetch(w.action, { method: 'POST', body, headers: { 'X-Chamfer': 'part' },
          signal: AbortSignal.timeout(15000) })
      } catch { return }
      const list = read(waiting, [])
      if (answer.ok && !answer.redirected) write(waiting, list.filter((o) => o.id !== w.id))
      else if (answer.status >= 500 || answer.redirected) return // later, or once somebody has signed in
      else {
        const words = new DOMParser().parseFromString(await answer.text(), 'text/html').querySelector('[data-fault]')
        const mine = list.find((o) => o.id === w.id)
        if (mine) mine.refused = words ? [...words.children].map((el) => el.textContent.trim()).join(' ')
          : 'the program did not take it.'
        write(waiting, list)
      }
    }
  } finally {
    flushing = false
    tell()
  }
}

// clocks write waits in the time of this place, and how long is left.
function clocks() {
  for (const t of document.querySelectorAll('time[data-until]')) {
    const until = new Date(t.dateTime)
    const left = until - Date.now()
    const when = until.toLocaleString(undefined, { weekday: 'short', day: 'numeric', month: 'long', hour: '2-digit',
      minute: '2-digit' })
    const hours = Math.floor(left / 3.6e6)
    const more = hours >= 48 ? `${Math.round(hours / 24)} days` : hours > 0 ? `${hours} h`
      : `${Math.ceil(left / 6e4)} min`
    const text = left > 0 ? `${when}, in ${more}` : `${when}: that has passed`
    if (t.textContent !== text) t.textContent = text
  }
}

export async function along() {
  document.addEventListener('chamfer:put', () => { overlay(); clocks() })
  addEventListener('online', flush)
  setInterval(() => { clocks(); if (read(waiting, []).some((w) => !w.refused)) flush() }, 5000)
  overlay()
  clocks()
  flush()
  if (!('serviceWorker' in navigator)) return
  if (document.querySelector('form[action="/sign-in"]')) { // whoever signs out leaves nothing behind
    (await navigator.serviceWorker.getRegistration())?.active?.postMessage({ forget: true })
    return
  }
  const offer = () => {
    const button = document.querySelector('[data-along] [data-take]')
    if (button) button.hidden = false
  }
  offer()
  document.addEventListener('chamfer:put', offer)
  navigator.serviceWorker.addEventListener('message', (e) => {
    const said = document.querySelector('[data-along] .along-kept')
    if (!said || !e.data.of) return
    said.textContent = e.data.stopped ? `Only ${e.data.kept} of ${e.data.of} pages came: try again.`
      : e.data.kept < e.data.of ? `${e.data.kept} of ${e.data.of} pages …`
      : `All ${e.data.of} pages are on this phone. They are as they were just now.`
  })
  document.addEventListener('click', async (e) => {
    if (!e.target.closest('[data-take]')) return
    await navigator.serviceWorker.register('/sw.js')
    const ready = await navigator.serviceWorker.ready
    const urls = new Set([location.pathname + location.search, location.pathname])
    for (const a of document.querySelectorAll('.build a[data-step], [data-along] [data-keep]')) {
      const url = new URL(a.href, location.href)
      urls.add(url.pathname + url.search)
    }
    for (const r of performance.getEntriesByType('resource')) {
      const url = new URL(r.name)
      if (url.origin === location.origin && url.pathname.startsWith('/static/')) urls.add(url.pathname + url.search)
    }
    for (const el of document.querySelectorAll('link[rel=stylesheet], script[src]')) {
      const url = new URL(el.href || el.src)
      urls.add(url.pathname + url.search)
    }
    ready.active.postMessage({ keep: [...urls] })
  })
}
