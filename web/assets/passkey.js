// Passkeys: the browser is asked for a key, and what it answers goes to the server, which looks at it.
const bytes = (text) => Uint8Array.from(atob(text.replace(/-/g, '+').replace(/_/g, '/')), (c) => c.charCodeAt(0))
const words = (raw) => btoa(String.fromCharCode(...new Uint8Array(raw)))
  .replace(/\+/g, '-').replace(/\//g, '_').replace(/=+$/, '')

async function post(action, body) {
  const answer = await fetch(action, { method: 'POST', body: new URLSearchParams(body) })
  const said = await answer.json().catch(() => ({ why: 'That could not be sent: is Chamfer still running?' }))
  if (!answer.ok) throw new Error(said.why)
  return said
}

async function make(options) {
  options.challenge = bytes(options.challenge)
  options.user.id = bytes(options.user.id)
  for (const key of options.excludeCredentials || []) key.id = bytes(key.id)
  const key = await navigator.credentials.create({ publicKey: options })
  return { id: key.id, rawId: words(key.rawId), type: key.type,
    response: { clientDataJSON: words(key.response.clientDataJSON),
      attestationObject: words(key.response.attestationObject) } }
}

async function show(options) {
  options.challenge = bytes(options.challenge)
  for (const key of options.allowCredentials || []) key.id = bytes(key.id)
  const key = await navigator.credentials.get({ publicKey: options })
  return { id: key.id, rawId: words(key.rawId), type: key.type,
    response: { clientDataJSON: words(key.response.clientDataJSON),
      authenticatorData: words(key.response.authenticatorData), signature: words(key.response.signature),
      userHandle: key.response.userHandle && words(key.response.userHandle) } }
}

// What is typed as a password can be shown.
function peek() {
  for (const el of document.querySelectorAll('input[type=password]')) {
    const button = document.createElement('button')
    button.type = 'button'
    button.className = 'button small quiet peek'
    button.textContent = 'Show what is typed'
    button.addEventListener('click', () => {
      el.type = el.type === 'password' ? 'text' : 'password'
      button.textContent = el.type === 'password' ? 'Show what is typed' : 'Hide it'
    })
    el.after(button)
  }
}

export function passkeys() {
  peek()
  for (const form of document.querySelectorAll('form[data-passkey]')) {
    if (!window.PublicKeyCredential) continue
    form.hidden = false
    form.addEventListener('submit', async (e) => {
      e.preventDefault()
      const said = form.querySelector('.error')
      said.textContent = ''
      try {
        const { publicKey } = await post(form.action, {})
        const answer = await (publicKey.user ? make(publicKey) : show(publicKey))
        const to = form.querySelector('[name=to]')?.value || ''
        location.href = (await post(form.dataset.passkey, { answer: JSON.stringify(answer), to })).to
      } catch (fault) {
        said.textContent = fault.name === 'NotAllowedError' || fault.name === 'InvalidStateError'
          ? 'The browser gave no passkey. Press again, or use the password.' : fault.message
      }
    })
  }
}
