package web

import (
	"fmt"
	"html"
	"net/url"
	"regexp"
	"strings"
	"testing"
)

// choose sets a decision by its field, as typing and leaving it does; what the bed is built as by its drawing.
func (p *tab) choose(field, value string) {
	p.t.Helper()
	if field == "system" {
		p.clickOn(".built-as a")
		p.until(`() => document.querySelector('.built')`)
		p.saved(func() { p.clickOn(`.kind[value="system=` + value + `"]`) })
		return
	}
	p.saved(func() {
		p.MustEval(`(name, value) => {
			let e = document.querySelector('input[type=radio][name="' + name + '"][value="' + value + '"]')
			if (e) { e.click(); return }
			e = document.querySelector('.side [name="' + name + '"], .hand [name="' + name + '"]')
			e.focus(); e.value = value
			e.dispatchEvent(new Event('change', { bubbles: true }))
		}`, field, value)
	})
}

// A ring is sized by its diameter and by its count; a corner turns and its left and
// right blocks are counted; a keyhole grows from a blank; the setting-out sheet prints.
func TestBlocks(t *testing.T) {
	s := newSite(t)
	b := browser(t)
	p := s.tab(b, "/p/4/bed?bed=b2", 1280, 800)
	count := func() (n int) {
		return p.MustEval(`() => document.querySelectorAll('.drawing.wide .unit').length`).Int()
	}
	before := count()
	p.choose("length", "5 ft")
	if n := count(); n <= before {
		t.Errorf("5 ft across has %d units in sight, 4 ft %d", n, before)
	}
	p.choose("ring_units", "22")
	if text := p.MustEval(`() => document.querySelector('.side [name=length], #length')?.value || ` +
		`''`).String(); text == "" ||
		strings.HasPrefix(text, "5'") {
		t.Errorf("22 of them are %q across", text)
	}
	// All round, four corners a course; front and left end only, one.
	p = s.tab(b, "/p/4/cuts", 1280, 800)
	words := p.text("main")
	if !strings.Contains(words, "left corner") || !strings.Contains(words, "right corner") {
		t.Errorf("no handed corners: %s", words)
	}
	corners := func(text string) (left, right int) {
		for _, line := range strings.Split(text, "\n") {
			var n int
			if _, err := fmt.Sscanf(strings.TrimSpace(line), "%d × left corner", &n); err == nil {
				left += n
			}
			if _, err := fmt.Sscanf(strings.TrimSpace(line), "%d × right corner", &n); err == nil {
				right += n
			}
		}
		return left, right
	}
	list := func() string {
		return p.MustEval(`() => [...document.querySelectorAll('.unit-kinds li')].map(e => e.textContent.trim()).join('\n')`).
			String()
	}
	left, right := corners(list())
	if left%4 != 0 || right%4 != 0 || left == 0 || right == 0 {
		t.Errorf("%d left and %d right corners all round", left, right)
	}
	p = s.tab(b, "/p/4/bed?bed=b3", 1280, 800)
	p.choose("walls", "l")
	p = s.tab(b, "/p/4/cuts", 1280, 800)
	if l, r := corners(list()); 4*l != left || 4*r != right {
		t.Errorf("one corner has %d left and %d right; four have %d and %d", l, r, left, right)
	}
	// A keyhole from a blank.
	p = s.tab(b, "/", 1280, 800)
	p.MustElement("#new-name").MustInput("Round the heap")
	p.MustEval(
		`() => { const e = document.querySelector('#new-system'); e.value = 'keyhole'; e.dispatchEvent(new Event('change',` +
			` { bubbles: true })) }`,
	)
	p.MustElement("form.ruled[action='/projects'] .main").MustClick()
	p.ready("bed")
	if n := count(); n < 60 {
		t.Errorf("a keyhole of %d units", n)
	}
	if words := p.text("main"); !strings.Contains(words, "Way in") || !strings.Contains(words, "Basket") {
		t.Errorf("a keyhole without a way in: %s", words)
	}
	// Terraces from a fall typed at four corners.
	levels := func() int {
		q := s.tab(b, "/p/4/ground?bed=b4", 1280, 800)
		defer q.MustClose()
		return strings.Count(q.text("main"), "above the lowest corner")
	}
	low := levels()
	p = s.tab(b, "/p/4/site?bed=b4", 1280, 800)
	p.choose("corners_at", "0 in; 0 in; 52 in; 50 in")
	if high := levels(); low < 2 || high <= low {
		t.Errorf("a fall of 31 in makes %d terraces, of 51 in %d", low, high)
	}
	// The setting-out sheet, as it prints: no buttons, everything on it.
	p = s.tab(b, "/p/4/set-out?bed=b1", 1280, 800)
	p.prints()
	if words := p.text("main"); !strings.Contains(words, "the middle of the rim") ||
		!strings.Contains(words, "outer edge of the trench") ||
		!strings.Contains(words, "top of course 1") {
		t.Errorf("the sheet says %s", words)
	}
}

// By plain forms: a block that was measured goes on the list and into the wall; one that
// cannot be read stays in its field with the reason; pieced sides are joined for what the
// shed holds.
func TestOwnBlockAndJoints(t *testing.T) {
	s := newSite(t)
	page, code := s.post(
		"/p/4/edit",
		url.Values{"bed": {"b3"}, "stage": {"frame"}, "own-unit": {"Kiln brick 10 in x 6 in x 4 in, 14 lb"}},
	)
	has(t, page, "Kiln brick")
	if code != 200 {
		t.Fatalf("status %d", code)
	}
	page, _ = s.post("/p/4/edit", url.Values{"bed": {"b3"}, "stage": {"frame"}, "unit": {"own-1"}})
	has(t, page, "Kiln brick", "checked")
	page, _ = s.get("/p/4/bill")
	has(t, page, "Kiln brick")
	page, code = s.post("/p/4/edit", url.Values{"bed": {"b3"}, "stage": {"frame"}, "own-unit": {"Kiln <b>"}})
	if code != 422 || field("own-unit", page) != "Kiln &lt;b&gt;" || !strings.Contains(page, "three sizes") {
		t.Errorf("%d, %q in the field", code, field("own-unit", page))
	}
	s.post("/p/2/edit", url.Values{"bed": {"b1"}, "stage": {"bed"}, "system": {"pieced"}})
	s.post("/p/2/shed", url.Values{"leftover": {"2 of 2x8 cedar 61 in; 2 of 2x8 cedar 47 in; 2 of 2x8 cedar 33 in"}})
	page, _ = s.get("/p/2/cuts")
	set := regexp.MustCompile(`name="set" value="(b1&gt;joints_at=[^"]*)"`).FindStringSubmatch(page)
	if set == nil {
		t.Fatal("no joints are offered for what there is")
	}
	page, code = s.post(
		"/p/2/edit",
		url.Values{"stage": {"cuts"}, "set": {html.UnescapeString(set[1])}, "label": {"join"}},
	)
	if code != 200 || strings.Contains(page, "joints_at=") {
		t.Errorf("status %d; joined, and joints are offered still", code)
	}
}
