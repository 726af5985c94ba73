package web

import (
	"fmt"
	"io"
	"log/slog"
	"math/rand/v2"
	"net/http"
	"net/http/httptest"
	"net/url"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"chamfer/core/cutting"
	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/export"
	"chamfer/store"
)

// manyBeds are two projects of many beds, both with a kind of board that a page shows
// no least for: a longer search soon has that of the first.
func manyBeds(t *testing.T) (soon, goes design.Design) {
	t.Helper()
	soon = someBeds(
		t,
		rand.New(rand.NewPCG(4, 4)),
		30,
		20,
		0,
		func(before, after cutting.Answer) bool { return after.Proved && after.Cost < before.Cost },
	)
	goes = someBeds(t, rand.New(rand.NewPCG(3, 4)), 14, 30, 100, func(_, _ cutting.Answer) bool { return true })
	return soon, goes
}

// someBeds is a project of at least so many beds and up to so many more, shorter than the
// examples by up to 300 mm and narrower by up to so many, of which some kind of board is not
// proved and two seconds come to what is wanted.
func someBeds(
	t *testing.T,
	r *rand.Rand,
	least, more, narrower int,
	want func(before, after cutting.Answer) bool,
) design.Design {
	t.Helper()
	shop, err := plan.ShopFor("metric")
	if err != nil {
		t.Fatal(err)
	}
	examples := slices.DeleteFunc(design.Examples(), func(e design.Example) bool {
		// With them other beds are drawn.
		return slices.Contains([]string{"angled", "sided", "outlined", "along", "along-level"}, e.Name)
	})
	for range 60 {
		d := design.New(shop.Catalog, "Many beds")
		d.Beds = nil
		for i := range least + r.IntN(more) {
			e := examples[r.IntN(len(examples))]
			one, err := design.ExampleNamed(e.Name, shop.Catalog)
			if err != nil {
				t.Fatal(err)
			}
			bed := one.Beds[0]
			bed.ID, bed.Name = fmt.Sprintf("b%d", i+1), fmt.Sprintf("%s %d", e.Name, i)
			other := bed
			if other.Length -= measure.Length(r.IntN(300)) * measure.Millimetre; narrower > 0 {
				other.Width -= measure.Length(r.IntN(narrower)) * measure.Millimetre
			}
			if design.Check(design.Design{Region: d.Region, Beds: []design.Bed{other}}, shop.Catalog) == nil {
				bed = other
			}
			d.Beds = append(d.Beds, bed)
		}
		pl, err := plan.Make(d, shop)
		if err != nil {
			t.Fatal(err)
		}
		for _, c := range pl.Cuts {
			if c.Answer.Proved {
				continue
			}
			again := c.Request
			again.Effort, again.Like = 2*cutting.SecondsEffort, c.Answer.Boards
			a, err := cutting.Solve(again)
			if err != nil {
				t.Fatal(err)
			}
			if want(c.Answer, a) {
				return d
			}
		}
	}
	t.Fatal("no such jobs among 60")
	return design.Design{}
}

