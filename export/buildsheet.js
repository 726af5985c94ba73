'use strict'
const steps = [...document.querySelectorAll('.step')]
const box = (step) => step.querySelector('input')
const stamp = document.body.dataset.stamp
const place = 'chamfer-build-' + stamp
const letters = '0123456789ABCDEFGHJKMNPQRSTVWXYZ'

// kept: where the browser lets a file keep something, and in its address where it does not.
function recall() {
  try {
    const said = localStorage.getItem(place)
    if (said !== null) return said
  } catch { /* this browser keeps nothing for a file */ }
  return location.hash.slice(1)
}

function keep() {
  const said = steps.map((step) => box(step).checked ? '1' : '0').join('')
  try { localStorage.setItem(place, said) } catch { /* the address has it */ }
  try { history.replaceState(null, '', '#' + said) } catch { /* this browser keeps no address for a file */ }
}

function code() {
  const raw = [parseInt(stamp.slice(0, 2), 16), parseInt(stamp.slice(2), 16),
    ...Array(Math.ceil(steps.length / 8)).fill(0)]
  steps.forEach((step, i) => { if (box(step).checked) raw[2 + (i >> 3)] |= 0x80 >> (i & 7) })
  let crc = 0
  for (const b of raw) {
    crc ^= b
    for (let k = 0; k < 8; k++) crc = crc & 0x80 ? (crc << 1 ^ 0x07) & 0xff : crc << 1
  }
  raw.push(crc)
  let bits = 0, held = 0, text = ''
  for (const b of raw) {
    held = held << 8 | b
    bits += 8
    while (bits >= 5) text += letters[held >> (bits -= 5) & 31]
    held &= (1 << bits) - 1
  }
  if (bits) text += letters[held << (5 - bits) & 31]
  return text.match(/.{1,4}/g).join('-')
}

function show() {
  const done = steps.filter((step) => box(step).checked)
  for (const step of steps) step.classList.toggle('done', box(step).checked)
  document.getElementById('count').textContent = done.length + ' of ' + steps.length + ' done'
  document.getElementById('code').textContent = code()
}

const was = recall()
steps.forEach((step, i) => { box(step).checked = was[i] === '1' })
const first = steps.find((step) => !box(step).checked)
const shown = (step) => step.querySelector('details')
if (first) shown(first).open = true
for (const step of steps) {
  box(step).addEventListener('change', () => {
    if (box(step).checked) {
      shown(step).open = false
      const next = steps.find((other) => !box(other).checked)
      if (next) shown(next).open = true
    }
    keep()
    show()
  })
}
document.getElementById('save').addEventListener('click', () => {
  const done = steps.filter((step) => box(step).checked).map((step) => step.dataset.step)
  const file = new Blob([JSON.stringify({ format: 'chamfer-ticks-1', done })], { type: 'application/json' })
  const link = document.createElement('a')
  link.href = URL.createObjectURL(file)
  link.download = 'build.ticks.json'
  link.click()
  URL.revokeObjectURL(link.href)
})
show()
