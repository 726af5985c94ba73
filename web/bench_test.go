package web

import (
	"fmt"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
)

// tabTo presses Tab until what has the focus matches a selector.
func (t *tab) tabTo(selector string) {
	t.t.Helper()
	for range 120 {
		if t.MustEval(`(s) => document.activeElement.matches(s)`, selector).Bool() {
			return
		}
		t.press(input.Tab)
	}
	t.t.Fatalf("Tab never comes to %s", selector)
}

func (t *tab) write(text string) {
	t.t.Helper()
	for _, r := range text {
		t.press(input.Key(r))
	}
}

// With the keyboard alone: a tiered box is begun from its system, given a
// mitred cap and a part's letter found, and its build read.
func TestKeyboardBuildsTiered(t *testing.T) {
	p := newSite(t).tab(browser(t), "/", 1280, 800)
	p.tabTo("#new-name")
	p.write("Two steps of thyme")
	p.tabTo("#new-system")
	p.write("tier")
	p.tabTo("form.ruled[action='/projects'] button.main")
	p.press(input.Enter)
	p.ready("bed")
	if name := p.text(".top-name strong"); name != "Two steps of thyme" {
		t.Errorf("the project is called %q", name)
	}
	p.press('3')
	p.ready("frame")
	caps := `() => new Set([...document.querySelectorAll('.drawing.wide [data-part*="cap."]')].map(e => ` +
		`e.dataset.part)).size`
	if n := p.MustEval(caps).Int(); n != 0 {
		t.Fatalf("%d caps before there is one", n)
	}
	p.tabTo("input[name=cap]")
	// Arrows pass over choices and take none; Enter does.
	rev := `() => document.querySelector('input[name=rev]').value`
	before := p.MustEval(rev).String()
	p.press(input.ArrowDown)
	p.press(input.ArrowDown)
	p.until(`() => document.querySelector('fieldset[data-passing] input:checked')?.value === 'mitred'`)
	if after := p.MustEval(rev).String(); after != before || p.MustEval(caps).Int() != 0 {
		t.Errorf("arrows alone took revision %s to %s", before, after)
	}
	p.saved(func() { p.press(input.Enter) })
	if v := p.MustEval(`() => document.activeElement.name + document.activeElement.value`).String(); v != "capmitred" {
		t.Errorf("the focus is on %q", v)
	}
	if n := p.MustEval(caps).Int(); n < 7 { // four rails round each tier, less what two tiers share
		t.Errorf("%d lengths of cap", n)
	}
	p.press('/')
	p.write("cap")
	p.press(input.Enter)
	p.until(`() => document.querySelector('#inhand .inhand-head')?.textContent.includes('cap')`)
	p.press(input.Escape)
	p.until(`() => !document.querySelector('#inhand .inhand-head')`)
	p.MustEval(`() => document.activeElement.blur()`)
	p.press('0')
	p.ready("bill")
	p.press(']')
	p.ready("shop")
	p.press(']')
	p.ready("calendar")
	p.press(']')
	p.ready("build")
	if words := p.text("main"); !strings.Contains(strings.ToLower(words), "tier") {
		t.Errorf("the build says %s", words)
	}
}

// Six of a bed are six times the planting and the screws; ten steps back are ten
// steps back, and forward again.
func TestSixAndUndoTen(t *testing.T) {
	s := newSite(t)
	p := s.tab(browser(t), "/p/2/bed", 1280, 800)
	p.ready("bed")
	number := func(key string) (n float64) {
		fmt.Sscanf(strings.ReplaceAll(p.figure(key), ",", ""), "%g", &n)
		return n
	}
	screws, area := number("screws"), number("area")
	p.saved(func() { p.fill("#f-count", "6"); p.MustElement("#f-count").MustType(input.Enter) })
	if number("screws") != 6*screws || number("area") != 6*area {
		t.Errorf("%g fixings after %g, %g of planting after %g", number("screws"), screws, number("area"), area)
	}
	p.stage("cuts")
	if words := p.text("main"); !strings.Contains(words, "12 ×") && !strings.Contains(words, "24") {
		t.Errorf("the cut sheet says %s", words)
	}
	p.stage("bed")
	file := func() string {
		page, _ := s.get("/p/2/files/project.chamfer.json")
		return page
	}
	was := []string{file()}
	for i := range 10 {
		p.saved(func() {
			p.fill("#f-soil", fmt.Sprintf("%d/2 in", 20+i))
			p.MustElement("#f-soil").MustType(input.Enter)
		})
		was = append(was, file())
	}
	p.MustEval(`() => document.activeElement.blur()`)
	for i := 9; i >= 0; i-- {
		p.saved(func() { p.press('u') })
		if file() != was[i] {
			t.Fatalf("undo to step %d is not what it was", i)
		}
	}
	for i := 1; i <= 10; i++ {
		p.saved(func() {
			if err := p.KeyActions().Press(input.ShiftLeft).Type('U').Do(); err != nil {
				t.Fatal(err)
			}
		})
	}
	if file() != was[10] {
		t.Error("redone is not what it was")
	}
}