// Where a page's boards are not proved least, a longer search is one press away: it
// shows the best so far, ends by itself or is stopped, and what it came to is what
// pages show from then on, those of a program that is started anew too. A page that
// shows the boards before it cannot say that one of them is cut.
func TestLongerSearch(t *testing.T) {
	soon, goes := manyBeds(t)
	s := newSite(t)
	b := browser(t)
	at := func(d design.Design) (*tab, string) {
		id, err := s.store.Create(store.Home, d, "many beds", store.Kept{})
		if err != nil {
			t.Fatal(err)
		}
		path := fmt.Sprintf("/p/%d/cuts", id)
		p := s.tab(b, path, 1280, 900)
		p.ready("cuts")
		return p, path
	}
	p, path := at(soon)
	before, total := p.text(".longer"), p.figure("total")
	if !strings.Contains(before, "Look longer") || !strings.Contains(p.text("main"), "may be up to") {
		t.Fatalf("%q", before)
	}
	stamp := p.MustEval(`() => document.querySelector('.longer').closest('section').querySelector('[name=boards]').value`).
		String()
	group := p.MustElement(".longer [name=group]").MustProperty("value").String()
	p.MustElement(".longer button").MustFocus()
	p.MustElement(".longer button").MustClick()
	p.until(`() => !document.querySelector('.longer')`)
	if p.figure("total") == total || strings.Contains(p.text("main"), "may be up to") {
		t.Errorf("searched, the total is %s, before %s", p.figure("total"), total)
	}
	raw, _ := s.get(strings.Replace(path, "cuts", "files/project.chamfer.json", 1)) // carries what was found
	file, err := export.ReadProject([]byte(raw))
	if err != nil || len(file.Found) == 0 {
		t.Fatalf("its file carries %d findings, %v", len(file.Found), err)
	}
	shop, err := file.Shop()
	if err != nil {
		t.Fatal(err)
	}
	planned, err := plan.Make(file.Design, shop)
	if err != nil {
		t.Fatal(err)
	}
	if got := shop.Currency().Format(planned.Bill.Total); got != p.figure("total") {
		t.Errorf("its file plans at %s, its page says %s", got, p.figure("total"))
	}
	if on := p.MustEval(`() => document.activeElement.tagName`).String(); on != "H2" {
		t.Errorf("the search has ended, and the focus is on %s", on)
	}
	page, code := s.post(
		strings.Replace(path, "cuts", "saw", 1),
		url.Values{"group": {group}, "boards": {stamp}, "board": {"0"}, "n": {"1"}},
	)
	if code != http.StatusConflict || !strings.Contains(page, "planned anew") ||
		strings.Contains(page, "At the saw already") {
		t.Errorf("a page of other boards: status %d", code)
	}

	// A search that goes on until it is stopped, and then has no more than there was: all kinds
	// of real boards are searched through in less time than it takes to press a button.
	searchLonger = func(m *cutting.Memo, r cutting.Request) (cutting.Found, error) {
		<-r.Stop
		r.Effort = 1
		return m.Longer(r)
	}
	t.Cleanup(func() { searchLonger = (*cutting.Memo).Longer })
	q, path := at(goes)
	total = q.figure("total")
	q.MustElement(".longer button").MustClick()
	q.until(`() => document.querySelector('.longer p')?.textContent.includes('of 60 seconds')`)
	q.until(`() => /[1-9] of 60/.test(document.querySelector('.longer p').textContent)`)
	page, _ = s.get(path) // elsewhere
	has(t, page, "of 60 seconds", "Stop, and keep the best")
	for _, v := range q.violations() {
		t.Error(v)
	}
	q.MustElement(".longer [value=stop]").MustClick()
	q.until(`() => document.querySelector('.longer')?.textContent.includes('Look longer')`)
	shown := q.figure("total")

	h, err := New(s.store, slog.New(slog.NewTextHandler(io.Discard, nil)), Door{})
	if err != nil {
		t.Fatal(err)
	}
	anew := httptest.NewServer(h)
	defer anew.Close()
	defer h.End()
	q.open(anew.URL + path)
	if got := q.figure("total"); got != shown {
		t.Errorf("started anew, the total is %s, it was %s, and %s before the search", got, shown, total)
	}
	q.open(anew.URL + strings.Replace(path, "/cuts", "/bill", 1))
	if got := q.figure("total"); got != shown {
		t.Errorf("on the bill the total is %s, on the cuts %s", got, shown)
	}
	if _, code := s.post(strings.Replace(path, "cuts", "longer", 1),
		url.Values{"group": {"99"}}); code != http.StatusBadRequest {
		t.Errorf("no such kind: status %d", code)
	}
}

// What a longer search has come to when the program ends is kept, and none is begun after.
func TestEndKeepsSearches(t *testing.T) {
	shop, err := plan.ShopFor("us")
	if err != nil {
		t.Fatal(err)
	}
	pl, err := plan.Make(design.New(shop.Catalog, "one bed"), shop)
	if err != nil {
		t.Fatal(err)
	}
	kept, err := store.Open(filepath.Join(t.TempDir(), "end.db"))
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { kept.Close() })
	h, err := New(kept, slog.New(slog.NewTextHandler(io.Discard, nil)), Door{})
	if err != nil {
		t.Fatal(err)
	}
	begun := make(chan struct{})
	searchLonger = func(m *cutting.Memo, r cutting.Request) (cutting.Found, error) {
		close(begun)
		<-r.Stop
		r.Effort = 1
		return m.Longer(r)
	}
	t.Cleanup(func() { searchLonger = (*cutting.Memo).Longer })
	cut := pl.Cuts[0]
	on, _ := h.longerOn.begin(cut.Request.Job(), cut.Answer.Cost)
	go h.search(cut.Request.Job(), on, cut)
	<-begun
	h.End()
	list, err := kept.Found(t.Context())
	if err != nil || len(list) != 1 {
		t.Fatalf("%d searches are kept, %v", len(list), err)
	}
	if on, full := h.longerOn.begin("another", 0); on != nil || !full {
		t.Error("a search is begun after the end")
	}
}
