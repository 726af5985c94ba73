package web

import (
	"chamfer/store"
	"compress/gzip"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"regexp"
	"strconv"
	"strings"
	"testing"
)

// Everything works by plain forms, without a script.
func TestPlainForms(t *testing.T) {
	s := newSite(t)
	page, code := s.post(
		"/projects",
		url.Values{"name": {"Kestrel"}, "region": {"us"}, "length": {"7'6\""}, "width": {"1.2 m"}, "soil": {"30 cm"}},
	)
	if code != 200 {
		t.Fatalf("status %d", code)
	}
	has(t, page, "Kestrel", `7' 6"`)
	if got := field("width", page); got != "1200 mm" { // not a whole 1/16 in: kept exactly as it was meant
		t.Errorf("width reads %q", got)
	}
	edit := func(form url.Values) (string, int) {
		t.Helper()
		for k, v := range map[string]string{"rev": field("rev", page), "stage": "bed", "bed": "b1"} {
			if !form.Has(k) {
				form.Set(k, v)
			}
		}
		return s.post("/p/5/edit", form)
	}
	page, _ = edit(url.Values{"length": {"8 ft"}, "width": {"4'"}})
	has(t, page, "8'", "+2.5 sq ft") // 96 x 48 against 90 x 47.24 in
	page, _ = edit(url.Values{"stage": {"frame"}, "set": {"mid_posts=0"}})
	has(t, page, "will bow about")
	page, _ = edit(
		url.Values{"stage": {"frame"}, "set": {"mid_posts=1", "mid_in_ground=12 in"}, "label": {"one mid post"}},
	)
	if strings.Contains(page, "will bow about") {
		t.Error("the remedy did not mend it")
	}
	page, _ = s.post("/p/5/undo", url.Values{"stage": {"frame"}})
	has(t, page, "will bow about")
	page, _ = edit(url.Values{"stage": {"frame"}, "keep": {"side-bows"}})
	has(t, page, "Kept as it is")
	page, _ = edit(url.Values{"nudge": {"length:+"}})
	has(t, page, `8' 1/16"`)
	page, _ = s.post("/p/5/redo", url.Values{"stage": {"bed"}})

	// A refused value stays in its field with the reason, and nothing changes.
	before, _ := s.store.Project(t.Context(), 5)
	bad, code := edit(url.Values{"length": {"eight"}})
	if code != http.StatusUnprocessableEntity || field("length", bad) != "eight" {
		t.Errorf("status %d, the field reads %q", code, field("length", bad))
	}
	has(t, bad, "is not a length", "write it like")
	if after, _ := s.store.Project(t.Context(), 5); after.Head != before.Head {
		t.Error("a refused value was saved")
	}
	// A stale window is told, and its value kept.
	bad, code = edit(url.Values{"rev": {"1"}, "soil": {"14 in"}})
	if code != http.StatusConflict || field("soil", bad) != "14 in" {
		t.Errorf("status %d, the field reads %q", code, field("soil", bad))
	}
	has(t, bad, "changed in another window")

	page, _ = edit(url.Values{"stage": {"bill"}, "price:2x8/cedar/10 ft": {"20"}, "was:2x8/cedar/10 ft": {"24.58"}})
	has(t, page, "$120.00") // 6 of them
	has(t, page, "Total")
	for _, stage := range []string{"site", "cuts", "fixings", "ground", "fill", "build", "log"} {
		if page, code := s.get("/p/5/" + stage); code != 200 || !strings.Contains(page, "aria-current=\"page\"") {
			t.Errorf("%s: status %d", stage, code)
		}
	}
	page, _ = s.post("/p/5/tick", url.Values{"tick": {"buy"}, "done": {"yes"}, "next": {"cut"}})
	has(t, page, "1 of", "2. Cut the pieces")
	list, err := s.store.History(t.Context(), 5, 100)
	if err != nil {
		t.Fatal(err)
	}
	page, _ = s.post("/p/5/goto", url.Values{"revision": {fmt.Sprint(list[len(list)-1].ID)}, "stage": {"log"}})
	has(t, page, "started")
}

