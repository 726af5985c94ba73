package web

import (
	"fmt"
	"html"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"sync"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/plan"
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
		p.keep(strings.Repeat("k", i+1), make([]byte, 1<<20))
	}
	if p.bytes > mostShown || len(p.by) != p.order.Len() || p.bytes != p.order.Len()<<20 {
		t.Errorf("%d pages of %d bytes are kept", len(p.by), p.bytes)
	}
	if _, ok := p.of("k"); ok {
		t.Error("the oldest is kept")
	}
	if _, ok := p.of(strings.Repeat("k", 200)); !ok {
		t.Error("the newest is not")
	}
}

// Plans that were made are of use to whoever looks next, many at once, until the project, the shop or what is known of
// cuts is another; they are bounded.
func TestPlansAreKept(t *testing.T) {
	s := newSite(t)
	s.post("/p/3/edit", url.Values{"stage": {"bed"}, "soil": {"11 in"}})
	var wait sync.WaitGroup
	for _, st := range stages {
		for _, q := range []string{"", "?bed=b2", "?view=solid"} {
			wait.Go(func() {
				if page, code := s.get("/p/3/" + st.Key + q); code != 200 || !strings.Contains(page, `id="bench"`) {
					t.Errorf("%s%s: %d", st.Key, q, code)
				}
			})
		}
	}
	wait.Wait()
	head, err := s.store.Project(t.Context(), 3)
	if err != nil {
		t.Fatal(err)
	}
	shop, _, err := s.h.shopFor(t.Context(), store.Home, "us", 3)
	if err != nil {
		t.Fatal(err)
	}
	kept, ok := s.h.plans.of(3, head.Head, shop)
	if !ok {
		t.Fatal("a plan that was shown is not kept")
	}
	if made, err := plan.Make(head.Design, shop); err != nil || made.Bill.Total != kept.Bill.Total ||
		len(made.Steps) != len(kept.Steps) {
		t.Errorf("it is another: %v", err)
	}
	dear := shop
	dear.Habits.Kerf++
	if _, ok := s.h.plans.of(3, head.Head, dear); ok {
		t.Error("it is of use for another workshop")
	}
	round := s.h.plans.now()
	s.h.plans.forget()
	s.h.plans.keep(head.Standing, kept, round)
	if _, ok := s.h.plans.of(3, head.Head, shop); ok {
		t.Error("a plan from before better cuts were found is kept")
	}
	for n := range int64(2 * mostPlans / weightOf(kept)) {
		s.h.plans.keep(store.Standing{ID: 100 + n, Head: 1}, kept, s.h.plans.now())
	}
	if k := &s.h.plans; k.bytes > mostPlans || k.order.Len() != len(k.by) || k.order.Len() < 2 {
		t.Errorf("%d bytes of %d plans are kept", k.bytes, k.order.Len())
	}
	// The first answer of two says where the second is, and leaves out what that brings.
	r, _ := http.NewRequest(http.MethodPost, s.URL+"/p/2/edit", strings.NewReader(url.Values{"stage": {"frame"},
		"length": {"7 ft"}, "rev": {fmt.Sprint(s.head(2).Head)}}.Encode()))
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	r.Header.Set("X-Chamfer", "part")
	r.Header.Set("X-Chamfer-Late", "yes")
	answer, err := s.Client().Do(r)
	if err != nil {
		t.Fatal(err)
	}
	first, _ := s.read(answer)
	late := regexp.MustCompile(`data-late="([^"]+)"`).FindStringSubmatch(first)
	if late == nil || strings.Contains(first, `class="effect"`) || !strings.Contains(first, "7&#39;") {
		t.Fatalf("the first answer: %.400s", first)
	}
	second, _ := s.get(html.UnescapeString(late[1]))
	if strings.Contains(second, "data-late") || !strings.Contains(second, `class="effect"`) ||
		!strings.Contains(second, `class="delta`) {
		t.Error("the second answer does not bring the rest, or forgets what moved")
	}
}