// The solid turns by dragging and by pressing, the bed comes apart by its
// slider, a part is picked on the drawing and changed there, and a line of the
// list lights its part and the reverse.
func TestTurnApartAndPick(t *testing.T) {
	p := newSite(t).tab(browser(t), "/p/2/frame?view=solid", 1280, 800)
	p.ready("frame")
	at := p.MustEval(
		`() => { const r = document.querySelector('.drawing.wide svg').getBoundingClientRect(); return { x: r.left + 20, ` +
			`y: r.top + 20 } }`,
	)
	x, y := at.Get("x").Num(), at.Get("y").Num()
	before := p.MustElement(".drawing.wide").MustHTML()
	p.Mouse.MustMoveTo(x, y).MustDown(proto.InputMouseButtonLeft)
	p.Mouse.MustMoveTo(x+50, y+10)
	p.Mouse.MustMoveTo(x+100, y+20)
	p.Mouse.MustUp(proto.InputMouseButtonLeft)
	p.until(`() => new URL(location.href).searchParams.get('turn') === '-50'`)
	p.until(`() => document.querySelector('.drawing.wide').dataset.turned === '-50'`)
	if p.MustElement(".drawing.wide").MustHTML() == before {
		t.Error("the drawing has not turned")
	}
	p.MustElementR(".turns a", "turn right").MustClick()
	p.until(`() => document.querySelector('.drawing.wide').dataset.turned === '-20'`)

	p.MustElementR(".views a", "taken apart").MustClick()
	p.until(`() => document.querySelector('#acts-range')`)
	floating := `() => document.querySelectorAll('.drawing.wide .d-act').length`
	all := p.MustEval(floating).Int()
	p.MustElement("#acts-range").MustFocus()
	p.press(input.ArrowRight)
	p.until(`(n) => document.querySelectorAll('.drawing.wide .d-act').length === n - 1`, all)

	p.MustElementR(".views a", "from above").MustClick()
	p.until(`() => document.querySelector('.drawing.wide .d-edit')`)
	p.clickOn(".drawing.wide a.part[data-part='b1.cap.left'] .d-timber-top")
	p.until(`() => document.querySelector('#inhand .inhand-head')?.textContent.includes('cap')`)
	total := p.figure("total")
	p.saved(func() { p.MustElement("#inhand input[name=cap_profile][value='2x6']").MustClick() })
	p.until(`(was) => document.querySelector('.figure-total .value').textContent.trim() !== was`, total)
	if !p.MustEval(`() => document.querySelector('#inhand .inhand-head') !== null`).Bool() {
		t.Error("the part was put down by changing it")
	}

	p.stage("fixings")
	letter := p.text(".drawing.wide .d-letter")
	p.hover("tr[data-letter='" + letter + "']")
	p.until(
		`(l) => [...document.querySelectorAll('svg [data-letter]')].some(e => e.dataset.letter === l && `+
			`e.classList.contains('d-lit'))`,
		letter,
	)
	p.hover(".drawing.wide [data-letter='" + letter + "'] [class*=d-timber]")
	p.until(
		`(l) => [...document.querySelectorAll('tr[data-letter]')].some(e => e.dataset.letter === l && `+
			`e.classList.contains('lit'))`,
		letter,
	)
}

// hover moves the pointer over the first visible of the elements, off its middle,
// where marks and letters are.
func (t *tab) hover(selector string) {
	t.t.Helper()
	at := t.MustEval(
		`(s) => { const e = [...document.querySelectorAll(s)].find(e => e.getClientRects().length); e.scrollIntoView({ `+
			`block: 'center' }); const r = e.getBoundingClientRect(); return { x: r.left + r.width / 4, y: r.top + r.height `+
			`/ 2 } }`,
		selector,
	)
	t.Mouse.MustMoveTo(at.Get("x").Num(), at.Get("y").Num())
}

// A bed is carried over the plot, set by its numbers, nudged by an arrow and
// turned; paths and findings follow.
func TestPlot(t *testing.T) {
	p := newSite(t).tab(browser(t), "/p/3/site", 1280, 800)
	p.ready("site")
	if n := p.MustEval(`() => document.querySelectorAll('.drawing.wide .stand').length`).Int(); n != 6 {
		t.Fatalf("%d beds on the plot", n)
	}
	left := func() string { return p.MustElement(".stand-form input[name=x]").MustProperty("value").String() }
	before := left()
	at := p.MustEval(
		`() => { const e = document.querySelector('.drawing.wide .stand[data-stand="b1:0"]'); e.scrollIntoView({ block: ` +
			`'center' }); const r = e.querySelector('.d-reach').getBoundingClientRect(); return { x: r.left + 8, y: r.top + ` +
			`r.height / 2, foot: 304.8 / Number(e.dataset.per) * e.ownerSVGElement.getScreenCTM().a } }`,
	)
	x, y, foot := at.Get("x").Num(), at.Get("y").Num(), at.Get("foot").Num()
	p.Mouse.MustMoveTo(x, y).MustDown(proto.InputMouseButtonLeft)
	p.Mouse.MustMoveTo(x-foot/2, y)
	p.Mouse.MustMoveTo(x-foot, y)
	p.saved(func() { p.Mouse.MustUp(proto.InputMouseButtonLeft) })
	if got := left(); got == before || !strings.HasPrefix(got, "2'") && !strings.HasPrefix(got, "1' 11") {
		t.Errorf("carried a foot to the left, it stands at %s after %s", got, before)
	}
	p.until(`() => document.querySelector('[data-code=path-narrow]')`) // a barrow wants 2 1/2 ft
	p.saved(func() {
		p.fill(".stand-form input[name=x]", "3'6\"")
		p.MustElement(".stand-form input[name=x]").MustType(input.Enter)
	})
	if got := left(); got != `3' 6"` {
		t.Errorf("typed, it stands at %s", got)
	}
	p.MustEval(`() => document.querySelector('.drawing.wide .stand[data-stand="b1:0"]').focus()`)
	p.saved(func() { p.press(input.ArrowRight) })
	p.until(`() => document.querySelector('.stand-form input[name=x]').value === "3' 7\""`)
	p.saved(func() { p.MustElement(".stand-form button[value=turn]").MustClick() })
	p.until(
		`() => { const r = document.querySelector('.drawing.wide .stand[data-stand="b1:0"] ` +
			`.d-reach').getBoundingClientRect(); return r.height > r.width }`,
	)
}

