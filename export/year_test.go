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

// The year of what grows is read by another library: every task a stretch of whole days, each with a name of its own
// that is the same when it is written again; in the south it runs over New Year.
func TestYearIsRead(t *testing.T) {
	shop, err := plan.ShopFor("metric")
	if err != nil {
		t.Fatal(err)
	}
	for lat, over := range map[string]bool{"51.5": false, "-37.8": true} {
		d, err := design.ExampleNamed("boarded", shop.Catalog)
		if err != nil {
			t.Fatal(err)
		}
		d, err = design.Apply(d, shop.Catalog, design.Edit{Field: "sky:place", Value: lat + ";0;0"},
			design.Edit{Bed: "b1", Field: "plant:add", Value: "tomato_det; 0; 0 mm; 0 mm; 1000 mm; 1000 mm"},
			design.Edit{Bed: "b1", Field: "plant:add", Value: "carrot; 0; 1100 mm; 0 mm; 300 mm; 300 mm"})
		if err != nil {
			t.Fatal(err)
		}
		p, err := plan.Make(d, shop)
		if err != nil {
			t.Fatal(err)
		}
		var first, again bytes.Buffer
		if err := writeYear(&first, p, Asked{Year: 2027}); err != nil {
			t.Fatal(err)
		}
		if err := writeYear(&again, p, Asked{Year: 2027}); err != nil || again.String() != first.String() {
			t.Error("it is not the same twice", err)
		}
		// It goes with the building calendar under the same names, each once.
		var both bytes.Buffer
		season := Season(p, "file", 2027)
		if err := WriteCalendar(&both, p, Issue{Of: "file", Season: season}); err != nil {
			t.Fatal(err)
		}
		for _, e := range season {
			if strings.Count(strings.ReplaceAll(both.String(), "\r\n ", ""), "UID:"+e.UID+"\r\n") != 1 {
				t.Errorf("%s is not once in the building calendar", e.UID)
			}
		}
		cal, err := ical.NewDecoder(&first).Decode()
		if err != nil {
			t.Fatal(err)
		}
		seen, crossed, said := map[string]bool{}, false, map[string]bool{}
		for _, e := range cal.Events() {
			uid := e.Props.Get(ical.PropUID).Value
			from, err := e.DateTimeStart(time.UTC)
			to, err2 := e.DateTimeEnd(time.UTC)
			if err != nil || err2 != nil || !to.After(from) || seen[uid] {
				t.Errorf("%s: %v to %v, %v %v", uid, from, to, err, err2)
			}
			seen[uid] = true
			crossed = crossed || from.Year() == 2027 && to.Year() == 2028
			said[e.Props.Get(ical.PropSummary).Value] = true
		}
		if len(seen) < 12 || crossed != over {
			t.Errorf("%s: %d tasks, over New Year %v", lat, len(seen), crossed)
		}
	}
}
