package web

import (
	"net/url"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"

	"chamfer/core/design"
)

// A timber of one's own, typed on the page and chosen by the keyboard: it is cut and paid for. By hand: four sides of
// 100 in and four ends of 52 in, of 2x8 at 8 ft for 6.50 or 10 ft for 8.20, 1/8 in a cut: a side takes a board of 10
// ft, two ends another, 104 1/8 in of 120: six of 8.20, and 49.20 in all; ends out of 8 ft boards would be one each,
// 26.00 for 16.40.
func TestOwnTimber(t *testing.T) {
	b := browser(t)
	s := newSite(t)
	const ash = "Lane ash, like cedar, lasts 5 to 8 years, 2x8 at 8 ft for 6.50, 2x8 at 10 ft for 8.20"
	p := s.tab(b, "/p/2/frame", 1280, 800)
	p.ready("frame")
	p.MustElement(".own-unit summary").MustFocus().MustType(input.Enter)
	p.fill("#own-timber", "Lane ash, 2x8 at 8 ft for 6.50")
	p.MustElement("#own-timber").MustType(input.Enter)
	p.until(`() => document.querySelector('#own-timber-err')?.textContent.includes('as strong as')`)
	if got := p.MustElement("#own-timber").MustProperty("value").String(); got != "Lane ash, 2x8 at 8 ft for 6.50" {
		t.Errorf("what was typed reads %q", got)
	}
	p.saved(func() {
		p.fill("#own-timber", ash)
		p.MustElement("#own-timber").MustType(input.Enter)
	})
	p.saved(func() {
		p.MustElement("fieldset[data-field=species] input[value='own:lane-ash']").MustFocus().MustType(input.Space)
	})
	p.stage("bill")
	bill := strings.Join(strings.Fields(p.text("main")), " ")
	for _, want := range []string{"2x8, lane ash, 10 ft", "6 boards", "$49.20", "No cheaper way exists"} {
		if !strings.Contains(bill, want) {
			t.Errorf("the bill does not say %q: %.600s", want, bill)
		}
	}
	if got := p.figure("years"); got != "5–8" {
		t.Errorf("it lasts %q", got)
	}
	p.clean("the bill")
	page, code := s.post("/p/2/edit", url.Values{"bed": {"b1"}, "stage": {"frame"}, "own-timber": {ash}})
	if has(t, page, "has a wood called"); code != 422 {
		t.Errorf("told twice: status %d", code)
	}
	page, _ = s.post("/p/2/edit", url.Values{"bed": {"b1"}, "stage": {"bill"}, "price:2x8/own:lane-ash/10 ft": {"9"},
		"was:2x8/own:lane-ash/10 ft": {"8.20"}})
	has(t, page, "$54.00")
	s.post("/p/2/shed", url.Values{"leftover": {"2 of 2x8 lane ash 53 in"}})
	page, _ = s.get("/p/2/cuts")
	has(t, page, "2 × 2x8, Lane ash", "2 for this project")

	// It goes with the project's file, and not into another catalogue.
	raw, _ := s.get("/p/2/files/project.chamfer.json")
	if page, code := s.upload("ash.chamfer.json", []byte(raw)); code != 200 {
		t.Errorf("its file is not taken: status %d %.300s", code, page)
	}
	s.post("/p/2/edit", url.Values{"bed": {"b1"}, "stage": {"bed"}, "set": {"region=metric"}})
	d, err := s.store.Project(t.Context(), 2)
	if err != nil || d.Design.Region != "metric" || len(d.Design.Timbers) != 0 ||
		strings.HasPrefix(d.Design.Beds[0].Species, "own:") {
		t.Errorf("%v in %s is of %s", d.Design.Timbers, d.Design.Region, d.Design.Beds[0].Species)
	}
	if _, err := design.Apply(d.Design, s.planOf(2).Shop.Catalog, design.Edit{Bed: "b1", Field: "species",
		Value: "own:lane-ash"}); err == nil {
		t.Error("a timber that is not there is taken")
	}
}
