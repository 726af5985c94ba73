package web

import (
	"math/rand/v2"
	"net/url"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"

	"chamfer/sim"
)

// Drip is laid: chosen, its tap dragged, moved by the arrows and typed, its parts on the bill; the timer that
// is plugged in is set to what the beds need, and the probe is read; what goes wrong is told by what helps. What is
// brushed on comes to the bill with its caution.
func TestWaterLaid(t *testing.T) {
	b := browser(t)
	s := newSite(t)
	p := s.tab(b, "/p/2/water", 1280, 900)
	p.ready("water")
	if p.MustHas(`.drawing.wide .d-drop`) {
		t.Error("a bed that is watered by can has emitters")
	}
	total := p.figure("total")
	p.saved(func() { p.clickOn(`input[name=water][value=drip]`) })
	if !p.MustHas(`.drawing.wide .d-drop`) || p.figure("total") == total {
		t.Error("drip is not drawn, or costs nothing")
	}
	left := func() string { return p.MustElement(`input[name=tap-right]`).MustProperty("value").String() }
	at := p.MustEval(`() => { const g = document.querySelector('.drawing.wide .d-tap')
		g.scrollIntoView({ block: 'center' }); const r = g.querySelector('.d-tap-ring').getBoundingClientRect()
		return { x: r.left + r.width / 2, y: r.top + r.height / 2 } }`)
	x, y := at.Get("x").Num(), at.Get("y").Num()
	p.Mouse.MustMoveTo(x, y).MustDown(proto.InputMouseButtonLeft)
	p.Mouse.MustMoveTo(x+20, y)
	p.Mouse.MustMoveTo(x+60, y-10)
	p.saved(func() { p.Mouse.MustUp(proto.InputMouseButtonLeft) })
	was := left()
	if was == `0"` {
		t.Error("the tap stays where it was")
	}
	p.MustElement(`.drawing.wide .d-tap`).MustFocus()
	p.saved(func() { p.Keyboard.MustType(input.ArrowRight) })
	if left() == was {
		t.Errorf("a press to the right leaves it at %s", was)
	}
	p.saved(func() {
		in := p.MustElement(`input[name=tap-right]`)
		in.MustSelectAllText().MustInput("6 ft")
		in.MustType(input.Enter)
	})
	if left() != "6'" {
		t.Errorf("typed it is at %s", left())
	}
	flow := p.MustElement(`#water-flow`)
	flow.MustSelectAllText().MustInput("a lot")
	flow.MustType(input.Enter)
	p.until(`() => document.getElementById('water-flow-err')?.textContent.includes('10 l in 25 s')`)
	if got := flow.MustProperty("value").String(); got != "a lot" {
		t.Errorf("what was refused is %q", got)
	}
	if bill, _ := s.get("/p/2/bill"); !strings.Contains(bill, "Vacuum breaker") {
		t.Error("the vacuum breaker is not on the bill")
	}
	if ics, code := s.get("/p/2/files/watering.ics"); code != 200 ||
		!strings.Contains(ics, "RRULE:FREQ=WEEKLY;BYDAY=MO,WE,FR") || !strings.HasSuffix(ics, "END:VCALENDAR\r\n") ||
		strings.Count(ics, "BEGIN:VEVENT") != strings.Count(ics, "END:VEVENT") {
		t.Errorf("status %d: %.200s", code, ics)
	}
	handler := s.Config.Handler.(*Server)
	timer := &sim.Timer{}
	plug := func(d sim.Device, f sim.Faults) string {
		at, unplug, err := sim.Start("127.0.0.1:0", d, f)
		if err != nil {
			t.Fatal(err)
		}
		t.Cleanup(func() { _ = unplug() })
		return at
	}
	handler.Read(Instruments{Timer: plug(timer, sim.Faults{Garble: 4}),
		Probe: plug(&sim.Probe{Wet: 15, Rand: rand.New(rand.NewPCG(1, 1))}, sim.Faults{})})
	how := func(what string) (string, int) {
		return s.post("/p/2/garden", url.Values{"stage": {"water"}, "how": {what}})
	}
	if page, code := how("timer"); code != 200 || !strings.HasPrefix(timer.Program, "06:00 ") ||
		!strings.Contains(page, "The timer is set") {
		t.Errorf("status %d, set to %q", code, timer.Program)
	}
	if page, code := how("probe"); code != 200 || !strings.Contains(page, "water it now") {
		t.Errorf("the probe: status %d", code)
	}
	handler.Read(Instruments{Timer: "127.0.0.1:1", Probe: "127.0.0.1:1"})
	if page, code := how("timer"); code != 422 || !strings.Contains(page, "switched on") {
		t.Errorf("unplugged: status %d", code)
	}

	p.stage("finish")
	total = p.figure("total")
	p.saved(func() { p.clickOn(`input[name=finish][value=tung]`) })
	if p.figure("total") == total || !strings.Contains(p.text(`.paper`), "take fire by themselves") ||
		!p.MustHas(`.drawing.wide svg.d-brushed-oil`) {
		t.Error("oil is not drawn, not paid, or its rags are not told of")
	}
}
