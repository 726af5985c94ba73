// The screen of a phone in the drive, kept awake while the build steps are open.
let lock
let wanted = false

const supported = 'wakeLock' in navigator

async function hold() {
  if (!wanted || lock || document.hidden) return
  try {
    lock = await navigator.wakeLock.request('screen')
    lock.addEventListener('release', () => { lock = null; show() })
  } catch { lock = null }
  show()
}

function show() {
  const at = document.querySelector('[data-awake]')
  if (!at) return
  at.hidden = false
  const button = at.querySelector('button')
  const said = at.querySelector('span')
  button.hidden = !supported
  button.setAttribute('aria-pressed', String(wanted))
  if (!supported) {
    said.textContent = isSecureContext ? 'This browser cannot keep the screen awake: the phone’s own settings can.'
      : 'Over plain http no browser keeps the screen awake: the phone’s own settings can, or start Chamfer with' +
        ' --secure.'
    return
  }
  said.textContent = wanted && !lock ? 'The browser let the screen go; it is asked again when you come back.' : ''
}

export function awake() {
  document.addEventListener('click', (e) => {
    if (!e.target.closest('[data-awake] button')) return
    wanted = !wanted
    if (wanted) hold()
    else if (lock) lock.release()
    show()
  })
  document.addEventListener('visibilitychange', hold)
  document.addEventListener('chamfer:put', show)
  show()
}
