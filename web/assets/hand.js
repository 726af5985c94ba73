// What is taken in hand on the drawing: a dimension, a letter, a part that is looked for.
import { page } from './send.js'

// Taking a dimension in hand on the drawing: a field over it.
export function take(link) {
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
  const middle = at.left - box.left + at.width / 2 - over.offsetWidth / 2
  over.style.left = Math.max(0, Math.min(box.width - over.offsetWidth, middle)) + 'px'
  over.style.top = at.top - box.top + at.height / 2 - over.offsetHeight / 2 + 'px'
  input.select()
  input.focus()
}

// letGo puts the field over the drawing away and goes back to its dimension.
export function letGo(field) {
  document.getElementById('over').hidden = true
  const link = [...page().querySelectorAll(`.d-edit[data-field="${field}"]`)].find((a) => a.getClientRects().length)
  if (link) link.focus()
}

export function light(letter) {
  for (const el of document.querySelectorAll('[data-letter]')) {
    const on = letter && el.dataset.letter === letter
    el.classList.toggle(el.closest('svg') ? 'd-lit' : 'lit', Boolean(on))
  }
}

// find lights every part whose letter is the text or whose name holds it.
export function find(text) {
  const want = text.trim().toLowerCase()
  for (const part of page().querySelectorAll('.drawing .part')) {
    const name = part.querySelector('title')?.textContent.toLowerCase() || ''
    const meant = part.dataset.letter.toLowerCase() === want || (want.length > 1 && name.includes(want))
    part.classList.toggle('d-lit', want !== '' && meant)
  }
}
