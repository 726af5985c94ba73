package web

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/url"
	"path/filepath"
	"strings"
	"testing"

	"github.com/jmoiron/sqlx"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/plan"
	"chamfer/export"
	"chamfer/store"
)

// raw opens a site's file beside it, to do to it what no edit does.
func (s *site) raw() *sqlx.DB {
	s.t.Helper()
	db, err := sqlx.Open("sqlite", "file:"+s.path+"?_pragma=busy_timeout(5000)")
	if err != nil {
		s.t.Fatal(err)
	}
	s.t.Cleanup(func() { db.Close() })
	return db
}

func (s *site) head(id int64) store.Standing {
	s.t.Helper()
	h, err := s.store.Standing(context.Background(), id)
	if err != nil {
		s.t.Fatal(err)
	}
	return h
}

// A row that cannot be read hides no other: it is listed as damaged, its page has its
// log, its text and the ways back, and each of them works.
func TestDamagedProject(t *testing.T) {
	for name, text := range map[string]string{
		"no JSON":      `{"format": "chamf`,
		"not a length": `{"format":"chamfer/1","name":"x","region":"us","beds":[{"id":"b1","cap_out":"-3 in"}]}`,
		"no beds":      `{}`,
		"no such region": `{"format":"chamfer/1","name":"x","region":"mars","beds":[{"id":"b1","system":"boarded",` +
			`"name":"b"}]}`,
		"no such system":  `{"format":"chamfer/1","name":"x","region":"us","beds":[{"id":"b1","system":"igloo","name":"b"}]}`,
		"more than plans": "",
		"lost":            "lost",
	} {
		t.Run(name, func(t *testing.T) {
			s := newSite(t)
			s.post("/p/2/edit", url.Values{"stage": {"bed"}, "bed": {"b1"}, "soil": {"14 in"}})
			if text == "" { // as an older program might have kept it
				p, err := s.store.Project(t.Context(), 2)
				if err != nil {
					t.Fatal(err)
				}
				cat := catalog.Regions()[0]
				p.Design.Beds[0].Count = 100
				d, err := design.Apply(
					p.Design,
					cat,
					design.Edit{Bed: "b1", Field: "system", Value: "pieced"},
					design.Edit{Bed: "b1", Field: "length", Value: "39 ft"},
					design.Edit{
						Bed:   "b1",
						Field: "width",
						Value: "19 ft",
					},
					design.Edit{Bed: "b1", Field: "soil", Value: "4 ft"},
				)
				if err != nil {
					t.Fatal(err)
				}
				raw, err := d.Encode()
				if err != nil {
					t.Fatal(err)
				}
				text = string(raw)
			}
			good := s.head(2)
			db := s.raw()
			if text == "lost" { // the head names a revision that is not there
				text = ""
				db.MustExec("UPDATE projects SET head = NULL WHERE id = 2")
				page, code := s.get("/")
				has(t, page, "Go back to the last good revision")
				if page, _ := s.get("/p/2/bed"); code != 200 || !strings.Contains(page, "Go back to this") {
					t.Errorf("without a head: status %d", code)
				}
				if _, code = s.post("/p/2/goto", url.Values{"rev": {"0"}, "revision": {fmt.Sprint(good.Head)}}); s.head(
					2,
				).Head != good.Head {
					t.Errorf("gone back: status %d", code)
				}
				return
			}
			db.MustExec(
				"INSERT INTO revisions (project_id, parent_id, label, design, created_at) VALUES (2, ?, 'went"+
					" wrong', ?, '2026-05-01T09:00:00Z')",
				good.Head,
				text,
			)
			db.MustExec("UPDATE projects SET head = (SELECT max(id) FROM revisions WHERE project_id = 2) WHERE id = 2")

			page, code := s.get("/")
			has(t, page, "Hollin's blocks", "Tobin's salad bed", "Go back to the last good revision", "/p/2/text")
			if code != 200 {
				t.Fatalf("the list: status %d", code)
			}
			for _, st := range stages {
				page, code = s.get("/p/2/" + st.Key)
				if code != http.StatusUnprocessableEntity {
					t.Errorf("%s: status %d", st.Key, code)
				}
				has(
					t,
					page,
					"Nothing has been lost",
					"Undo: went wrong",
					"Go back to this",
					"Go back to the last good revision",
					"/p/2/text",
					"/p/2/delete",
				)
			}
			if got, code := s.get("/p/2/text"); code != 200 || got != text {
				t.Errorf("its text: status %d, %q", code, got)
			}
			bad := s.head(2)
			for _, way := range []string{"undo", "goto", "mend"} {
				db.MustExec("UPDATE projects SET head = ? WHERE id = 2", bad.Head)
				_, code = s.post("/p/2/"+way, url.Values{"revision": {fmt.Sprint(good.Head)}})
				if now := s.head(2); code != 200 || now.Head != good.Head {
					t.Errorf("%s: status %d, at %d of %d", way, code, now.Head, good.Head)
				}
				if _, code = s.get("/p/2/bed"); code != 200 {
					t.Errorf("after %s: status %d", way, code)
				}
			}
			db.MustExec("UPDATE projects SET head = ? WHERE id = 2", bad.Head)
			if _, code = s.post("/p/2/edit", url.Values{"bed": {"b1"},
				"soil": {"9 in"}}); code != http.StatusUnprocessableEntity &&
				name != "more than plans" { // which mends it
				t.Errorf("an edit of it: status %d", code)
			}
			if page, code = s.post("/p/2/delete", nil); code != 200 || !strings.Contains(page, "has been deleted") {
				t.Errorf("delete: status %d", code)
			}
		})
	}
}

