package web

import (
	"math"
	"slices"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"

	"chamfer/core/design"
)

// What grows is said by keyboard, laid out, moved by mouse, arrows and finger, kept by hand through another laying out,
// and written down at the season's end; the year stands below it.
func TestPlants(t *testing.T) {
	b := browser(t)
	s := newSite(t)
	p := s.tab(b, "/p/2/plants", 1280, 800)
	p.ready("plants")
	want := func(crop, n string) {
		p.MustEval(`c => { document.querySelector('[name=want-crop]').value = c }`, crop)
		p.tabTo("[name=want-n]")
		p.MustElement("[name=want-n]").MustSelectAllText()
		p.write(n)
		p.saved(func() { p.press(input.Enter) })
	}
	want("tomato_det", "2")
	want("lettuce_leaf", "18")
	want("carrot", "20")
	p.tabTo("[name=lay]")
	p.saved(func() { p.press(input.Enter) })
	p.until(`() => document.querySelector('.laid') && document.querySelectorAll('.drawing.wide a.patch').length > 2`)
	if said := p.text(".laid"); !strings.Contains(said, "hours of sun") || !strings.Contains(said, "placing") {
		t.Errorf("it was laid out so: %s", said)
	}
	p.clean("a bed laid out")
	plants := func() []design.Planting { return s.planOf(2).Design.Beds[0].Plants }
	if n := len(plants()); n < 3 {
		t.Fatalf("%d patches", n)
	}

	// By mouse, a cell to the right, onto the strings; by arrows, one back.
	at := p.MustEval(`() => { const a = document.querySelector('.drawing.wide a.patch'), r = a.getBoundingClientRect(),
		per = a.ownerSVGElement.getScreenCTM().a
		return [r.x + r.width / 2, r.y + 6, Number(a.dataset.wide) / Number(a.dataset.per) * per,
			Number(a.dataset.patch)] }`).Arr()
	x, y, cell, nth := at[0].Num(), at[1].Num(), at[2].Num(), at[3].Int()
	was := plants()[nth]
	dir := 1.0
	if was.X > 40*254*100_000 { // near the right end: to the left
		dir = -1
	}
	p.Mouse.MustMoveTo(x, y).MustDown(proto.InputMouseButtonLeft)
	p.Mouse.MustMoveTo(x+dir*cell/2, y)
	p.Mouse.MustMoveTo(x+dir*cell*1.04, y)
	p.saved(func() { p.Mouse.MustUp(proto.InputMouseButtonLeft) })
	moved := plants()[nth]
	if d := math.Abs(float64(moved.X-was.X)) / 25.4e6; d < 11 || d > 15 || moved.Y != was.Y || !moved.Kept {
		t.Errorf("dragged a cell it went from %v to %v (%.1f in), kept %v", was.X, moved.X, d, moved.Kept)
	}
	p.MustEval(`n => document.querySelector('.drawing.wide a.patch[data-patch="' + n + '"]').focus()`, nth)
	back := input.ArrowLeft
	if dir < 0 {
		back = input.ArrowRight
	}
	p.saved(func() { p.press(back) })
	if now := plants()[nth]; now.X != was.X || !now.Kept {
		t.Errorf("by the arrow it went to %v, from %v", now.X, was.X)
	}

	// Two are kept by hand: another laying out leaves them.
	p.open(s.URL + "/p/2/plants")
	p.ready("plants")
	other := (nth + 1) % len(plants())
	p.MustEval(`n => { document.querySelectorAll('.patch-line')[n].open = true }`, other)
	p.saved(func() { p.clickOn(".patch-line[open] button[value=keep]") })
	kept := slices.DeleteFunc(plants(), func(x design.Planting) bool { return !x.Kept })
	if len(kept) != 2 {
		t.Errorf("%d are kept", len(kept))
	}
	p.saved(func() { p.clickOn("[name=lay]") })
	for _, k := range kept {
		if !slices.Contains(plants(), k) {
			t.Errorf("%+v is not where it was kept", k)
		}
	}

	// An empty cell is pressed, its place is taken by the form, and something is planted there.
	p.clickOn(".patch-line > summary")
	p.saved(func() { p.clickOn(".patch-line[open] button[value=remove]") })
	p.until(`() => document.querySelector('.drawing.wide a.cell')`)
	p.MustEval(`() => document.querySelector('.drawing.wide a.cell').dispatchEvent(new MouseEvent('click',
		{ bubbles: true, cancelable: true }))`)
	p.until(`() => document.querySelector('.drawing.wide .d-cell-held')`)
	n := len(plants())
	p.saved(func() { p.clickOn("#plant-here button") })
	if len(plants()) != n+1 {
		t.Errorf("%d patches after one was planted, %d before", len(plants()), n)
	}
	if year := p.text(".the-year"); !strings.Contains(year, "harvest") || !strings.Contains(year, "ready the bed") {
		t.Errorf("the year is %s", year)
	}

	// With a finger.
	phone := s.tab(b, "/p/2/plants", 390, 844)
	if err := (proto.EmulationSetTouchEmulationEnabled{Enabled: true}).Call(phone); err != nil {
		t.Fatal(err)
	}
	phone.ready("plants")
	phone.clean("plants on a phone")
	spot := phone.MustEval(`() => { const a = [...document.querySelectorAll('.drawing.thin a.patch')].at(-1)
		a.scrollIntoView({ block: 'center' })
		const r = a.getBoundingClientRect(); return [r.x + r.width / 2, r.y + 5, Number(a.dataset.patch)] }`).Arr()
	before := plants()[spot[2].Int()]
	touch := func(kind proto.InputDispatchTouchEventType, dx, dy float64) {
		points := []*proto.InputTouchPoint{{X: spot[0].Num() + dx, Y: spot[1].Num() + dy}}
		if kind == proto.InputDispatchTouchEventTypeTouchEnd {
			points = []*proto.InputTouchPoint{}
		}
		if err := (proto.InputDispatchTouchEvent{Type: kind, TouchPoints: points}).Call(phone); err != nil {
			t.Fatal(err)
		}
	}
	phone.saved(func() {
		touch(proto.InputDispatchTouchEventTypeTouchStart, 0, 0)
		touch(proto.InputDispatchTouchEventTypeTouchMove, -10, 20)
		touch(proto.InputDispatchTouchEventTypeTouchMove, -20, 60)
		touch(proto.InputDispatchTouchEventTypeTouchEnd, 0, 0)
	})
	if after := plants()[spot[2].Int()]; after == before {
		t.Error("a finger moves nothing")
	}

	// The season ends, and what came of it is written down. (A page behind another is not painted.)
	p.MustActivate()
	p.open(s.URL + "/p/2/plants")
	p.ready("plants")
	p.saved(func() { p.clickOn("#season + button") })
	bed := s.planOf(2).Design.Beds[0]
	if len(bed.Plants) != 0 || len(bed.Grown) < 3 {
		t.Errorf("%d planted, %d grown", len(bed.Plants), len(bed.Grown))
	}
	p.fill("[name='grown:0.got']", "3 lb 4 oz")
	p.saved(func() { p.press(input.Enter) })
	if got := s.planOf(2).Design.Beds[0].Grown[0].Got; got != "3 lb 4 oz" {
		t.Errorf("harvested %q", got)
	}
	// Next year the same is wanted, and no family comes back to where it stood.
	p.saved(func() { p.clickOn("button[name=again]") })
	p.saved(func() { p.clickOn("[name=lay]") })
	bed = s.planOf(2).Design.Beds[0]
	if len(bed.Plants) < 3 {
		t.Errorf("%d patches in the second year", len(bed.Plants))
	}
	for _, f := range s.planOf(2).Findings {
		if f.Code == "plants-family" {
			t.Errorf("in the second year: %s", f.Text)
		}
	}
	p.clean("a second year")
	ics, code := s.get("/p/2/files/year.ics")
	if code != 200 || strings.Count(ics, "BEGIN:VEVENT") < 4 || !strings.Contains(ics, "DTSTART;VALUE=DATE:") {
		t.Errorf("%d: %.200s", code, ics)
	}
}

