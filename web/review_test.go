package web

import (
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
)

// A finding is tripped, its reason read, its remedy applied and undone; it is kept with a
// note, which stays; the cautions of the job print.
func TestSecondLook(t *testing.T) {
	b := browser(t)
	s := newSite(t)
	p := s.tab(b, "/p/2/frame", 1280, 800)
	there := func(code string) bool {
		return p.MustEval(`code => !!document.querySelector('.finding[data-code=' + code + ']:not(.kept)')`, code).
			Bool()
	}
	if !there("side-bows") {
		t.Fatalf("no long side bows: %s", p.text(".side"))
	}
	p.clickOn(".finding[data-code=side-bows] > summary")
	why := p.text(".finding[data-code=side-bows] .why-body")
	for _, words := range []string{"between supports", "AWC Design Aid", "Rankine", "what may be counted on"} {
		if !strings.Contains(why, words) {
			t.Errorf("why it bows leaves out %q: %s", words, why)
		}
	}
	if effect := p.text(".finding[data-code=side-bows] .remedy .effect"); !strings.Contains(effect, "$") {
		t.Errorf("its remedy costs %q", effect)
	}
	p.saved(func() { p.MustElement(".finding[data-code=side-bows] .remedy").MustClick() })
	p.until(`() => !document.querySelector('.finding[data-code=side-bows]')`)
	if p.MustEval(`() => document.activeElement === document.body`).Bool() {
		t.Error("with the finding gone nothing is in hand")
	}
	p.saved(func() { p.MustElement("[data-act=undo] button").MustClick() })
	p.until(`() => document.querySelector('.finding[data-code=side-bows]')`)
	p.clickOn(".drawing.wide [data-finding=side-bows]") // pressed on the drawing it opens in the margin
	p.until(`() => document.querySelector('.finding[data-code=side-bows]').open`)
	p.MustElement(".finding[data-code=side-bows] .keep-form input[name=note]").MustInput("straps will hold it")
	p.saved(func() { p.MustElement(".finding[data-code=side-bows] button[name=keep]").MustClick() })
	p.until(`() => document.querySelector('.finding.kept[data-code=side-bows]')`)
	p = s.tab(b, "/p/2/frame", 1280, 800)
	if kept := p.text(".finding.kept[data-code=side-bows]"); !strings.Contains(kept, "straps will hold it") ||
		there("side-bows") {
		t.Errorf("kept: %q", kept)
	}
	// Timber that does not belong round food stops it, and one press mends that.
	p = s.tab(b, "/p/2/site", 1280, 800)
	p.choose("found", "ties")
	p.until(`() => document.querySelector('.finding.stop[data-code=unfit-timber]')`)
	if words := p.text(".finding.stop[data-code=unfit-timber]"); !strings.Contains(words, "creosote") ||
		strings.Contains(words, "Keep it as it is") {
		t.Errorf("railway ties: %s", words)
	}
	p.saved(func() { p.MustElement(".finding[data-code=unfit-timber] .remedy").MustClick() })
	p.until(`() => !document.querySelector('.finding[data-code=unfit-timber]')`)
	// How a joint is made.
	p = s.tab(b, "/p/2/fixings", 1280, 800)
	if words := p.text(".joints"); !strings.Contains(words, "Drill") || !strings.Contains(words, "Round the corner") {
		t.Errorf("joints: %s", words)
	}
	// Screws that are there go in first; what is no number stays in its field, with the
	// reason.
	total := p.figure("total")
	p.MustEval(`() => {
		const e = document.getElementById('hand-input')
		e.value = 'some'
		e.dispatchEvent(new Event('input', { bubbles: true }))
	}`)
	p.saved(func() {
		p.fill(".have-form input[name^='have:']", "500")
		p.MustElement(".have-form input[name^='have:']").MustType(input.Enter)
	})
	if p.figure("total") == total || !strings.Contains(p.text(".side"), "Yours are enough") {
		t.Errorf("with 500 there the total is %s, without %s", p.figure("total"), total)
	}
	// What is typed and not sent yet outlives every answer that comes before it goes.
	if typed := p.MustEval(`() => document.getElementById('hand-input').value`).String(); typed != "some" {
		t.Errorf("two answers later the field being typed in says %q", typed)
	}
	p.fill(".have-form input[name^='have:']", "a few")
	p.MustElement(".have-form input[name^='have:']").MustType(input.Enter)
	p.until(`() => document.querySelector('.have-form .error')?.textContent.includes('0 to 100000 works')`)
	if kept := p.MustEval(`() => document.querySelector('.have-form ` +
		`input:not([type=hidden])').value`).String(); kept != "a few" {
		t.Errorf("refused, its field says %q", kept)
	}
	// The cautions print, with what is in this job and nothing else.
	for path, words := range map[string][2]string{"/p/2/cautions": {"A piece that pinches the blade", "silica"},
		"/p/4/cautions": {"silica", "A piece that pinches the blade"}} {
		p = s.tab(b, path, 1280, 800)
		p.prints()
		if text := p.text("main"); !strings.Contains(text, words[0]) || strings.Contains(text, words[1]) ||
			!strings.Contains(text, "Local codes") {
			t.Errorf("%s: %s", path, text)
		}
	}
}
