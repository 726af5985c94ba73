package web

import (
	"net/url"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
)

// A lining is chosen: for flowers nothing is said of it; for food the page tells both schools' reasons and what would
// do instead, and takes a reason to keep it. A trough on the ground is advised against; on paving its holes are
// counted where it is laid. What is forked in comes on the bill, what is there comes off it, and what cannot be read
// stays as it was typed.
func TestLinings(t *testing.T) {
	b := browser(t)
	s := newSite(t)
	s.post("/p/2/edit", url.Values{"stage": {"site"}, "grows": {"flowers"}})
	p := s.tab(b, "/p/2/fill", 1280, 900)
	p.ready("fill")
	said := func() string {
		text := p.MustEval(`() => [...document.querySelectorAll('.finding')].map((e) => e.textContent).join(' ')`).Str()
		return strings.Join(strings.Fields(text), " ")
	}
	p.saved(func() {
		p.MustEval(`() => { const in_ = document.querySelector('[name=liner][value=membrane]')
		const box = in_.closest('details'); if (box) box.open = true }`)
		p.MustElement(`[name=liner][value=membrane]`).MustClick()
	})
	if text := said(); strings.Contains(text, "lining") {
		t.Errorf("of a lining for flowers it says %q", text)
	}
	s.post("/p/2/edit", url.Values{"stage": {"site"}, "grows": {"greens"}})
	p.MustNavigate(s.URL + "/p/2/fill")
	p.ready("fill")
	text := said()
	for _, want := range []string{"touches the soil of what you eat", "Gardeners disagree", "For it: boards",
		"Against it: nobody has tested", "fabric instead", "no lining"} {
		if !strings.Contains(text, want) {
			t.Errorf("of a lining for food it does not say %q: %q", want, text)
		}
	}
	if n := len(p.MustElements(`.linings .lining`)); n != 2 { // card below, membrane up the walls
		t.Errorf("%d sheets are drawn", n)
	}
	p.clickOn(`.finding[data-code=liner-food] > summary`)
	p.saved(func() {
		in := p.MustElement(`.finding[data-code=liner-food] .keep-form input:not([type=hidden])`)
		in.MustFocus()
		in.MustInput("pond sheet, made for fish")
		in.MustType(input.Enter)
	})
	if text := said(); !strings.Contains(text, "made for fish") {
		t.Errorf("kept it says %q", text)
	}
	s.post("/p/2/edit", url.Values{"stage": {"fill"}, "liner": {"pond"}})
	p.MustNavigate(s.URL + "/p/2/fill")
	p.ready("fill")
	if text := said(); !strings.Contains(text, "A trough keeps the bed from the ground") {
		t.Errorf("of a trough on the ground it says %q", text)
	}
	s.post("/p/2/edit", url.Values{"stage": {"site"}, "on": {"slab"}})
	p.MustNavigate(s.URL + "/p/2/build?step=b1.liner.line")
	p.ready("build")
	step := p.MustElement(`#step`).MustText()
	if !strings.Contains(step, "45 holes of 1/2 in") && !strings.Contains(step, "45 holes of ½ in") ||
		len(p.MustElements(`#step .wide svg`)) != 1 {
		t.Errorf("the step that lays it says %q", step)
	}

	p.MustNavigate(s.URL + "/p/2/fill")
	p.ready("fill")
	typed := func(id, value string) {
		in := p.MustElement(id)
		in.MustSelectAllText().MustInput(value)
		in.MustType(input.Enter)
	}
	total := p.figure("total")
	p.saved(func() { typed(`#f-boost`, "feed; castings: 5 l") })
	if p.figure("total") == total {
		t.Error("what is forked in costs nothing")
	}
	typed(`#f-boost`, "feed; moon dust")
	p.until(`() => document.body.textContent.includes('moon dust" is nothing that is sold')`)
	if v := p.MustElement(`#f-boost`).MustProperty("value").String(); v != "feed; moon dust" {
		t.Errorf("what was refused is %q", v)
	}
	p.MustNavigate(s.URL + "/p/2/bill")
	p.ready("bill")
	total = p.figure("total")
	p.saved(func() { typed(`[name="have:pond"]`, "1") })
	if p.figure("total") == total || !strings.Contains(p.MustElement(`table.bill`).MustText(), "yours") {
		t.Error("a roll that is there is bought all the same")
	}
}