// Several beds and systems in one project, one cut plan and one bill.
func TestSeveralBeds(t *testing.T) {
	s := newSite(t)
	alone, _ := s.get("/p/2/bill")
	page, code := s.post("/p/2/edit", url.Values{"stage": {"bed"}, "bed": {"b1"}, "beds": {"copy"}})
	has(t, page, "Bed 2", "Take this bed away")
	if code != 200 || !strings.Contains(page, "bed=b2") {
		t.Fatalf("status %d", code)
	}
	page, _ = s.post("/p/2/edit", url.Values{"stage": {"bed"}, "bed": {"b2"}, "system": {"staked"}, "count": {"3"}})
	has(t, page, "Staked frame", "How many of these")
	both, _ := s.get("/p/2/bill")
	if both == alone || !strings.Contains(both, "2x2") || !strings.Contains(both, "2x8") {
		t.Error("the bill does not hold both beds")
	}
	page, _ = s.get("/p/2/build")
	has(t, page, "Bed 2, 3 times")
	page, _ = s.post("/p/2/edit", url.Values{"stage": {"bed"}, "bed": {"b2"}, "beds": {"remove"}})
	if again, _ := s.get("/p/2/bill"); strings.Contains(page, "bed=b2") || strings.Contains(again, "2x2") {
		t.Error("the bed is still there")
	}
	if _, code = s.post("/p/2/edit", url.Values{"stage": {"bed"}, "bed": {"b1"},
		"beds": {"remove"}}); code != http.StatusUnprocessableEntity {
		t.Errorf("the last bed was taken away: %d", code)
	}
	page, _ = s.post("/p/2/undo", url.Values{"stage": {"bed"}, "bed": {"b2"}})
	has(t, page, "Bed 2")
}

func TestProjectList(t *testing.T) {
	s := newSite(t)
	page, _ := s.get("/")
	has(t, page, "Wren's bean bed", "Tobin's salad bed", "1 to look at")
	page, _ = s.post("/p/1/duplicate", nil)
	has(t, page, ", copy")
	page, _ = s.post("/p/1/rename", url.Values{"name": {"Renamed"}})
	has(t, page, "Renamed")
	page, _ = s.post("/p/1/rename", url.Values{"name": {"Renamed"}, "note": {"ask Pim for <stakes>"}})
	has(t, page, "ask Pim for &lt;stakes&gt;", "Renamed")
	if file, _ := s.get("/p/1/files/project.chamfer.json"); !strings.Contains(file, `"note":`) {
		t.Error("the file has no note")
	}
	page, code := s.post("/p/1/rename", url.Values{"name": {strings.Repeat("x", 90)}, "note": {"kept as typed"}})
	has(t, page, "kept as typed")
	if code != 422 {
		t.Errorf("a name of 90 letters: %d", code)
	}
	has(t, page, "too long")
	page, _ = s.post("/p/1/delete", nil)
	has(t, page, "has been deleted", "Bring it back")
	if _, code := s.get("/p/1/bed"); code != http.StatusGone {
		t.Errorf("a deleted project answers %d", code)
	}
	page, _ = s.post("/p/1/restore", nil)
	has(t, page, "Renamed")
	page, code = s.post("/projects", url.Values{"region": {"us"}, "length": {"a mile"}, "width": {"4 ft"}})
	if code != 422 || field("length", page) != "a mile" || field("width", page) != "4 ft" {
		t.Errorf("status %d, %q, %q", code, field("length", page), field("width", page))
	}
}