// At the saw: leftovers are written down and used, a board is ticked off, a
// piece cut wrong and a board spoiled, the rest planned anew, and what the job
// leaves goes back into the shed.
func TestAtTheSaw(t *testing.T) {
	s := newSite(t)
	p := s.tab(browser(t), "/p/2/cuts", 1280, 900)
	p.ready("cuts")
	press := func(words string) {
		p.MustEval(
			`(w) => [...document.querySelectorAll('button')].find(b => b.textContent.replace(/\s+/g, ' ').includes(w)).click()`,
			words,
		)
	}
	total := p.figure("total")
	p.fill("#leftover", "two bits of something")
	p.MustElement("#leftover").MustType(input.Enter)
	p.until(`() => document.querySelector('#leftover-err')`)
	if v := p.MustElement("#leftover").MustProperty("value").String(); v != "two bits of something" {
		t.Errorf("what was typed is now %q", v)
	}
	p.fill("#leftover", "3 of 2x8 cedar 62 in, one cracked end")
	p.MustElement("#leftover").MustType(input.Enter)
	p.until(`() => document.querySelector('.shed-list li')`)
	p.until(`(was) => document.querySelector('.figure-total .value').textContent.trim() !== was`, total)
	if words := p.text("main"); !strings.Contains(words, "from the shed") {
		t.Errorf("the cut sheet says %s", words)
	}
	for _, v := range p.violations() {
		t.Error(v)
	}
	sides := func() (n int) { // 100 in sides still to cut
		for _, m := range p.MustElements(".set-ups li") {
			if text := m.MustProperty("textContent").String(); strings.HasPrefix(text, "100 in") {
				fmt.Sscanf(strings.TrimPrefix(text, "100 in, "), "%d", &n)
				return n
			}
		}
		return 0
	}
	if n := sides(); n != 4 {
		t.Fatalf("%d sides to cut", n)
	}
	bought := p.figure("total")
	p.saved(func() { press("one is cut") })
	p.until(`() => document.querySelector('.sawn li')?.textContent.includes('100 in')`)
	if n := sides(); n != 3 || p.figure("total") != bought {
		t.Errorf("%d sides to cut, total %s after %s", n, p.figure("total"), bought)
	}
	p.saved(func() { press("100 in was cut wrong") })
	if n := sides(); n != 3 || p.figure("total") == bought {
		t.Errorf("one cut wrong: %d sides to cut, total %s", n, p.figure("total"))
	}
	wrong := p.figure("total")
	p.saved(func() { press("one is spoiled") })
	if n := sides(); n != 3 || p.figure("total") == wrong {
		t.Errorf("one spoiled: %d sides to cut, total %s", n, p.figure("total"))
	}
	p.saved(func() { p.MustElement("[data-act=undo] button").MustClick() })
	if p.figure("total") != wrong {
		t.Errorf("undone, the total is %s, not %s", p.figure("total"), wrong)
	}
	// The whole rest, board by board.
	next := `[...document.querySelectorAll(".saw-acts button[name=times]")].pop()`
	for n := 0; n < 30 && p.MustEval(`() => Boolean(`+next+`)`).Bool(); n++ {
		p.saved(func() { p.MustEval(`() => ` + next + `.click()`) })
	}
	if words := p.text("main"); !strings.Contains(words, "All of it is cut.") {
		t.Errorf("the cut sheet says %s", words)
	}
	p.MustElement(".shed details summary").MustClick()
	press("Put what is left")
	p.until(`() => document.querySelector('.shed').textContent.includes('is in the shed')`)
	list, err := s.store.Shed(t.Context(), 1, "us")
	if err != nil {
		t.Fatal(err)
	}
	for _, l := range list {
		if l.Note != "" {
			t.Errorf("%+v is still in the shed, and was used", l)
		}
	}
	if len(list) == 0 {
		t.Error("nothing went into the shed")
	}
}