// What the plan refuses, the edit refuses, before it is saved and by name; imports
// likewise.
func TestRefusedBeforeSaved(t *testing.T) {
	s := newSite(t)
	edits := []url.Values{
		{"set": {"system=pieced", "length=39 ft", "width=19 ft", "soil=3 ft", "count=100"}},
		{"set": {"system=pieced", "length=39 ft", "width=19 ft", "soil=4 ft", "count=100"}},
		{"set": {"system=ring", "length=39 ft", "count=100"}},
		{"cap_in": {"20 ft"}},
	}
	for _, form := range edits {
		was := s.head(2)
		form.Set("stage", "bed")
		form.Set("bed", "b1")
		if form.Has("cap_in") { // of a bed without a cap
			s.post("/p/2/edit", url.Values{"stage": {"frame"}, "bed": {"b1"}, "cap": {"none"}})
			was = s.head(2)
		}
		page, code := s.post("/p/2/edit", form)
		if now := s.head(2); code != http.StatusUnprocessableEntity || now.Head != was.Head {
			t.Errorf("%v: status %d, at %d of %d", form, code, now.Head, was.Head)
		}
		if !strings.Contains(page, "work") && !strings.Contains(page, "choose one first") {
			t.Errorf("%v: it does not say what would work", form)
		}
		if _, code := s.get("/p/2/bed"); code != 200 {
			t.Errorf("%v: afterwards status %d", form, code)
		}
	}
	// The way a cap that was refused went on to lock its project.
	s.post("/p/2/edit", url.Values{"stage": {"frame"}, "bed": {"b1"}, "cap": {"mitred"}})
	if _, code := s.post("/p/2/edit", url.Values{"stage": {"frame"}, "bed": {"b1"},
		"cap_in": {"5 in"}}); code != http.StatusUnprocessableEntity {
		t.Errorf("an overhang of 5 in: status %d", code)
	}
	if _, code := s.post("/p/2/edit", url.Values{"stage": {"frame"}, "bed": {"b1"}, "cap_in": {"5 in"},
		"cap": {"none"}}); code != 200 {
		t.Errorf("no cap with the overhang still in its field: status %d", code)
	}
	p, err := s.store.Project(t.Context(), 2)
	if err != nil || p.Design.Beds[0].CapOut < 0 || p.Design.Beds[0].CapIn < 0 {
		t.Errorf("%v, overhangs %v and %v", err, p.Design.Beds[0].CapIn, p.Design.Beds[0].CapOut)
	}
	big := p.Design.Copy()
	for len(big.Beds) < 50 {
		b := big.Beds[0].Copied()
		b.ID, b.Count, b.Places = fmt.Sprintf("b%d", len(big.Beds)+1), 100, nil
		big.Beds = append(big.Beds, b)
	}
	raw, err := big.Encode()
	if err != nil {
		t.Fatal(err)
	}
	before, _ := s.store.List(t.Context(), store.Scope{Household: store.Home}, store.After{}, "", 100)
	page, code := s.upload("big.chamfer.json", raw)
	if after, _ := s.store.List(t.Context(), store.Scope{Household: store.Home}, store.After{}, "",
		100); code != http.StatusUnprocessableEntity ||
		len(after) != len(before) ||
		!strings.Contains(page, "a second project") {
		t.Errorf("a file of 5000 beds: status %d, %d projects of %d", code, len(after), len(before))
	}
}

