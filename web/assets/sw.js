// The service worker: pages of a job that were taken along are shown where there is no network. It keeps what a page
// asks it to keep and nothing else, and answers from that only when the network does not.
const kept = 'chamfer-kept'

self.addEventListener('install', () => self.skipWaiting())
self.addEventListener('activate', (e) => e.waitUntil(self.clients.claim()))

// keep fetches pages one after the other, so that a small machine is not flooded, and says how far it is.
async function keep(urls, client) {
  const cache = await caches.open(kept)
  let n = 0
  for (const url of urls) {
    try {
      const answer = await fetch(url, { credentials: 'same-origin' })
      if (answer.ok && !answer.redirected) await cache.put(url, answer)
      else throw new Error(url)
    } catch {
      client.postMessage({ kept: n, of: urls.length, stopped: true })
      return
    }
    n++
    client.postMessage({ kept: n, of: urls.length })
  }
}

self.addEventListener('message', (e) => {
  if (e.data.keep) e.waitUntil(keep(e.data.keep, e.source))
  if (e.data.forget) e.waitUntil(caches.delete(kept))
})

self.addEventListener('fetch', (e) => {
  const url = new URL(e.request.url)
  if (e.request.method !== 'GET' || url.origin !== location.origin || e.request.headers.get('X-Chamfer')) return
  if (e.request.headers.get('Accept')?.includes('text/event-stream')) return
  e.respondWith(answered(e.request, url.pathname + url.search))
})

// answered is what the network says, or what was kept where it says nothing: a network that went away does not refuse,
// and a browser would wait for minutes.
async function answered(request, path) {
  const net = fetch(request)
  const found = await (await caches.open(kept)).match(path)
  if (!found) return net
  const late = new Promise((resolve) => { setTimeout(resolve, 4000, found) })
  return Promise.race([net.catch(() => found), late])
}
