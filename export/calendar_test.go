package export

import (
	"bytes"
	"strings"
	"testing"
	"time"

	"github.com/emersion/go-ical"

	"chamfer/core/design"
	"chamfer/core/plan"
)

// The calendar of a job is read by somebody else's reader (github.com/emersion/go-ical): an event for each stretch of
// work with a stable name, on the clock of its place, over the change of clocks in spring as over any other day;
// written for a later edit the same event has the same name and a higher number, what has gone is called off, and
// nothing in it comes from the clock on this wall.
func TestCalendar(t *testing.T) {
	shop, err := plan.ShopFor("metric")
	if err != nil {
		t.Fatal(err)
	}
	d, err := design.ExampleNamed("boarded", shop.Catalog)
	if err != nil {
		t.Fatal(err)
	}
	for _, e := range []design.Edit{{Field: "calendar:start", Value: "2027-03-27"},
		{Field: "calendar:zone", Value: "Europe/Lisbon"}, {Field: "calendar:sat", Value: "9-12"},
		{Field: "calendar:sun", Value: "9-12"}, {Bed: "b1", Field: "finish", Value: "linseed"}} {
		if d, err = design.Apply(d, shop.Catalog, e); err != nil {
			t.Fatal(err)
		}
	}
	p, err := plan.Make(d, shop)
	if err != nil {
		t.Fatal(err)
	}
	at := time.Date(2027, 3, 1, 12, 30, 0, 0, time.UTC)
	write := func(p *plan.Plan, issue Issue) string {
		var b bytes.Buffer
		if err := WriteCalendar(&b, p, issue); err != nil {
			t.Fatal(err)
		}
		return b.String()
	}
	text := write(p, Issue{Of: "p7", Sequence: 3, At: at})
	if text != write(p, Issue{Of: "p7", Sequence: 3, At: at}) {
		t.Error("not the same twice")
	}
	first := eventsOf(t, text)
	k, err := p.Schedule(nil)
	if err != nil {
		t.Fatal(err)
	}
	spans, coats := 0, 0
	for i, done := range k.Done {
		spans += len(done.Spans)
		if k.Jobs[i].Of > 1 {
			coats++
		}
	}
	if len(first) != spans || spans < 12 || coats < 2 {
		t.Fatalf("%d events of %d stretches, %d of them coats", len(first), spans, coats)
	}
	lisbon, err := time.LoadLocation("Europe/Lisbon")
	if err != nil {
		t.Fatal(err)
	}
	offsets := map[int]bool{}
	for uid, e := range first {
		from, err := e.DateTimeStart(lisbon)
		if err != nil {
			t.Fatal(err)
		}
		local := from.In(lisbon)
		if local.Hour() < 9 || local.Hour() >= 12 || local.Weekday() != time.Saturday && local.Weekday() != time.Sunday {
			t.Errorf("%s is at %v", uid, local)
		}
		_, off := local.Zone()
		offsets[off] = true
		if e.Props.Get(ical.PropSequence).Value != "3" || e.Props.Get(ical.PropDateTimeStamp).Value != "20270301T123000Z" {
			t.Errorf("%s is number %v of %v", uid, e.Props.Get(ical.PropSequence), e.Props.Get(ical.PropDateTimeStamp))
		}
	}
	if !offsets[0] || !offsets[3600] { // clocks went forward in the night to the 28th
		t.Errorf("offsets %v", offsets)
	}
	if n := strings.Count(text, "BEGIN:DAYLIGHT"); n != 1 || !strings.Contains(text, "DTSTART:20270328T010000") {
		t.Errorf("%d changes to summer time:\n%s", n, text[:900])
	}
	less, err := design.Apply(d, shop.Catalog, design.Edit{Bed: "b1", Field: "cap", Value: "none"})
	if err != nil {
		t.Fatal(err)
	}
	q, err := plan.Make(less, shop)
	if err != nil {
		t.Fatal(err)
	}
	before, _, err := Events(p, "p7", nil)
	if err != nil {
		t.Fatal(err)
	}
	now, _, err := Events(q, "p7", nil)
	if err != nil {
		t.Fatal(err)
	}
	gone := Gone(before, now)
	second := eventsOf(t, write(q, Issue{Of: "p7", Sequence: 4, At: at.Add(time.Hour), Gone: gone}))
	off := 0
	for uid, e := range second {
		if status := e.Props.Get(ical.PropStatus); status != nil && status.Value == "CANCELLED" {
			off++
			if first[uid] == nil {
				t.Errorf("%s is called off and never was", uid)
			}
		}
		if e.Props.Get(ical.PropSequence).Value != "4" {
			t.Errorf("%s keeps its number", uid)
		}
	}
	if off == 0 || off != len(gone) || !strings.Contains(gone[0].UID, "fix-cap") && len(gone) == 1 {
		t.Errorf("%d called off: %v", off, gone)
	}
	for uid := range first {
		if second[uid] == nil {
			t.Errorf("%s is neither there nor called off", uid)
		}
	}
	undated, err := design.Apply(d, shop.Catalog, design.Edit{Field: "calendar:start", Value: ""})
	if err != nil {
		t.Fatal(err)
	}
	if p, err = plan.Make(undated, shop); err != nil {
		t.Fatal(err)
	}
	cal, err := ical.NewDecoder(strings.NewReader(write(p, Issue{Of: "p7", At: at}))).Decode()
	if err != nil || len(cal.Children) != len(p.Steps) {
		t.Errorf("without a day: %v, %v", cal, err)
	}
}

func eventsOf(t *testing.T, text string) map[string]*ical.Event {
	t.Helper()
	cal, err := ical.NewDecoder(strings.NewReader(text)).Decode()
	if err != nil {
		t.Fatal(err)
	}
	list := map[string]*ical.Event{}
	for _, e := range cal.Events() {
		uid := e.Props.Get(ical.PropUID).Value
		if list[uid] != nil {
			t.Errorf("%s is there twice", uid)
		}
		list[uid] = &e
	}
	return list
}
