// Dragging: a wall, a bed on its plot, the solid round. Each says what a move does and what
// letting go does; how a pointer is followed stands here once.
import { go, page, send } from './send.js'

// follow follows a pointer from where it went down. Moves count from so many pixels on:
// on.move gets how far it is from there, on.stop how far it came, null for nowhere.
function follow(e, least, on) {
  const from = { x: e.clientX, y: e.clientY }
  let by = null
  const move = (m) => {
    const far = { x: m.clientX - from.x, y: m.clientY - from.y }
    if (!by && Math.hypot(far.x, far.y) < least) return
    by = far
    on.move(by, m)
  }
  const stop = (m) => {
    removeEventListener('pointermove', move)
    removeEventListener('pointerup', stop)
    removeEventListener('pointercancel', stop)
    if (by) swallowClick()
    on.stop(by, m)
  }
  addEventListener('pointermove', move)
  addEventListener('pointerup', stop)
  addEventListener('pointercancel', stop)
}

// swallowClick keeps the end of a drag from pressing what is under the pointer.
// Not every drag ends in a click, so it lets go again at once.
function swallowClick() {
  const swallow = (c) => { c.preventDefault(); c.stopPropagation() }
  addEventListener('click', swallow, { capture: true })
  setTimeout(() => removeEventListener('click', swallow, { capture: true }), 30)
}

// project is the address of the project on the page.
const project = () => `/p/${location.pathname.split('/')[2]}`

// turn drags the solid round: the server draws it from where it is then looked at.
export function turn(e, drawing) {
  const start = { turn: Number(drawing.dataset.turned), tilt: Number(drawing.dataset.tilted) }
  let waiting = false
  let at = start
  const address = () => {
    const url = new URL(location.href)
    url.searchParams.set('view', 'solid')
    url.searchParams.set('turn', String(at.turn))
    url.searchParams.set('tilt', String(at.tilt))
    return url
  }
  follow(e, 6, {
    move(by) {
      const tilt = Math.max(-24, Math.min(48, Math.round(start.tilt + by.y * 0.3)))
      at = { turn: Math.round(start.turn - by.x * 0.5) % 360, tilt }
      if (waiting) return
      waiting = true
      fetch(`${project()}/turned${address().search}&wide=${drawing.classList.contains('wide')}`)
        .then((r) => (r.ok ? r.text() : '')).then((svg) => {
          waiting = false
          if (svg && drawing.isConnected) drawing.innerHTML = svg
        }).catch(() => { waiting = false })
    },
    stop(by) { if (by) setTimeout(() => go(address(), true)) },
  })
}

// carry moves a bed on the plot: it follows the pointer, and the server says where it
// comes to stand.
export function carry(e, stand) {
  const per = 1 / stand.ownerSVGElement.getScreenCTM().a
  follow(e, 5 / per, {
    move(by) { stand.setAttribute('transform', `translate(${by.x * per} ${by.y * per})`) },
    stop(by, m) {
      stand.removeAttribute('transform')
      if (!by || m.type !== 'pointerup') return
      const mm = per * Number(stand.dataset.per)
      setTimeout(() => shift(stand, by.x * mm, -by.y * mm))
    },
  })
}

// shift sends a bed so many millimetres to the right and away.
export function shift(stand, right, away) {
  const by = `${right.toFixed(1)};${away.toFixed(1)}`
  return send(document.getElementById('move'), { stand: stand.dataset.stand, by })
}

// wall drags a wall: the strip follows the pointer, the server says what the size would come
// to, and letting go sends it.
export function wall(e, strip) {
  const said = document.getElementById('dragging')
  const paper = strip.closest('.paper')
  const per = 1 / strip.ownerSVGElement.getScreenCTM().a // drawing units to a screen pixel
  let mm = 0
  let asked = 0
  strip.setPointerCapture(e.pointerId)
  strip.classList.add('d-held')
  follow(e, 0, {
    move(by, m) {
      const along = Number(strip.dataset.dx) !== 0
      mm = per * (by.x * Number(strip.dataset.dx) + by.y * Number(strip.dataset.dy))
      strip.setAttribute('transform', along ? `translate(${by.x * per} 0)` : `translate(0 ${by.y * per})`)
      const box = paper.getBoundingClientRect()
      said.style.left = Math.max(0, Math.min(box.width - 200, m.clientX - box.left + 14)) + 'px'
      said.style.top = m.clientY - box.top - 44 + 'px'
      const turn = ++asked
      fetch(`${project()}/drag/preview?bed=${strip.dataset.bed}&field=${strip.dataset.drag}&mm=${mm.toFixed(2)}`)
        .then((r) => r.text()).then((text) => {
          if (turn !== asked) return // an older answer
          said.textContent = text
          said.hidden = false
        }).catch(() => {})
    },
    stop(by, m) {
      strip.classList.remove('d-held')
      strip.removeAttribute('transform')
      asked++
      said.hidden = true
      if (m.type !== 'pointerup' || Math.abs(mm) <= 0.1) return
      send(page().querySelector('.hand-form'), { drag: `${strip.dataset.drag}:${mm.toFixed(2)}` })
    },
  })
}

