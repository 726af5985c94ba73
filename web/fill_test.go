package web

import (
	"net/url"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
)

// A deep bed is filled in layers: taken from the usual ways, dragged with the mouse, with a finger and
// with the arrows, typed one by one and all at once; what there is already is bought no more, and what
// cannot be is refused with the reason and stays as it was typed.
func TestLayersFilled(t *testing.T) {
	b := browser(t)
	s := newSite(t)
	s.post("/p/2/edit", url.Values{"stage": {"bed"}, "soil": {"30 in"}})
	p := s.tab(b, "/p/2/fill", 1280, 900)
	p.ready("fill")
	value := func() string { return p.MustElement(`#f-filling`).MustProperty("value").String() }
	press := func(words string) {
		p.MustElementR(`.presets button`, words).MustClick()
	}
	p.saved(func() { press("branches, then manure") })
	if value() != "branches: 14 in; manure: 4 in; mix" {
		t.Fatalf("the usual way is %q", value())
	}
	grip := func(n int) (x, y float64) {
		at := p.MustEval(`(n) => { const g = [...document.querySelectorAll('.drawing [data-layer="layer:' + n + '"]')]
			.find((e) => e.getClientRects().length); g.scrollIntoView({ block: 'center' })
			const r = g.getBoundingClientRect(); return { x: r.left + r.width / 3, y: r.top + r.height / 2 } }`, n)
		return at.Get("x").Num(), at.Get("y").Num()
	}
	x, y := grip(0)
	p.Mouse.MustMoveTo(x, y).MustDown(proto.InputMouseButtonLeft)
	p.Mouse.MustMoveTo(x, y+10)
	p.Mouse.MustMoveTo(x, y+30)
	p.saved(func() { p.Mouse.MustUp(proto.InputMouseButtonLeft) })
	if v := value(); !strings.HasPrefix(v, "branches: ") || strings.HasPrefix(v, "branches: 14 in") ||
		!strings.Contains(v, "manure: ") {
		t.Errorf("dragged down it is %q", v)
	}
	p.saved(func() { p.MustElement(`form[data-act=undo] button`).MustClick() })
	p.MustElement(`.drawing.wide [data-layer="layer:1"]`).MustFocus()
	p.saved(func() { p.Keyboard.MustType(input.ArrowUp) })
	if v := value(); v != "branches: 14 in; manure: 4 1/2 in; mix" {
		t.Errorf("a press up makes %q", v)
	}
	p.until(`() => document.activeElement.classList.contains('d-layer')`)
	p.saved(func() {
		in := p.MustElement(`input[name="deep:0"]`)
		in.MustSelectAllText().MustInput("10 in")
		in.MustType(input.Enter)
	})
	if v := value(); v != "branches: 10 in; manure: 4 1/2 in; mix" {
		t.Errorf("typed at its layer it is %q", v)
	}
	p.saved(func() { p.MustElement(`select[name="of:1"]`).MustSelect("Compost") })
	if v := value(); v != "branches: 10 in; compost: 4 1/2 in; mix" {
		t.Errorf("another material makes %q", v)
	}
	in := p.MustElement(`input[name="deep:1"]`)
	in.MustSelectAllText().MustInput("4 ft")
	in.MustType(input.Enter)
	p.until(`() => document.getElementById('layer-err')?.textContent.length > 0 ||
		document.querySelector('#notice .bad')?.textContent.includes('works')`)
	if got := p.MustElement(`input[name="deep:1"]`).MustProperty("value").String(); got != "4 ft" {
		t.Errorf("what was refused is %q", got)
	}
	p.saved(func() {
		f := p.MustElement(`#f-filling`)
		f.MustSelectAllText().MustInput("3 topsoil + 2 compost: 6 in; mix")
		f.MustType(input.Enter)
	})
	if v := value(); v != "3 topsoil + 2 compost: 6 in; mix" {
		t.Errorf("typed at once it is %q", v)
	}
	total := p.figure("total")
	p.saved(func() {
		in := p.MustElement(`[name="have:compost-loose"]`)
		in.MustSelectAllText().MustInput("1")
		in.MustType(input.Enter)
	})
	if p.figure("total") == total {
		t.Error("compost that is there is bought all the same")
	}

	phone := s.tab(b, "/p/2/fill", 390, 844)
	phone.ready("fill")
	if err := (proto.EmulationSetTouchEmulationEnabled{Enabled: true}).Call(phone); err != nil {
		t.Fatal(err)
	}
	at := phone.MustEval(`() => { const g = [...document.querySelectorAll('.drawing [data-layer="layer:0"]')]
		.find((e) => e.getClientRects().length); g.scrollIntoView({ block: 'center' })
		const r = g.getBoundingClientRect(); return { x: r.left + r.width / 3, y: r.top + r.height / 2 } }`)
	x, y = at.Get("x").Num(), at.Get("y").Num()
	touch := func(kind proto.InputDispatchTouchEventType, dy float64) {
		points := []*proto.InputTouchPoint{{X: x, Y: y + dy}}
		if kind == proto.InputDispatchTouchEventTypeTouchEnd {
			points = []*proto.InputTouchPoint{}
		}
		if err := (proto.InputDispatchTouchEvent{Type: kind, TouchPoints: points}).Call(phone); err != nil {
			t.Fatal(err)
		}
	}
	was := value()
	phone.saved(func() {
		touch(proto.InputDispatchTouchEventTypeTouchStart, 0)
		touch(proto.InputDispatchTouchEventTypeTouchMove, -12)
		touch(proto.InputDispatchTouchEventTypeTouchMove, -24)
		touch(proto.InputDispatchTouchEventTypeTouchEnd, -24)
	})
	if v := phone.MustElement(`#f-filling`).MustProperty("value").String(); v == was {
		t.Errorf("a finger leaves it at %q", v)
	}
}
