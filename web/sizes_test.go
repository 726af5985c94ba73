package web

import (
	"fmt"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"

	"chamfer/core/design"
)

// Sizes as builders say them, with the mouse and by the keyboard: from outside, by boards, with
// one ripped, both in one field; what cannot be is refused at its place and stays there.
func TestSizesAsSaid(t *testing.T) {
	s := newSite(t)
	b := browser(t)
	p := s.tab(b, "/p/2/bed", 1280, 800)
	p.ready("bed")
	says := func(selector, want string) {
		t.Helper()
		if got := p.MustElement(selector).MustProperty("value").String(); got != want {
			t.Errorf("%s reads %q, not %q", selector, got, want)
		}
	}
	// With the mouse: 8 ft outside, of mitred cap and 2x8 boards.
	inside := p.MustElement("#f-length").MustProperty("value").String()
	p.MustElementR("summary", "Say a size from outside").MustEval(`() => { // clear of the tally
		this.scrollIntoView({ block: 'center' })
		this.click()
	}`)
	p.saved(func() { p.fill("#outside-length", "8'") })
	says("#outside-length", "8'")
	if now := p.MustElement("#f-length").MustProperty("value").String(); now == inside {
		t.Errorf("8 ft outside leaves %s clear, as before", now)
	}
	if text := p.text(".drawing.wide"); !strings.Contains(text, "8'") {
		t.Errorf("the drawing reads %q", text)
	}
	// By the keyboard: emptied, it follows again; a rim that whole boards do not make is refused.
	p.tabTo("#outside-length")
	p.saved(func() {
		p.MustElement("#outside-length").MustSelectAllText()
		p.press(input.Backspace, input.Enter)
	})
	if !p.MustEval(`() => document.querySelector('#outside-length').closest('details').open`).Bool() {
		t.Error("what was opened has closed")
	}
	p.tabTo("#outside-soil")
	p.MustElement("#outside-soil").MustSelectAllText()
	p.write("19")
	p.press(input.Enter)
	p.until(`() => document.querySelector('#outside-soil[aria-invalid=true]')`)
	says("#outside-soil", "19")
	if why := p.text("#outside-soil-err"); !strings.Contains(why, "ripped board") {
		t.Errorf("the reason is %q", why)
	}
	for _, v := range p.violations() {
		t.Error(v)
	}
	// Both in one field.
	p.open(s.URL + "/p/2/bed")
	p.ready("bed")
	p.saved(func() { p.fill("#f-length", "4 x 8") })
	says("#f-length", "8'")
	says("#f-width", "4'")
	// A number that is more inches than a bed has is asked about.
	p.fill("#f-length", "2400")
	p.until(`() => document.querySelector('#f-length[aria-invalid=true]')`)
	if why := p.text("#f-length-err"); !strings.Contains(why, "2400 mm or 200'") {
		t.Errorf("the reason is %q", why)
	}
	// Boards high, then one ripped.
	p.open(s.URL + "/p/2/frame")
	p.ready("frame")
	p.saved(func() { p.fill("#f-boards_high", "3") })
	if soil := p.figure("soil-depth"); !strings.HasPrefix(soil, "1' 8") {
		t.Errorf("three boards of 7 1/4 in hold %q", soil)
	}
	p.stage("bed")
	p.saved(func() { p.fill("#f-soil", "12 in") }) // the number of boards lets go
	p.stage("frame")
	says("#f-boards_high", "auto")
	p.saved(func() { p.MustElement("fieldset[data-field=ripped] input[value=top]").MustClick() })
	if soil := p.figure("soil-depth"); soil != "1'" {
		t.Errorf("12 in of soil reads %q", soil)
	}
	p.stage("cuts")
	if text := p.text("main"); !strings.Contains(text, "× 5") && !strings.Contains(text, "× 6") {
		t.Errorf("nothing is ripped: %s", text)
	}
}

// Any decision is found by a word, and the way leads to where it is taken; what only other ways
// to build have is said.
func TestFindADecision(t *testing.T) {
	s := newSite(t)
	p := s.tab(browser(t), "/p/2/bed", 1280, 800)
	p.ready("bed")
	p.tabTo("#decision")
	p.write("cap")
	p.press(input.Enter)
	p.until(`() => location.pathname.endsWith('/decisions')`)
	if text := p.text("main"); !strings.Contains(text, "Cap overhang inwards") {
		t.Errorf("found: %s", text)
	}
	p.MustElementR("main a", "^Cap board$").MustClick()
	p.ready("frame")
	p.until(`() => location.hash === '#f-cap_profile' && document.querySelector(location.hash)`)
	page, _ := s.get("/p/2/decisions?q=stake")
	has(t, page, "Of other ways to build it", "Staked frame")
	page, _ = s.get("/p/2/decisions?q=outside+length")
	has(t, page, "Outside length")
	page, _ = s.get("/p/2/decisions?q=wheelchair")
	has(t, page, "Who goes between the beds", "plot-passage")
	page, _ = s.get("/p/2/decisions?q=bucket")
	has(t, page, "A bucket at the tap fills", "/water", "#water-flow")
	page, _ = s.get("/p/2/decisions?q=chips")
	has(t, page, "The paths", "#ground-paths", "Mulched with")
	page, _ = s.get("/p/2/decisions?q=zeppelin")
	has(t, page, "Nothing of this bed is called so")
	page, _ = s.get("/p/2/decisions")
	has(t, page, "Ripped to height", "Reach, measured", "Arch to the bed beside it")
}

