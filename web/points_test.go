package web

import (
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
)

// A line and an outline are drawn: a point dragged with the mouse and nudged with the keys, one
// more made from what stands between two, one dropped on its neighbour taken away, all of them
// typed; and what cannot be is refused, stays in its field, and says what would work.
func TestPointsDrawn(t *testing.T) {
	b := browser(t)
	s := newSite(t)
	p := s.tab(b, "/p/2/bed", 1280, 800)
	p.ready("bed")
	for _, c := range []struct{ system, field, typed, is, wrong, words string }{
		{"along", "line", "0 out 0; 6 ft out 10 in; 12 ft out 0", `0" out 0"; 6' out 10"; 12' out 0"`,
			"0 out 0; 12 ft out", "12 ft out"},
		{"outlined", "outline", "0 out 0; 8 ft out 0; 6 ft out 4 ft; 1 ft out 4 ft",
			`0" out 0"; 8' out 0"; 6' out 4'; 1' out 4'`, "0 out 0; 8 ft out 0; 0 out 6 ft", "no saw cuts"},
	} {
		p.choose("system", c.system)
		field := "#f-" + c.field
		value := func() string { return p.MustElement(field).MustProperty("value").String() }
		typed := func(text string) {
			p.MustElement(field).MustSelectAllText().MustInput(text)
			p.MustElement(field).MustType(input.Enter)
		}
		p.saved(func() { typed(c.typed) })
		if value() != c.is {
			t.Errorf("%s: typed %q, is %q", c.system, c.typed, value())
		}
		drag := func(selector string, right, up float64) { // millimetres
			at := p.MustEval(`(s) => { const g = document.querySelector('.drawing.wide ' + s)
				g.scrollIntoView({ block: 'center' })
				const r = g.querySelector('.d-peg-dot').getBoundingClientRect()
				return { x: r.left + r.width / 2, y: r.top + r.height / 2,
					per: Number(g.dataset.per) / g.ownerSVGElement.getScreenCTM().a } }`, selector)
			x, y, per := at.Get("x").Num(), at.Get("y").Num(), at.Get("per").Num()
			p.Mouse.MustMoveTo(x, y).MustDown(proto.InputMouseButtonLeft)
			p.Mouse.MustMoveTo(x+right/per/2, y-up/per/2)
			p.Mouse.MustMoveTo(x+right/per, y-up/per)
			p.saved(func() { p.Mouse.MustUp(proto.InputMouseButtonLeft) })
		}
		points := func() int { return len(strings.Split(value(), ";")) }
		n := points()
		drag(`[data-point="point:`+c.field+`:1"]`, -152.4, 50.8)
		if got := strings.Split(value(), "; ")[1]; !strings.HasPrefix(got, `5' 6" out 1'`) &&
			!strings.HasPrefix(got, `7' 6" out 2"`) {
			t.Errorf("%s: 6 in to the left and 2 in out makes %q", c.system, got)
		}
		p.saved(func() { p.MustElement(`form[data-act=undo] button`).MustClick() })
		if value() != c.is {
			t.Errorf("%s: undone it is %q", c.system, value())
		}
		p.MustElement(`.drawing.wide [data-point="point:` + c.field + `:1"]`).MustFocus()
		p.saved(func() { p.Keyboard.MustType(input.ArrowLeft) })
		if got := strings.Split(value(), "; ")[1]; !strings.HasPrefix(got, `5' 11"`) && !strings.HasPrefix(got, `7' 11"`) {
			t.Errorf("%s: a press to the left makes %q", c.system, got)
		}
		p.until(`() => document.activeElement.classList.contains('d-peg')`)
		drag(`[data-point="point:`+c.field+`:0+"]`, 30, map[string]float64{"along": 30, "outlined": -300}[c.system])
		if points() != n+1 {
			t.Errorf("%s: one more point makes %q", c.system, value())
		}
		p.saved(func() { typed(c.typed) })
		typed(c.wrong)
		p.until(`(f, w) => document.querySelector(f).value.includes('out') &&
			document.querySelector(f + '-err')?.textContent.includes(w)`, field, c.words)
		if value() != c.wrong {
			t.Errorf("%s: what was refused is %q", c.system, value())
		}
		p.saved(func() { typed(c.typed) })
	}
}
