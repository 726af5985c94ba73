package web

import (
	"net/url"
	"strings"
	"testing"

	"chamfer/core/catalog"
	"chamfer/store"
)

// A page that has not changed is shown as it was; one that has is not, whoever changed what it rests on: a form, the
// household's habits, another program at the same file. What one may do is not shown to another, and what is kept is
// bounded.
func TestShownAgain(t *testing.T) {
	s := newSite(t)
	kept := func() int { return s.h.shown.order.Len() }
	s.get("/p/2/bill") // what the list of projects shows of it is made with the first
	first, _ := s.get("/p/2/bill")
	n := kept()
	again, _ := s.get("/p/2/bill")
	if first != again || kept() != n || n == 0 {
		t.Errorf("asked for again it is another page, or none was kept: %d, then %d", n, kept())
	}
	s.post("/p/2/edit", url.Values{"stage": {"bill"}, "price:cardboard": {"77.77"}, "was:cardboard": {"x"}})
	if page, _ := s.get("/p/2/bill"); !strings.Contains(page, "77.77") {
		t.Error("after an edit it is the page from before")
	}
	cat, err := catalog.ForRegion("us")
	if err != nil {
		t.Fatal(err)
	}
	habits := cat.Habits
	habits.CurrencySymbol = "¤"
	if err := s.store.SetHabits(store.Home, "us", habits); err != nil {
		t.Fatal(err)
	}
	if page, _ := s.get("/p/2/bill"); !strings.Contains(page, "¤") {
		t.Error("with other habits it is the page from before")
	}
	db := s.raw()
	if _, err := db.Exec("UPDATE habits SET body = replace(body, '¤', '¥')"); err != nil {
		t.Fatal(err)
	}
	if page, _ := s.get("/p/2/bill"); !strings.Contains(page, "¥") {
		t.Error("what another program changed is not shown")
	}
	cuts, _ := s.get("/p/2/cuts")
	if n = kept(); len(cuts) == 0 {
		t.Error("no cuts")
	}
	s.get("/p/2/cuts")
	if kept() != n {
		t.Error("a page is kept on which a search may go on")
	}

	v := newVillage(t)
	own, _ := v.as("owner").get("/p/1/bed")
	look, _ := v.as("reader").get("/p/1/bed")
	if strings.Contains(own, "<form inert") || !strings.Contains(look, "<form inert") {
		t.Error("what an owner was shown is shown to a reader, or the other way round")
	}
	if page, _ := v.as("owner").get("/p/1/bed"); strings.Contains(page, "<form inert") {
		t.Error("what a reader was shown is shown to an owner")
	}
	var p shownPages
	for i := range 200 {
		p.put(strings.Repeat("k", i+1), make([]byte, 1<<20))
	}
	if p.bytes > mostShown || len(p.by) != p.order.Len() || p.bytes != p.order.Len()<<20 {
		t.Errorf("%d pages of %d bytes are kept", len(p.by), p.bytes)
	}
	if _, ok := p.get("k"); ok {
		t.Error("the oldest is kept")
	}
	if _, ok := p.get(strings.Repeat("k", 200)); !ok {
		t.Error("the newest is not")
	}
}