// Nothing is done to a deleted project, and it can be brought back later.
func TestDeletedProject(t *testing.T) {
	s := newSite(t)
	was := s.head(2)
	s.post("/p/2/delete", nil)
	for _, path := range []string{"edit", "undo", "redo", "goto", "tick", "saw", "longer", "shed", "away", "duplicate",
		"rename", "delete", "mend"} {
		form := url.Values{
			"bed":      {"b1"},
			"soil":     {"9 in"},
			"tick":     {"buy"},
			"done":     {"yes"},
			"name":     {"x"},
			"leftover": {"2x4 cedar 40 in"},
			"revision": {"1"},
		}
		page, code := s.post("/p/2/"+path, form)
		if code != http.StatusGone || !strings.Contains(page, "Bring it back") && path != "mend" {
			t.Errorf("%s: status %d", path, code)
		}
	}
	for _, path := range []string{"bed", "log", "set-out", "cautions", "files/plan.json",
		"files/project.chamfer.json"} {
		if _, code := s.get("/p/2/" + path); code != http.StatusGone {
			t.Errorf("%s: status %d", path, code)
		}
	}
	if shed, err := s.store.Shed(t.Context(), store.Home, "us"); err != nil || len(shed) > 0 {
		t.Errorf("%v in the shed, %v", shed, err)
	}
	page, _ := s.get("/deleted")
	has(t, page, "bean bed", "/p/2/restore")
	page, code := s.post("/p/2/restore", nil)
	if now := s.head(2); code != 200 || now.Head != was.Head || now.Deleted != nil {
		t.Errorf("brought back: status %d", code)
	}
	has(t, page, "bean bed")
}

// Ticks stay with what was done when something else is changed, go where that itself is, which is told; and only steps
// there are can be ticked.
func TestTicksStay(t *testing.T) {
	s := newSite(t)
	for _, step := range []string{"b1.make-up.ends", "b1.fix-cap.cap", "b1.fill"} {
		if page, code := s.post("/p/2/tick", url.Values{"tick": {step}, "done": {"yes"}}); code != 200 ||
			!strings.Contains(page, "of ") {
			t.Fatalf("%s: status %d", step, code)
		}
	}
	s.post(
		"/p/2/edit",
		url.Values{"bed": {"b1"}, "stage": {"frame"}, "mid_posts": {"2"}},
	) // one step more, before the cap
	s.post("/p/2/edit", url.Values{"bed": {"b1"}, "stage": {"bed"}, "beds": {"add"}, "add-system": {"ring"}})
	page, _ := s.get("/p/2/build?step=b1.fix-cap.cap")
	has(t, page, "2 of ", "Not done after all", "Fix the cap")
	has(t, page, "changed since", "Fill with soil") // posts stand in it now
	page, _ = s.get("/p/2/build?step=b1.set-post.mid-posts")
	has(t, page, "Done, next step")
	for _, step := range []string{"", "b1.act3", "nonsense", strings.Repeat("x", 500)} {
		if _, code := s.post("/p/2/tick", url.Values{"tick": {step}, "done": {"yes"}}); code != http.StatusBadRequest {
			t.Errorf("%.20q was ticked: %d", step, code)
		}
	}
}