func TestFiles(t *testing.T) {
	s := newSite(t)
	raw, _ := s.get("/p/2/files/project.chamfer.json")
	page, code := s.upload("x.chamfer.json", []byte(raw))
	if code != 200 {
		t.Fatalf("what was exported is refused: %d", code)
	}
	has(t, page, "Wren's bean bed")
	again, _ := s.get("/p/5/files/project.chamfer.json")
	if again != raw {
		t.Error("export, import, export differ")
	}
	for name, want := range map[string]string{"cut-list.csv": "piece", "shopping-list.csv": "total",
		"drawing-solid.svg": "<style>", "plan.json": `"parts"`} {
		if body, code := s.get("/p/2/files/" + name); code != 200 || !strings.Contains(body, want) {
			t.Errorf("%s: %d", name, code)
		}
	}
	for name, bad := range map[string]string{
		"malformed":    raw[:40],
		"version":      strings.Replace(raw, "chamfer/1", "chamfer/2", 1),
		"out of range": strings.Replace(raw, `"length": "93 in"`, `"length": "93 m"`, 1),
		"too large":    raw + strings.Repeat(" ", 5<<20),
	} {
		page, code := s.upload("x.json", []byte(bad))
		page = strings.Join(strings.Fields(page), " ")
		want := map[bool]int{false: http.StatusUnprocessableEntity,
			true: http.StatusRequestEntityTooLarge}[name == "too large"]
		if code != want || !strings.Contains(page, "That file was not taken") ||
			!strings.Contains(page, "Nothing has been changed") {
			t.Errorf("%s: %d", name, code)
		}
	}
	if list, _ := s.store.List(t.Context(), store.Scope{Household: store.Home}, store.After{}, "", 100); len(list) != 5 {
		t.Errorf("%d projects after refused imports", len(list))
	}
}

func TestHabits(t *testing.T) {
	s := newSite(t)
	form := url.Values{
		"region":    {"us"},
		"kerf":      {"3/32 in"},
		"precision": {"1/8 in"},
		"currency":  {"F"},
		"tax":       {"7.25"},
		"settling":  {"20"},
		"spare":     {"10"},
		"carry":     {"8 ft"},
	}
	page, _ := s.post("/habits", form)
	has(t, page, "Kept.")
	page, _ = s.get("/p/2/bill")
	has(t, page, "F", "tax")
	page, _ = s.get("/p/2/cuts")
	has(t, page, "The truck takes 8'")
	form.Set("kerf", "a bit")
	form.Set("tax", "a lot")
	page, code := s.post("/habits", form)
	if code != 422 || field("kerf", page) != "a bit" || field("tax", page) != "a lot" {
		t.Errorf("status %d, %q, %q", code, field("kerf", page), field("tax", page))
	}
	if page, _ = s.get("/habits"); field("kerf", page) != "3/32 in" {
		t.Errorf("a refused kerf was kept: %q", field("kerf", page))
	}
}

// A bad request is answered with a page and changes nothing; another site's
// form is refused.
func TestBadRequests(t *testing.T) {
	s := newSite(t)
	for path, want := range map[string]int{"/p/99/bed": 404, "/p/x/bed": 404, "/p/1/nowhere": 404, "/nowhere": 404,
		"/p/1/files/nothing": 404,
		"/p/1/bed?view=;drop&hand=%00&bed=zz&since=-5&step=<b>": 200} {
		if page, code := s.get(path); code != want || !strings.Contains(page, "</html>") {
			t.Errorf("%s: %d, want %d", path, code, want)
		}
	}
	for path, form := range map[string]url.Values{
		"/p/1/edit":     {"rev": {"x"}, "set": {"no equals sign", "length"}},
		"/p/1/goto":     {"revision": {"9999"}},
		"/p/1/tick":     {"tick": {strings.Repeat("t", 99)}},
		"/habits":       {"region": {"moon"}},
		"/projects":     {"region": {"moon"}},
		"/p/99/undo":    {},
		"/p/1/edit?big": {"length": {strings.Repeat("9", 300<<10)}},
	} {
		if page, code := s.post(path, form); code < 400 || code >= 500 || !strings.Contains(page, "</html>") {
			t.Errorf("%s: %d", path, code)
		}
	}
	r, _ := http.NewRequest("POST", s.URL+"/p/1/delete", nil)
	r.Header.Set("Sec-Fetch-Site", "cross-site")
	if answer, err := s.Client().Do(r); err != nil || answer.StatusCode != http.StatusForbidden {
		t.Errorf("another site's form: %v, %v", answer, err)
	}
	if list, _ := s.store.List(t.Context(), store.Scope{Household: store.Home}, store.After{}, "", 100); len(list) != 4 {
		t.Errorf("%d projects left", len(list))
	}
	page, err := s.Client().Get(s.URL + "/")
	if err != nil || strings.Contains(page.Header.Get("Content-Security-Policy"), "unsafe") {
		t.Errorf("policy %q, %v", page.Header.Get("Content-Security-Policy"), err)
	}
	body, _ := s.read(page)
	if regexp.MustCompile(`<script[^>]*>[^<]|style="| on[a-z]+="|https?://(www\.)?[a-z]+\.[a-z]{2,}`).
		MatchString(strings.ReplaceAll(body, "http://www.w3.org/", "")) {
		t.Error("a page carries inline script or style, or points off this machine")
	}
}

