// Where the device is, where its owner lets the page know: rounded to a hundredth of a degree, which is near enough for
// the sun and says no more than the parish.
import { page, send } from './send.js'

export function locate() {
  const said = document.getElementById('said')
  const tell = (text) => { if (said) said.textContent = text }
  if (!navigator.geolocation) return tell('This device does not know where it is: type the place instead.')
  navigator.geolocation.getCurrentPosition((at) => {
    const hours = -new Date().getTimezoneOffset() / 60
    const place = `${at.coords.latitude.toFixed(2)};${at.coords.longitude.toFixed(2)};${hours}`
    send(page().querySelector('.hand-form'), { 'sky:place': place })
  }, () => tell('The browser keeps the place to itself: type it instead.'), { maximumAge: 3.6e6, timeout: 15000 })
}