// What was decided for one bed is offered to the others, with its price, and taken by all that
// have it; a bed that cannot be built so is left as it is.
func TestSameForOtherBeds(t *testing.T) {
	s := newSite(t)
	beds := 0
	for id := int64(1); id < 20 && beds < 3; id++ {
		p, err := s.store.Project(t.Context(), id)
		if err != nil {
			continue
		}
		if beds = len(p.Design.Beds); beds >= 3 {
			tb := s.tab(browser(t), fmt.Sprintf("/p/%d/site?bed=%s", id, p.Design.Beds[0].ID), 1280, 800)
			tb.ready("site")
			if tb.MustEval(`() => Boolean(document.querySelector('.same'))`).Bool() {
				t.Error("something is offered before anything was decided")
			}
			tb.saved(func() { tb.MustElement("input[name=grows][value=perennials]").MustClick() })
			offer := tb.text(".same button")
			if !strings.Contains(offer, "asparagus") || !strings.Contains(offer, " more: to grow") {
				t.Errorf("offered: %q", offer)
			}
			tb.saved(func() { tb.MustElement(".same button").MustClick() })
			after, err := s.store.Project(t.Context(), id)
			if err != nil {
				t.Fatal(err)
			}
			for _, b := range after.Design.Beds {
				if _, has := design.FieldOf(b, "grows"); has && b.Grows != design.Perennials {
					t.Errorf("%s grows %s", b.Name, b.Grows)
				}
			}
			for _, v := range tb.violations() {
				t.Error(v)
			}
			return
		}
	}
	t.Fatal("no project of several beds")
}

// So many blocks are there: every ring they make is drawn, and one is taken by mouse, another
// by keyboard.
func TestRingsOfOwnedBlocks(t *testing.T) {
	b := browser(t)
	s := newSite(t)
	p := s.tab(b, "/p/2/bed", 1280, 800)
	p.choose("system", "ring")
	p.until(`() => document.querySelector('.owned')`)
	p.MustEval(`() => { document.querySelector('.owned').open = true }`)
	p.saved(func() {
		p.fill(".owned input[name^='have:']", "40")
		p.MustElement(".owned input[name^='have:']").MustType(input.Enter)
	})
	p.until(`() => document.querySelectorAll('.way').length >= 3 && document.querySelectorAll('.way svg').length >= 3`)
	if got := p.text(".owned"); !strings.Contains(got, "Not 1 course of 40:") || !strings.Contains(got,
		"close a course of") {
		t.Errorf("it does not say which rings cannot be: %s", got)
	}
	p.saved(func() { p.clickOn(".ways form:nth-child(2) .way") })
	if got := p.MustElement("#f-ring_units").MustProperty("value").String(); got != "13" {
		t.Errorf("three courses of 13: %s in a course", got)
	}
	p.MustElement(".ways form:nth-child(1) .way").MustFocus()
	p.saved(func() { p.press(input.Enter) })
	if got := p.MustElement("#f-ring_units").MustProperty("value").String(); got != "20" {
		t.Errorf("two courses of 20: %s in a course", got)
	}
	p.until(`() => document.querySelector('.ways form:nth-child(1) .way[aria-pressed=true]')`)
}

// A project is moved to other units and money, undone and redone; what cannot be moved says why.
func TestMovedProject(t *testing.T) {
	s := newSite(t)
	page, _ := s.get("/p/2/site")
	has(t, page, "Move it to", "Sizes stay what they are")
	for _, stage := range []string{"site", "bill", "cuts", "fixings", "build"} {
		if stage == "site" {
			page, code := s.post("/p/2/edit", url.Values{"bed": {"b1"}, "stage": {"site"}, "set": {"region=metric"}})
			if code != 200 || !strings.Contains(page, "2,36") && !strings.Contains(page, "2362") {
				t.Errorf("moved: %d %s", code, regexp.MustCompile(`(?s)class="notice[^>]*>.{0,300}`).FindString(page))
			}
			if d := s.head(2).Head; d == 0 {
				t.Error("nothing was saved")
			}
		}
		page, code := s.get("/p/2/" + stage)
		if code != 200 || strings.Contains(page, "$1") || strings.Contains(page, "$2") {
			t.Errorf("%s: %d, or dollars", stage, code)
		}
	}
	if p, err := s.store.Project(t.Context(), 2); err != nil || p.Design.Region != "metric" {
		t.Errorf("%v, %v", p.Design.Region, err)
	}
	s.post("/p/2/undo", url.Values{})
	if p, err := s.store.Project(t.Context(), 2); err != nil || p.Design.Region != "us" {
		t.Errorf("undone: %v, %v", p.Design.Region, err)
	}
	if page, code := s.post("/p/2/edit", url.Values{"bed": {"b1"}, "stage": {"site"},
		"set": {"region=moon"}}); code != http.StatusUnprocessableEntity || !strings.Contains(page, "us and metric") {
		t.Errorf("the moon: %d", code)
	}
}