// The first visit stays under 200 KB transferred, fonts included.
func TestFirstVisitBudget(t *testing.T) {
	s := newSite(t)
	total := 0
	for _, path := range []string{"/p/2/bed", "/static/app.css", "/static/app.js", "/static/mark.svg",
		"/static/fonts/alegreya-sans-400.woff2", "/static/fonts/alegreya-sans-700.woff2"} {
		r, _ := http.NewRequest("GET", s.URL+path, nil)
		r.Header.Set("Accept-Encoding", "gzip")
		answer, err := s.Client().Do(r)
		if err != nil || answer.StatusCode != 200 {
			t.Fatalf("%s: %v", path, err)
		}
		body, _ := s.read(answer)
		if answer.Header.Get("Content-Encoding") == "gzip" {
			if _, err := gzip.NewReader(strings.NewReader(body)); err != nil {
				t.Fatal(err)
			}
		}
		t.Logf("%6d bytes %s", len(body), path)
		total += len(body)
	}
	if total > 200_000 {
		t.Errorf("%d bytes", total)
	}
}

func TestFractions(t *testing.T) {
	in := `<p title="1/2 in">7' 6 1/2" and 13/16</p><svg><text>1/2</text></svg><title>3/4</title><b>and/or 1/ ` +
		`/2</b><input value="b1>a=1/2 in">`
	want := `<p title="1/2 in">7' 6 <span class="fr">1/2</span>" and <span ` +
		`class="fr">13/16</span></p><svg><text>1/2</text></svg><title>3/4</title><b>and/or 1/ /2</b><input ` +
		`value="b1>a=1/2 in">`
	if got := string(fractions([]byte(in))); got != want {
		t.Errorf("%s", got)
	}
}

// An edit on the Frame stage, at the server: plan, every what-if on the page, the
// sizes nearby, drawings, compressed. Every size is new, so nothing has been cut
// before.
func BenchmarkEdit(b *testing.B) {
	for _, c := range []struct{ name, system, wide, path string }{{"boarded", "boarded", "", "/p/2"}, {"tiered",
		"tiered", "16 in", "/p/2"}, {"legged", "legged", "24 in", "/p/2"}, {"six-beds", "", "", "/p/3"},
		{"layer", "boarded", "", "/p/2"}} {
		b.Run(c.name, func(b *testing.B) {
			s := newSite(b)
			stage := "frame"
			send := func(form url.Values) {
				form.Set("stage", stage)
				id, _ := strconv.ParseInt(strings.TrimPrefix(c.path, "/p/"), 10, 64)
				form.Set("rev", strconv.FormatInt(s.head(id).Head, 10))
				r, _ := http.NewRequest("POST", s.URL+c.path+"/edit", strings.NewReader(form.Encode()))
				r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
				r.Header.Set("X-Chamfer", "part")
				answer, err := s.Client().Do(r)
				if err != nil || answer.StatusCode != 200 {
					b.Fatalf("%v %v", answer, err)
				}
				if _, err := io.Copy(io.Discard, answer.Body); err != nil {
					b.Fatal(err)
				}
				answer.Body.Close()
			}
			if c.system != "" {
				send(url.Values{"system": {c.system}})
				if c.wide != "" { // as large as one usually is
					send(url.Values{"soil": {"9 in"}})
					send(url.Values{"width": {c.wide}})
					send(url.Values{"length": {"48 in"}})
				}
			}
			if c.name == "layer" {
				stage = "fill"
				send(url.Values{"soil": {"30 in"}, "filling": {"branches: 12 in; mix"}})
			}
			b.ResetTimer()
			for i := range b.N {
				if c.name == "layer" {
					send(url.Values{"layer:0": {fmt.Sprintf("depth %d mm", 200+i%97)}})
					continue
				}
				send(url.Values{"length": {fmt.Sprintf("%d/16 in", 1200+i%400)}})
			}
		})
	}
}

