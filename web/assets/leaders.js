// Leaders: thin lines from what stands in the margin of a drawing to the place on it that is meant.
const svg = 'http://www.w3.org/2000/svg'

// draw puts them where notes and drawing stand side by side; a note without a place has none.
function draw() {
  for (const old of document.querySelectorAll('.leaders')) old.remove()
  const board = document.querySelector('.board')
  if (!board || !matchMedia('(min-width: 861px)').matches) return
  const box = board.getBoundingClientRect()
  const lines = document.createElementNS(svg, 'svg')
  lines.setAttribute('class', 'leaders')
  lines.setAttribute('aria-hidden', 'true')
  const paper = board.querySelector('.paper').getBoundingClientRect()
  const side = board.querySelector('.side').getBoundingClientRect()
  let edge = (paper.right + side.left) / 2 - box.left + 4
  for (const note of board.querySelectorAll('.finding[data-doubt]')) {
    const mark = [...board.querySelectorAll(`.drawing [data-doubt="${note.dataset.doubt}"]`)]
      .find((m) => m.getClientRects().length)
    if (!mark || note.dataset.doubt === '0') continue
    const from = note.querySelector('.note-mark').getBoundingClientRect()
    const to = mark.getBoundingClientRect()
    const y = from.top + from.height / 2 - box.top
    const at = [to.left + to.width / 2 - box.left, to.top + to.height / 2 - box.top]
    const gap = to.width / 2 + 2
    const most = Math.abs(edge - at[0]) / 5 // it leaves the margin at a low angle
    const turn = at[1] + Math.max(-most, Math.min(most, y - at[1]))
    const long = Math.hypot(at[0] - edge, at[1] - turn)
    const end = [at[0] + (edge - at[0]) * gap / long, at[1] + (turn - at[1]) * gap / long]
    for (const kind of ['halo', [...note.classList].join(' ')]) {
      const path = document.createElementNS(svg, 'path')
      path.setAttribute('d', `M${from.left - box.left - 3} ${y}H${edge}V${turn}L${end[0]} ${end[1]}`)
      path.setAttribute('class', kind)
      lines.append(path)
    }
    edge -= 5
  }
  if (lines.childElementCount) board.append(lines)
}

let due = 0
const soon = () => { cancelAnimationFrame(due); due = requestAnimationFrame(draw) }

export function leaders() {
  soon()
  addEventListener('resize', soon)
  addEventListener('load', soon)
  document.addEventListener('chamfer:put', soon)
  document.addEventListener('toggle', soon, true)
  document.addEventListener('click', (e) => { // what is pressed on the drawing is opened in the margin
    const mark = e.target.closest?.('.drawing [data-doubt]')
    const note = mark && document.querySelector(`.finding[data-doubt="${mark.dataset.doubt}"]`)
    if (!note) return
    note.open = true
    note.querySelector('summary').focus()
  })
}
