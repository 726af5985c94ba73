package web

import (
	"slices"
	"strings"
	"testing"
)

// What somebody who has never seen it comes for, with how many presses it takes; typing is no press.
func TestNewcomer(t *testing.T) {
	s := newSite(t)
	p := s.tab(browser(t), "/", 1280, 800)
	presses := 0
	press := func(selector string) { p.t.Helper(); presses++; p.clickOn(selector) }
	took := func(what string, most int) {
		t.Helper()
		if presses > most {
			t.Errorf("%s takes %d presses", what, presses)
		}
		t.Logf("%s: %d", what, presses)
		presses = 0
	}

	p.fill("#say", "a bed of 30 sq ft, 12 in deep, of redwood, against the fence, with glitter")
	press(".say-bed .main")
	p.ready("bed")
	took("a first bed from an area", 1)
	if heard := p.text(".heard"); !strings.Contains(heard, "Soil depth: 1'") || !strings.Contains(heard, "Redwood") ||
		!strings.Contains(heard, "one long side") || !strings.Contains(heard, "Not understood: glitter") {
		t.Errorf("it was understood as %s", heard)
	}
	if got := p.figure("area"); !strings.HasPrefix(got, "30") {
		t.Errorf("it plants %s", got)
	}
	p.clean("a bed of a sentence")
	p.saved(func() { press(".bed-acts button[value=copy]") })
	p.until(`() => document.querySelectorAll('.beds a').length > 1`)
	took("another beside it", 1)

	press(`.path a[href*="/frame"]`)
	p.ready("frame")
	p.saved(func() { press(`input[name=species][value=cedar]`) })
	p.until(`() => document.querySelector('.same button')`)
	p.saved(func() { press(".same button") })
	took("a timber for all beds", 3)
	for _, b := range s.planOf(5).Design.Beds {
		if b.Species != "cedar" {
			t.Errorf("%s is of %s", b.Name, b.Species)
		}
	}

	// Of several others, only those that are ticked.
	p.open(s.URL + "/p/3/frame?bed=b1")
	p.ready("frame")
	p.saved(func() { press(`input[name=species][value=redwood]`) })
	p.until(`() => document.querySelectorAll('.same input[name=for]').length > 1`)
	var offered []string
	for _, v := range p.MustEval(`() => [...document.querySelectorAll('.same input[name=for]')].map(i => i.value)`).Arr() {
		offered = append(offered, v.Str())
	}
	press(".same label")
	p.saved(func() { press(".same button") })
	for _, b := range s.planOf(3).Design.Beds {
		if want := b.ID == "b1" || slices.Contains(offered[1:], b.ID); (b.Species == "redwood") != want {
			t.Errorf("%s, of %s, where the first of %v was not ticked", b.ID, b.Species, offered)
		}
	}
	presses = 0

	p.open(s.URL + "/p/2/frame")
	p.ready("frame")
	press(".finding.warning > summary")
	if why := p.text(".finding[open] .why-body"); len(why) < 40 {
		t.Errorf("it says %q", why)
	}
	p.saved(func() { press(".finding[open] .remedy") })
	took("a finding understood and mended", 2)

	press(`.path a[href*="/cuts"]`)
	p.ready("cuts")
	p.MustEval(`() => { window.print = () => { window.printed = true } }`)
	press("[data-print]")
	p.until(`() => window.printed`)
	took("a cut sheet printed", 2)
	press(`.path a[href*="/shop"]`)
	p.ready("shop")
	took("what to buy in the shop", 1)

	p.open(s.URL + "/p/4/bed?bed=b2") // a ring
	p.ready("bed")
	press(".owned > summary")
	p.fill(".owned .have-form input[name^='have:']", "40")
	p.saved(func() { press(".owned .have-form button") })
	p.until(`() => document.querySelectorAll('.owned .way').length > 1`)
	p.saved(func() { press(".owned .way") })
	took("of forty blocks that are there", 3)

	// Every way to build, drawn: one press begins with it. What is not understood stays where it was typed.
	p.open(s.URL + "/kinds?region=metric")
	p.until(`() => document.querySelectorAll('.kind').length > 20`)
	p.clean("ways to build")
	press(`.kind[value=keyhole]`)
	p.ready("bed")
	took("a way to build, from its drawing", 1)
	if text := p.text(".built-as"); !strings.Contains(text, "Keyhole") {
		t.Errorf("it is built as %s", text)
	}
	press(".built-as a")
	p.until(`() => document.querySelectorAll('.built .kind').length > 20`)
	p.clean("what a bed could be built as")
	p.open(s.URL + "/")
	p.fill("#say", "something nice")
	press(".say-bed .main")
	p.until(`() => document.getElementById('err-say')`)
	if got := p.MustElement("#say").MustProperty("value").String(); got != "something nice" {
		t.Errorf("what was typed became %q", got)
	}
	p.clean("a sentence that was not understood")
}