// The shed and the saw by plain forms: boards are put in and used, a length is not
// there today, boards are taken down as cut, an old page is told so, and what the
// job leaves goes into the shed once.
func TestShedAndSawForms(t *testing.T) {
	s := newSite(t)
	page, code := s.post(
		"/p/2/shed",
		url.Values{"leftover": {"2 of 2x8 cedar 62 in; 1 of 4x4 cedar 30 in, one cracked end"}},
	)
	has(t, page, "2 × 2x8, Western cedar, 62 in", "one cracked end", "from the shed")
	if code != 200 {
		t.Fatalf("status %d", code)
	}
	page, code = s.post("/p/2/shed", url.Values{"leftover": {"a plank <b>"}})
	if code != 422 || field("leftover", page) != "a plank &lt;b&gt;" || strings.Contains(page, "plank <b>") {
		t.Errorf("status %d, the field reads %q", code, field("leftover", page))
	}
	has(t, page, "names no board", "write it like")
	page, _ = s.get("/p/2/bill")
	has(t, page, "yours")

	page, _ = s.post("/p/2/edit", url.Values{"stage": {"cuts"}, "set": {">without:2x8/cedar/10 ft=yes"}})
	has(t, page, "is there again")
	if strings.Contains(page, "× 10'") {
		t.Error("boards of 10 ft are bought, and are not there")
	}
	page, _ = s.post("/p/2/undo", url.Values{"stage": {"cuts"}})
	old := field("rev", page)
	page, code = s.post(
		"/p/2/saw",
		url.Values{"rev": {old}, "group": {"0"}, "board": {"0"}, "n": {"1"}, "times": {"2"}},
	)
	has(t, page, "At the saw already", "board 1, 10'", "board 2, 10'", "✓ 100 in")
	if code != 200 {
		t.Errorf("status %d", code)
	}
	page, code = s.post("/p/2/saw", url.Values{"rev": {old}, "group": {"0"}, "board": {"0"}, "n": {"1"}})
	if code != http.StatusConflict || strings.Contains(page, "board 3, 10'") {
		t.Errorf("an old page: status %d", code)
	}
	for _, bad := range []url.Values{{"group": {"9"}, "board": {"0"}, "n": {"1"}}, {"group": {"0"}, "board": {"-1"},
		"n": {"1"}}, {"group": {"x"}}, {}} {
		if _, code := s.post("/p/2/saw", bad); code != http.StatusBadRequest {
			t.Errorf("%v: status %d", bad, code)
		}
	}
	page, _ = s.post("/p/2/away", nil)
	has(t, page, "What this job left is in the shed.")
	first, err := s.store.Shed(t.Context(), store.Home, "us")
	if err != nil || len(first) == 0 {
		t.Fatalf("%+v, %v", first, err)
	}
	s.post("/p/2/away", nil)
	if again, _ := s.store.Shed(t.Context(), store.Home, "us"); len(again) != len(first) || again[0] != first[0] {
		t.Errorf("put away twice: %+v after %+v", again, first)
	}
}

// A shop that cuts is a habit of the workshop.
func TestShopHabits(t *testing.T) {
	s := newSite(t)
	form := url.Values{
		"region":    {"us"},
		"kerf":      {"1/8 in"},
		"precision": {"1/16 in"},
		"currency":  {"$"},
		"tax":       {"0"},
		"settling":  {"15"},
		"spare":     {"5"},
		"carry":     {"9 ft"},
		"shop_cuts": {"yes"},
		"shop_free": {"1"},
		"shop_fee":  {"2.50"},
		"after":     {"setups"},
	}
	page, code := s.post("/habits", form)
	has(t, page, "Kept.")
	if code != 200 || field("shop_fee", page) != "2.50" || field("shop_free", page) != "1" {
		t.Errorf("status %d, %q, %q", code, field("shop_fee", page), field("shop_free", page))
	}
	if !strings.Contains(page, "<option selected>setups</option>") {
		t.Error("what is looked for is not kept")
	}
	form.Set("shop_fee", "a lot")
	if page, code = s.post("/habits", form); code != 422 || field("shop_fee", page) != "a lot" {
		t.Errorf("status %d, %q", code, field("shop_fee", page))
	}
}