// peg drags a point of a drawn line: the line through all of them follows, and letting go
// sends it.
export function peg(e, held) {
  const svg = held.ownerSVGElement
  const per = 1 / svg.getScreenCTM().a
  const drawn = svg.querySelector('.d-drawn')
  const spot = (g) => ({ x: Number(g.dataset.x), y: Number(g.dataset.y) })
  const key = (g) => g.dataset.point.split(':').slice(0, 2).join(':')
  const whole = [...svg.querySelectorAll('.d-peg:not(.d-peg-half)')].filter((g) => key(g) === key(held))
  const half = held.classList.contains('d-peg-half')
  const nth = Number(held.dataset.point.split(':')[2].replace('+', ''))
  held.classList.add('d-held')
  follow(e, 3, {
    move(by) {
      held.setAttribute('transform', `translate(${by.x * per} ${by.y * per})`)
      const now = { x: spot(held).x + by.x * per, y: spot(held).y + by.y * per }
      const line = whole.map(spot)
      line.splice(half ? nth + 1 : nth, half ? 0 : 1, now)
      drawn.setAttribute('d', 'M' + line.map((p) => `${p.x.toFixed(1)} ${p.y.toFixed(1)}`).join('L'))
    },
    stop(by, m) {
      held.classList.remove('d-held')
      held.removeAttribute('transform')
      drawn.setAttribute('d', 'M0 0')
      if (!by || m.type !== 'pointerup') return
      const mm = per * Number(held.dataset.per)
      setTimeout(() => nudgePeg(held, by.x * mm, -by.y * mm))
    },
  })
}

// layer drags the top of a layer up or down.
export function layer(e, held) {
  const per = 1 / held.ownerSVGElement.getScreenCTM().a
  held.classList.add('d-held')
  follow(e, 3, {
    move(by) { held.setAttribute('transform', `translate(0 ${by.y * per})`) },
    stop(by, m) {
      held.classList.remove('d-held')
      held.removeAttribute('transform')
      if (!by || m.type !== 'pointerup') return
      const mm = -by.y * per * Number(held.dataset.per)
      setTimeout(() => raise(held, mm))
    },
  })
}

// raise sends the top of a layer so many millimetres up.
export function raise(held, mm) {
  return send(page().querySelector('.hand-form'), { [held.dataset.layer]: mm.toFixed(1) })
}

// tap drags where the water comes from.
export function tap(e, held) {
  const per = 1 / held.ownerSVGElement.getScreenCTM().a
  held.classList.add('d-held')
  follow(e, 3, {
    move(by) { held.setAttribute('transform', `translate(${by.x * per} ${by.y * per})`) },
    stop(by, m) {
      held.classList.remove('d-held')
      held.removeAttribute('transform')
      if (!by || m.type !== 'pointerup') return
      const mm = per * Number(held.dataset.per)
      setTimeout(() => moveTap(by.x * mm, -by.y * mm))
    },
  })
}

// moveTap sends the tap so many millimetres to the right and away.
export function moveTap(right, away) {
  return send(page().querySelector('.hand-form'), { 'water:tap': `by ${right.toFixed(1)};${away.toFixed(1)}` })
}

// cutEnd drags an end of the line a section is looked at along.
export function cutEnd(e, held) {
  const per = 1 / held.ownerSVGElement.getScreenCTM().a
  const line = held.ownerSVGElement.querySelector('.d-cut')
  held.classList.add('d-held')
  follow(e, 3, {
    move(by) {
      held.setAttribute('transform', `translate(${by.x * per} ${by.y * per})`)
      line.style.opacity = 0.25
    },
    stop(by, m) {
      held.classList.remove('d-held')
      if (!by || m.type !== 'pointerup') return
      const mm = per * Number(held.dataset.per)
      setTimeout(() => moveEnd(held, by.x * mm, -by.y * mm))
    },
  })
}

// moveEnd looks along a line whose end is so many millimetres further right and away.
export function moveEnd(held, right, away) {
  const cut = held.dataset.cut.split(',').map(Number)
  const at = 2 * Number(held.dataset.end)
  cut[at] += right
  cut[at + 1] += away
  const url = new URL(location.href)
  url.searchParams.set('cut', cut.map((v) => v.toFixed(0)).join(','))
  return go(url, true)
}

// nudgePeg sends a point so many millimetres along and out.
export function nudgePeg(held, along, out) {
  return send(page().querySelector('.hand-form'), { [held.dataset.point]: `${along.toFixed(1)};${out.toFixed(1)}` })
}

// patch drags what is planted over its soil.
export function patch(e, held) {
  const per = 1 / held.ownerSVGElement.getScreenCTM().a
  follow(e, 4, {
    move(by) { held.setAttribute('transform', `translate(${by.x * per} ${by.y * per})`) },
    stop(by, m) {
      held.removeAttribute('transform')
      if (!by || m.type !== 'pointerup') return
      const mm = per * Number(held.dataset.per)
      setTimeout(() => plantAt(held, by.x * mm, -by.y * mm))
    },
  })
}

// plantAt sends a planting so many millimetres to the right and away.
export function plantAt(held, right, away) {
  const by = `${held.dataset.patch}:${right.toFixed(1)};${away.toFixed(1)}`
  return send(page().querySelector('.hand-form'), { 'shift-patch': by })
}
