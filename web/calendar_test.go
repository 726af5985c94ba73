package web

import (
	"net/url"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"

	"chamfer/sim"
)

// Who works when is decided, refused with what works, and drawn; the weather station is asked; the calendar is handed
// out and called off; what is ticked takes no time any more, and comes back where an edit changed it.
func TestCalendarPage(t *testing.T) {
	b := browser(t)
	s := newSite(t)
	at, unplug, err := sim.Start("127.0.0.1:0", &sim.Station{Seed: 3}, sim.Faults{Garble: 5})
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = unplug() })
	s.h.Read(Instruments{Station: at})
	p := s.tab(b, "/p/2/calendar", 1280, 900)
	p.ready("calendar")
	if first := p.text(`.calendar-done`); !strings.Contains(first, "day ") {
		t.Errorf("without a first day it says %q", first)
	}
	page, status := s.post("/p/2/garden", url.Values{"stage": {"calendar"}, "how": {"station"}})
	if status != 422 || !strings.Contains(page, "Decide the first day") {
		t.Errorf("asked for weather of no day: %d", status)
	}
	p.saved(func() { p.fill(`#calendar-start`, "2027-03-06"); p.press(input.Enter) })
	if done := p.text(`.calendar-done`); !strings.Contains(done, "2027") ||
		!strings.Contains(p.text(`.wall.wide`), "6 March") {
		t.Errorf("dated it says %q", done)
	}
	p.fill(`#calendar-wed`, "18-17")
	p.press(input.Enter)
	p.until(`() => document.getElementById('calendar-wed-err')?.textContent.includes('9-12, 13:30-17')`)
	if got := p.MustElement(`#calendar-wed`).MustProperty("value").String(); got != "18-17" {
		t.Errorf("what was typed became %q", got)
	}
	before := p.text(`.calendar-done`)
	p.saved(func() { p.fill(`#calendar-wed`, "17-20"); p.press(input.Enter) })
	p.saved(func() { p.fill(`#calendar-people`, "2"); p.press(input.Enter) })
	if p.text(`.calendar-done`) == before {
		t.Error("three evenings more and another pair of hands change nothing")
	}
	p.clickOn(`.forecast summary`)
	p.saved(func() { p.clickOn(`.forecast button[value=station]`) })
	text := p.MustElement(`#calendar-forecast`).MustProperty("value").String()
	if strings.Count(text, "\n") < forecastDays || !strings.HasPrefix(text, "day,low_c") || !p.MustHas(`.forecast[open]`) {
		t.Errorf("the station tells %q", text)
	}
	p.clean("the calendar")

	first, _ := s.get("/p/2/files/calendar.ics")
	if !strings.Contains(first, "UID:b1.fix-cap.cap-1-1-p2@chamfer") || strings.Contains(first, "CANCELLED") {
		t.Errorf("handed out: %.600s", first)
	}
	s.post("/p/2/edit", url.Values{"stage": {"frame"}, "cap": {"none"}})
	second, _ := s.get("/p/2/files/calendar.ics")
	if n := strings.Count(second, "STATUS:CANCELLED"); n == 0 || !strings.Contains(second, "fix-cap.cap-1-1-p2@chamfer") {
		t.Errorf("%d are called off", n)
	}
	number := func(text string) string {
		_, rest, _ := strings.Cut(text, "SEQUENCE:")
		return rest[:strings.Index(rest, "\r")]
	}
	if number(first) == number(second) || strings.Count(second, "SEQUENCE:"+number(second)) !=
		strings.Count(second, "SEQUENCE:") {
		t.Errorf("numbers %s and %s", number(first), number(second))
	}

	steps := s.planOf(2).Steps
	for _, st := range steps[:4] {
		s.post("/p/2/tick", url.Values{"tick": {st.ID}, "done": {"yes"}})
	}
	p.open(s.URL + "/p/2/calendar")
	p.ready("calendar")
	if said := p.text(`.calendar-next`); strings.Contains(said, steps[0].Title) || !strings.Contains(said, "4 of ") {
		t.Errorf("what can be begun: %s", said)
	}
	p.saved(func() { p.fill(`#calendar-resume`, "2027-05-01"); p.press(input.Enter) })
	if !strings.Contains(p.text(`.wall.wide`), "1 May") || strings.Contains(p.text(`.wall.wide`), steps[0].Title) {
		t.Error("what is left does not go on from the day that was said")
	}
	s.post("/p/2/edit", url.Values{"stage": {"bed"}, "name": {"Broad beans"}})
	if page, _ := s.get("/p/2/build"); strings.Contains(page, "changed since") {
		t.Error("a name undoes what is done")
	}
	s.post("/p/2/edit", url.Values{"stage": {"frame"}, "length": {"6 ft"}})
	page, _ = s.get("/p/2/build")
	has(t, page, "changed since")
	if done, undone, err := s.h.doneOf(t.Context(), 2, s.planOf(2)); err != nil || !undone["cut"] || done["cut"] ||
		!done["lay-out"] {
		t.Errorf("done %v, undone %v, %v", done, undone, err)
	}
	s.post("/p/2/tick", url.Values{"tick": {"cut"}, "done": {"yes"}})
	if _, undone, _ := s.h.doneOf(t.Context(), 2, s.planOf(2)); undone["cut"] {
		t.Error("ticked anew it is still undone")
	}
	phone := s.tab(b, "/p/3/calendar", 390, 844)
	phone.ready("calendar")
	phone.clean("the calendar on a phone")
}