// An edit that another decision overrules lifts that decision where it can, and is
// otherwise refused by its name.
func TestOverruledEdit(t *testing.T) {
	s := newSite(t)
	edit := func(form url.Values) (string, int) {
		form.Set("bed", "b2")
		form.Set("stage", "bed")
		return s.post("/p/4/edit", form)
	}
	if _, code := edit(url.Values{"ring_units": {"20"}}); code != 200 {
		t.Fatalf("a number of units: status %d", code)
	}
	page, code := edit(url.Values{"length": {"5 ft"}})
	if p, _ := s.store.Project(t.Context(), 4); code != 200 || p.Design.Beds[1].Length.String() != "60 in" ||
		p.Design.Beds[1].Options["ring_units"] != "auto" {
		t.Errorf(
			"another size: status %d, %v of %s",
			code,
			p.Design.Beds[1].Length,
			p.Design.Beds[1].Options["ring_units"],
		)
	}
	if field("ring_units", page) != "auto" {
		t.Errorf("the page still counts %s units", field("ring_units", page))
	}
	page, code = edit(url.Values{"length": {"6 ft"}, "ring_units": {"24"}})
	if code != http.StatusUnprocessableEntity || !strings.Contains(page, "follows from “Units in a course”") {
		t.Errorf("both: status %d", code)
	}
}

// The project's file plans as its page does, shed and habits and all; and the boards
// that it counts on are kept for it.
func TestFileCarriesItsShed(t *testing.T) {
	s := newSite(t)
	s.post(
		"/habits",
		url.Values{
			"region":    {"us"},
			"kerf":      {"3/32 in"},
			"precision": {"1/16 in"},
			"currency":  {"$"},
			"tax":       {"7.5"},
			"settling":  {"12"},
			"spare":     {"10"},
			"carry":     {"16 ft"},
		},
	)
	s.post("/p/2/shed", url.Values{"leftover": {"8 of 2x8 cedar 100 in; 3 of 4x4 cedar 40 in; 2 of 2x6 cedar 12 ft"}})
	page, _ := s.get("/p/2/cuts")
	has(t, page, "for this project")
	raw, code := s.get("/p/2/files/project.chamfer.json")
	if code != 200 {
		t.Fatalf("status %d", code)
	}
	file, err := export.ReadProject([]byte(raw))
	if err != nil {
		t.Fatal(err)
	}
	shop, err := file.Shop()
	if err != nil {
		t.Fatal(err)
	}
	p, err := plan.Make(file.Design, shop)
	if err != nil {
		t.Fatal(err)
	}
	bill, _ := s.get("/p/2/bill")
	has(t, bill, shop.Currency().Format(p.Bill.Total), ">yours<")
	if file.Boards() == 0 || file.Habits == nil || shop.Habits.TaxBasisPoints != 750 {
		t.Errorf("it carries %d boards and %+v", file.Boards(), file.Habits)
	}
	// A copy does without them, and says whose they are.
	s.post("/p/2/duplicate", nil)
	page, _ = s.get("/p/5/cuts")
	has(t, page, "for Wren")
	if claims, err := s.store.Claims(t.Context(), 5); err != nil {
		t.Error(err)
	} else if one, _ := s.store.Claims(t.Context(), 2); one[1]+claims[1] > 8 {
		t.Errorf("%d and %d of 8 boards are counted on", one[1], claims[1])
	}
	s.post("/p/2/delete", nil) // and gets them when the first is gone
	page, _ = s.get("/p/5/cuts")
	has(t, page, "for this project")
	if page, code := s.upload("x.chamfer.json", []byte("\ufeff"+raw)); code != 200 ||
		!strings.Contains(page, "bean bed") {
		t.Errorf("with a byte order mark: status %d", code)
	}
}

