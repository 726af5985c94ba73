// What others change in a project arrives here while it is open, and who else looks at it.
import { page, refresh, tab } from './send.js'

let source
let closing

function open() {
  const project = page()?.dataset.project
  if (!project || source || !window.EventSource) return
  source = new EventSource(`/p/${project}/events?tab=${tab}`)
  source.addEventListener('changed', (e) => {
    const { by, what } = JSON.parse(e.data)
    refresh().then(() => say(by ? `${by}: ${what}` : `In another window: ${what}`))
  })
  source.addEventListener('who', (e) => {
    const who = JSON.parse(e.data).who || []
    const there = document.getElementById('there')
    there.textContent = who.length > 1 ? 'Here: ' + who.join(', ') : ''
  })
  source.addEventListener('out', () => {
    close()
    say('You may not look at this any more, or are signed out. What you typed is still in its field.', true)
  })
}

function close() {
  source?.close()
  source = null
}

let fading
function say(text, stays) {
  const news = document.getElementById('news')
  news.textContent = text
  clearTimeout(fading)
  if (!stays) fading = setTimeout(() => { news.textContent = '' }, 12000)
}

// A browser opens few streams at once: pages that nobody sees close theirs, and look anew when they are seen again.
export function listen() {
  open()
  document.addEventListener('visibilitychange', () => {
    clearTimeout(closing)
    if (document.hidden) closing = setTimeout(close, 2000)
    else if (!source && page()?.dataset.project) {
      open()
      refresh()
    }
  })
  addEventListener('pagehide', close)
}