// The sun: the place is typed, the hour slid, what stands there put, and the bed moved into the sun.
func TestSunPage(t *testing.T) {
	b := browser(t)
	s := newSite(t)
	p := s.tab(b, "/p/2/sun", 1280, 800)
	p.ready("sun")
	p.clean("the sun")
	p.fill("#sky-lat", "33.87 S")
	p.saved(func() { p.press(input.Enter) })
	if sky := s.planOf(2).Design.Sky; sky == nil || sky.Lat != "-33.87" {
		t.Errorf("it lies at %+v", sky)
	}
	p.fill("#sky-lon", "far")
	p.press(input.Enter)
	p.until(`() => document.querySelector('#err-sky-lon, #sky-lon-err')`)
	if v := p.MustElement("#sky-lon").MustProperty("value").Str(); v != "far" {
		t.Errorf("what was typed is now %q", v)
	}
	p.open(s.URL + "/p/2/sun")
	p.ready("sun")
	clock := p.text(".sun-hour output")
	p.tabTo("#sun-hour")
	p.press(input.ArrowRight)
	p.until(`was => document.querySelector('.sun-hour output').textContent.trim() !== was`, clock)
	if now := p.text(".sun-hour output"); now != "15:15" {
		t.Errorf("a step on from %s it is %s", clock, now)
	}
	p.clickOn(".months a:nth-child(12)")
	p.until(`() => document.querySelector('.months [aria-current]')?.textContent === 'Dec'`)
	p.clickOn("details.more:has(.tall-form) > summary")
	for name, value := range map[string]string{"tall-x": "-10 ft", "tall-y": "0 ft", "tall-wide": "20 ft",
		"tall-deep": "6 ft",
		"tall-high": "30 ft"} {
		p.fill("details.more .tall-form [name="+name+"]", value)
	}
	p.saved(func() { p.clickOn("details.more .tall-form button") })
	if sky := s.planOf(2).Design.Sky; len(sky.Tall) != 1 || sky.Tall[0].X >= 0 {
		t.Errorf("there stands %+v", sky)
	}
	phone := s.tab(b, "/p/2/sun", 390, 844)
	phone.ready("sun")
	phone.clean("the sun on a phone")
	if file, _ := s.get("/p/2/files/project.chamfer.json"); !strings.Contains(file, `"-10 ft"`) &&
		!strings.Contains(file, `"-120 in"`) {
		t.Errorf("the file says %.300s", file[strings.Index(file, `"sky"`):])
	}
}