// The list of many projects does the work of a page of it: counted in designs read,
// plans made, and memory held.
func TestListOfMany(t *testing.T) {
	n := 20_000
	dir := t.TempDir()
	s, err := store.Open(filepath.Join(dir, "beds.db"))
	if err != nil {
		t.Fatal(err)
	}
	d := design.New(catalog.Regions()[0], "one of many")
	shop, _ := plan.ShopFor("us")
	pl, err := plan.Make(d, shop)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := s.Create(store.Home, d, "started", keeps(pl)); err != nil {
		t.Fatal(err)
	}
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	db, err := sqlx.Open("sqlite", "file:"+filepath.Join(dir, "beds.db"))
	if err != nil {
		t.Fatal(err)
	}
	db.MustExec("PRAGMA synchronous = OFF")
	db.MustExec(
		`INSERT INTO projects (id, created_at, updated_at, name) WITH RECURSIVE k(i) AS (SELECT 2 UNION ALL SELECT i + 1 `+
			`FROM k WHERE i < ?)
		SELECT i, printf('2026-01-01T%02d:%02d:%02dZ', i / 3600, i / 60 % 60, i % 60),
		  printf('2026-01-01T%02d:%02d:%02dZ', i / 3600, i / 60 % 60, i % 60), 'one of many' FROM k`,
		n,
	)
	db.MustExec(
		`INSERT INTO revisions (id, project_id, label, design, created_at) SELECT p.id, p.id, 'started', r.design, ` +
			`p.created_at FROM projects p, revisions r WHERE r.id = 1 AND p.id > 1`,
	)
	db.MustExec(`UPDATE projects SET head = id`)
	db.MustExec(
		`INSERT INTO cards (project_id, revision_id, body) SELECT p.id, p.id, c.body FROM projects p, cards c WHERE ` +
			`c.project_id = 1 AND p.id > 1`,
	)
	if err := db.Close(); err != nil {
		t.Fatal(err)
	}
	if s, err = store.Open(filepath.Join(dir, "beds.db")); err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	h, err := New(s, slog.New(slog.NewTextHandler(io.Discard, nil)), Door{})
	if err != nil {
		t.Fatal(err)
	}
	f := &fuzzed{handler: h, store: s, faults: &bytes.Buffer{}}
	page, seen, pages := "/", 0, 0
	for page != "" && pages < 5 {
		code, body := f.get(t, page)
		cards := strings.Count(body, `<article class="project">`)
		if code != 200 || cards != perPage || len(body) > 600_000 {
			t.Fatalf("%s: status %d, %d projects, %d bytes", page, code, cards, len(body))
		}
		seen, pages = seen+cards, pages+1
		_, rest, _ := strings.Cut(body, `href="/?after=`)
		next, _, found := strings.Cut(rest, `"`)
		page = ""
		if found {
			page = "/?after=" + strings.ReplaceAll(next, "&amp;", "&")
		}
	}
	if seen != 5*perPage {
		t.Errorf("%d projects on %d pages", seen, pages)
	}
	work := func(f *fuzzed) float64 { return testing.AllocsPerRun(2, func() { f.get(t, "/") }) }
	few := &fuzzed{}
	few.fresh(t, t.TempDir())
	defer few.store.Close()
	for range 10 {
		if _, err := few.store.Create(store.Home, d, "started", keeps(pl)); err != nil {
			t.Fatal(err)
		}
	}
	if of20000, of10 := work(f)/perPage, work(few)/10; of20000 > 1.5*of10 {
		t.Errorf("a project of 20,000 takes %.0f allocations to list, one of ten %.0f", of20000, of10)
	}
}
