package web

import (
	"bytes"
	"context"
	"flag"
	"fmt"
	"hash/fnv"
	"log/slog"
	"math/rand/v2"
	"mime/multipart"
	"net/http"
	"net/http/httptest"
	"net/url"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/plan"
	"chamfer/export"
	"chamfer/long"
	"chamfer/store"
)

// choices turns bytes into choices, the same ones for the same bytes; past their end it
// always takes the first.
type choices struct{ raw []byte }

func (c *choices) byte() int {
	if len(c.raw) == 0 {
		return 0
	}
	b := c.raw[0]
	c.raw = c.raw[1:]
	return int(b)
}

func (c *choices) of(n int) int { return (c.byte()<<8 | c.byte()) % max(1, n) }

func (c *choices) text() string {
	n := min(c.byte()%24, len(c.raw))
	s := string(c.raw[:n])
	c.raw = c.raw[n:]
	return s
}

func oneOf[T any](c *choices, list []T) T { return list[c.of(len(list))] }

// What is typed into fields: what is accepted somewhere, what lies at its edges, what
// people mistype, and what nobody would.
var typed = []string{
	"",
	"0",
	"1",
	"2",
	"3",
	"5",
	"7",
	"10",
	"20",
	"40",
	"80",
	"100",
	"101",
	"400",
	"401",
	"-1",
	"1e9",
	"1.5",
	"auto",
	"none",
	"0 in",
	"1 in",
	"-3 in",
	"5 in",
	"12 in",
	"14 in",
	"300 mm",
	"299 mm",
	"1 m",
	"4 ft",
	"7'6\"",
	"8'",
	"12 m",
	"12.01 m",
	"6 m",
	"20 ft",
	"39 ft",
	"100 m",
	"101 m",
	"1,000 mm",
	"2,4 m",
	"½",
	"0.0001 mm",
	"50 mm",
	"1500 mm",
	"1/0",
	"mitred",
	"butted",
	"yes",
	"no",
	"cedar",
	"2x8",
	"2x6",
	"2x4",
	"4x4",
	"150x38",
	"200x50",
	"larch",
	"free",
	"turn",
	"0;0",
	"1 m;1 m",
	"99 m;99 m",
	"0 in; 2 in; 34 in; 30 in",
	"half",
	"quarter",
	"straight",
	"stack",
	"deck",
	"slab",
	"gravel",
	"ground",
	"pond",
	"membrane",
	"strips",
	"even",
	"chips",
	"drip",
	"feed; lime: 200 g; castings: 5 l",
	"lime: 1e309 kg",
	"lime: -3 g; lime",
	"branches: 8 in; 3 topsoil + 2 compost: 6 in; mix",
	"3 ft",
	"10 l in 25 s",
	"below",
	"pallets",
	"$12.50",
	"12.50",
	"abc",
	"99999999999",
	"\u200b",
	"\u2800\u2800",
	"a\x00b",
	"\xff\xfe",
	"<script>",
	"%s%d",
	"north",
	"359",
	"360",
	strings.Repeat("9", 300),
	strings.Repeat("é", 90),
	"2 of 2x6 cedar 41 in, one cracked end",
	"3 of 150x38 larch 1050 mm",
	"1000 of 2x8 cedar 96 in",
	"Stone 12 in x 8 in x 4 in",
	"Stone 300 mm x 200 mm x 100 mm, joint 10 mm",
	`[{"profile":"2x8","species":"cedar","sku":"x","length":"96 in","left":"10 in","cuts":[{"length":"48 in"}]}]`,
	`[{"at":0,"left":"0 in"}]`,
	`[{}]`,
	`{`,
	"side-bows",
	"side-bows: it may",
	"++",
	"+",
	"-",
	"--",
}

// forms fuzzes one server after another: each serves a while, so that files stay small.
type fuzzed struct {
	mu      sync.Mutex
	handler http.Handler
	store   *store.Store
	faults  *bytes.Buffer // what was logged of panics
	used    int
}

func (f *fuzzed) fresh(t *testing.T, dir string) {
	if f.handler != nil && f.used < 100 {
		f.used++
		return
	}
	if f.store != nil {
		f.store.Close()
	}
	f.used, f.faults = 0, &bytes.Buffer{}
	s, err := store.Open(filepath.Join(dir, fmt.Sprintf("%d.db", len(listOf(dir)))))
	if err != nil {
		t.Fatal(err)
	}
	f.store = s
	log := slog.New(slog.NewTextHandler(f.faults, &slog.HandlerOptions{Level: slog.LevelError}))
	if f.handler, err = New(s, log, Door{}); err != nil {
		t.Fatal(err)
	}
}

func listOf(dir string) []string {
	list, _ := filepath.Glob(filepath.Join(dir, "*.db"))
	return list
}

// send posts a form, or gets a page, and holds the answer to what holds for all: no
// fault, whatever was sent.
func (f *fuzzed) send(t *testing.T, method, path, kind string, body []byte) (int, string) {
	t.Helper()
	r := httptest.NewRequestWithContext(context.Background(), method, "http://localhost"+path, bytes.NewReader(body))
	if kind != "" {
		r.Header.Set("Content-Type", kind)
	}
	w := httptest.NewRecorder()
	f.handler.ServeHTTP(w, r)
	if w.Code >= 500 {
		t.Fatalf("%s %s %q: status %d\n%s", method, path, body, w.Code, f.faults)
	}
	return w.Code, w.Body.String()
}

func (f *fuzzed) get(t *testing.T, path string) (int, string) { return f.send(t, "GET", path, "", nil) }

func (f *fuzzed) post(t *testing.T, path string, form url.Values) (int, string) {
	return f.send(t, "POST", path, "application/x-www-form-urlencoded", []byte(form.Encode()))
}

// FuzzForms sends random forms to a project of one system or two, and then opens it,
// takes back what was done, exports it, and plans the export: whatever was accepted can
// be opened, undone and exported.
func FuzzForms(f *testing.F) {
	n := len(design.Systems())
	for i := range n {
		for _, region := range []byte{0, 1} {
			raw := []byte{region, byte(i), byte((i*7 + 3) % (n + 1))}
			for r := rand.New(rand.NewPCG(uint64(i), uint64(region))); len(raw) < 160; {
				raw = append(raw, byte(r.Uint32()))
			}
			f.Add(raw)
		}
	}
	server, dir := &fuzzed{}, f.TempDir()
	f.Cleanup(func() {
		if server.store != nil {
			server.store.Close()
		}
	})
	f.Fuzz(func(t *testing.T, raw []byte) {
		if sum := fnv.New32a(); !long.Whole() && !fuzzing() { // of the corpus, a fixed twentieth
			sum.Write(raw)
			if sum.Sum32()%20 != 0 {
				t.Skip("runs with make long")
			}
		}
		server.mu.Lock()
		defer server.mu.Unlock()
		server.fresh(t, dir)
		c := &choices{raw}
		id := server.begin(t, c)
		for range 6 {
			server.form(t, c, id)
			if len(c.raw) == 0 {
				break
			}
		}
		server.holds(t, c, id)
	})
}

// fuzzing reports whether "go test -fuzz" runs, or one of its workers.
func fuzzing() bool {
	f := flag.Lookup("test.fuzz")
	return f != nil && f.Value.String() != ""
}

// begin makes a project of one bed or two.
func (f *fuzzed) begin(t *testing.T, c *choices) int64 {
	cat := catalog.Regions()[c.byte()%2]
	systems := design.Systems()
	d, err := design.Apply(
		design.New(cat, "fuzzed"),
		cat,
		design.Edit{Bed: "b1", Field: "system", Value: systems[c.byte()%len(systems)].Name},
	)
	if err != nil {
		t.Fatal(err)
	}
	if k := c.byte() % (len(systems) + 1); k < len(systems) {
		if d, err = design.Apply(d, cat, design.Edit{Field: "add-bed", Value: systems[k].Name}); err != nil {
			t.Fatal(err)
		}
	}
	id, err := f.store.Create(store.Home, d, "started", store.Kept{})
	if err != nil {
		t.Fatal(err)
	}
	return id
}

// form sends one form of any kind.
func (f *fuzzed) form(t *testing.T, c *choices, id int64) {
	p, err := f.store.Project(t.Context(), id)
	if err != nil {
		t.Fatal(err)
	}
	form := url.Values{
		"rev":   {fmt.Sprint(p.Head)},
		"stage": {oneOf(c, stages).Key},
		"bed":   {oneOf(c, p.Design.Beds).ID},
	}
	if c.byte()%16 == 0 {
		form.Set("rev", oneOf(c, typed))
	}
	at := fmt.Sprintf("/p/%d/", id)
	switch route := c.byte() % 40; route {
	default:
		f.fill(c, form, &p.Design)
		f.post(t, at+"edit", form)
	case 20:
		f.post(t, at+"undo", form)
	case 21:
		f.post(t, at+"redo", form)
	case 22:
		form.Set("revision", fmt.Sprint(int(p.Head)-c.byte()%4))
		f.post(t, at+"goto", form)
	case 23:
		form.Set("tick", oneOf(c, []string{"buy", "cut", "fill", "b1.ground", "b1.make-up.ends", c.text()}))
		form.Set("done", oneOf(c, []string{"yes", "no"}))
		f.post(t, at+"tick", form)
	case 24, 25:
		for _, key := range []string{"group", "board", "n", "times"} {
			form.Set(key, fmt.Sprint(c.byte()%5-1))
		}
		form.Set("how", oneOf(c, []string{"", "short", "spoil", "x"}))
		f.post(t, at+"saw", form)
	case 26:
		form.Set(oneOf(c, []string{"leftover", "take"}), oneOf(c, typed))
		f.post(t, at+"shed", form)
	case 27:
		f.post(t, at+oneOf(c, []string{"away", "duplicate", "mend"}), form)
	case 28:
		form.Set("name", oneOf(c, append(typed, c.text())))
		f.post(t, at+"rename", form)
	case 29:
		f.post(t, at+"delete", form)
		f.post(t, at+"edit", form)
		f.post(t, at+"restore", form)
	case 30:
		f.others(t, c, form, &p.Design)
	case 31:
		form.Set("group", oneOf(c, typed))
		form.Set("how", oneOf(c, []string{"stop", "watch"}))
		f.post(t, at+"longer", form)
	case 32:
		form.Set("tick", "cart:"+oneOf(c, []string{"2x8/cedar/10 ft", "cardboard", "mix-bag", "deck-10-3-1_2/100", c.text()}))
		form.Set("how", oneOf(c, []string{"", "none", "there", "paid"}))
		for _, key := range []string{"packs", "paid", "at"} {
			form.Set(key, oneOf(c, typed))
		}
		form.Set("done", oneOf(c, []string{"yes", "no"}))
		f.post(t, at+"cart", form)
	case 33:
		form.Set(oneOf(c, []string{"letter", "unit"}), oneOf(c, []string{"A", "B", "F", "cmu8", c.text()}))
		form.Set("step", oneOf(c, []string{"cut", "b1.square", c.text()}))
		f.post(t, at+"spoilt", form)
	case 34:
		for _, key := range []string{"size:what", "size:planned", "size:measured"} {
			form.Set(key, oneOf(c, typed))
		}
		form.Set("step", oneOf(c, []string{"cut", "b1.square", c.text()}))
		f.post(t, at+"differs", form)
	case 35:
		for _, key := range []string{"left:cardboard", "left:mix-bag", "left:deck-10-3-1_2", "sunk:b1", "kerf:cuts",
			"kerf:lost"} {
			form.Set(key, oneOf(c, typed))
		}
		form.Set("key", oneOf(c, []string{"spare", "settling", "kerf", "spoilt", c.text()}))
		f.post(t, at+oneOf(c, []string{"left", "learn"}), form)
	case 36: // what grows
		crops := []string{"carrot", "tomato_indet", "squash_winter_vine", "bean_pole", c.text()}
		switch c.byte() % 9 {
		case 6:
			form.Set("own-crop", oneOf(c, []string{"new", "carrot", "lane", c.text()}))
			form.Set("own-like", oneOf(c, crops))
			for _, key := range []string{"name", "each", "high", "days", "sown", "note"} {
				form.Set("own:"+key, oneOf(c, append(typed, "", "1 ft", "4 to 8", "lane")))
			}
			form.Set("own-instead", oneOf(c, []string{"", "yes"}))
			form.Set("own-gone", oneOf(c, []string{"", "", "yes"}))
		case 7:
			form.Set("crops-csv", oneOf(c, append(typed, "id,name\na,b", "id,name,kind\n\"a")))
		case 8:
			form.Set("patch", fmt.Sprint(c.byte()%4-1))
			form.Set("how", oneOf(c, []string{"rows", "cells"}))
		case 0:
			form.Set("want-crop", oneOf(c, crops))
			form.Set("want-n", oneOf(c, append(typed, "3", "2000", "-1", "25 %", "101%")))
		case 1:
			form.Set("lay", "yes")
			form.Set("laid", "1")
		case 2:
			form.Set("add-crop", oneOf(c, crops))
			for _, key := range []string{"x", "y", "wide", "deep"} {
				form.Set(key, oneOf(c, append(typed, "1 ft", "0 in", "30 in")))
			}
			form.Set("soil", fmt.Sprint(c.byte()%4-1))
		case 3:
			form.Set("patch", fmt.Sprint(c.byte()%5-1))
			form.Set("how", oneOf(c, []string{"", "remove", "keep", "free", "x"}))
			form.Set("way", oneOf(c, []string{"each", "rows", "across", "x"}))
			for _, key := range []string{"soil", "x", "y", "wide", "deep"} {
				form.Set(key, oneOf(c, append(typed, "1 ft", "0")))
			}
		case 4:
			form.Set("shift-patch", fmt.Sprintf("%d:%s;%d", c.byte()%3, oneOf(c, append(typed, "340", "NaN",
				"1e300")), c.byte()*9))
		case 5:
			form.Set(oneOf(c, []string{"grown:season", "grown:0.got", "grown:0.note", "grown:0.drop", "want:carrot",
				"plant:all", "plant:0"}), oneOf(c, append(typed, "2026", "[]", `[{"crop":"carrot"}]`)))
		}
		form.Set("stage", "plants")
		f.post(t, at+"edit", form)
	case 39: // shops, and where it is bought
		skus := []string{"2x8/cedar/8 ft", "cmu8", "mix-bag", "2x8", "", c.text()}
		form.Set("region", oneOf(c, []string{"us", "metric", c.text()}))
		form.Set("how", oneOf(c, []string{"price", "price", "shop", "shop", "drop-shop", "drop-price", "ask", "list",
			"renew", "anywhere", "x"}))
		form.Set("shop", oneOf(c, []string{"0", "1", "2", "3", "99", "-1", c.text()}))
		form.Set("item", oneOf(c, skus))
		form.Set("name", oneOf(c, append(typed, "A", "B", "A;B", "At the yard", "Ä")))
		for _, key := range []string{"price", "left", "seen", "fee", "free", "least", "total"} {
			form.Set(key, oneOf(c, append(typed, "", "2.50", "10", "2027-04-03")))
		}
		for _, key := range []string{"taxed", "brings", "feed"} {
			form.Set(key, oneOf(c, []string{"", "yes"}))
		}
		form.Set("at", oneOf(c, []string{"A", "B", c.text()}))
		switch c.byte() % 5 {
		case 0:
			f.post(t, at+"buy", form)
		case 1:
			f.post(t, at+"quote", form)
		case 2:
			form.Set("set", "b1>sold:"+oneOf(c, skus)+"="+oneOf(c, append(typed, "nowhere", "", "10 at A",
				"10 at A, 2 left; 3 brought by B", "10 at A; 10 at A")))
			f.post(t, at+"edit", form)
		default:
			f.post(t, "/shops", form)
		}
		if code, page := f.get(t, at+"where"); code != http.StatusOK && code != http.StatusUnprocessableEntity {
			t.Fatalf("where it is bought: status %d\n%.2000s", code, page)
		}
		if code, page := f.get(t, "/shops?item="+url.QueryEscape(form.Get("item"))); code != http.StatusOK {
			t.Fatalf("shops: status %d\n%.2000s", code, page)
		}
	case 38: // what is pinned up, and what is sought
		form.Set("revision", oneOf(c, append(typed, "1", "2", "3")))
		form.Set("name", oneOf(c, append(typed, "", "cheap")))
		form.Set("drop", oneOf(c, []string{"", "yes"}))
		f.post(t, at+"pin", form)
	case 37: // the sky
		if c.byte()%2 == 0 {
			form.Set("tall", fmt.Sprint(c.byte()%3-1))
			form.Set("tall-kind", oneOf(c, []string{"house", "tree", "x"}))
			for _, key := range []string{"tall-x", "tall-y", "tall-wide", "tall-deep", "tall-high", "tall-up"} {
				form.Set(key, oneOf(c, append(typed, "-3 ft", "10 ft")))
			}
			form.Set("tall-gone", oneOf(c, []string{"", "", "yes"}))
		} else {
			form.Set("sky:"+oneOf(c, []string{"lat", "lon", "zone", "variation", "last", "first", "fence", "place"}),
				oneOf(c, append(typed, "90", "-89.99", "51 N", "02-29", "12-31", "1;2;3")))
		}
		form.Set("stage", "sun")
		f.post(t, at+"edit", form)
	}
}

// others are the forms that belong to no project: a new one, habits, a file.
func (f *fuzzed) others(t *testing.T, c *choices, form url.Values, d *design.Design) {
	switch c.byte() % 3 {
	case 0:
		for _, key := range []string{"name", "region", "length", "width", "soil", "area", "copy", "say"} {
			form.Set(key, oneOf(c, typed))
		}
		form.Set("region", oneOf(c, []string{"us", "metric", "mars"}))
		form.Set("system", oneOf(c, design.Systems()).Name)
		f.post(t, "/projects", form)
	case 1:
		h := habitFields(catalog.Regions()[0], catalog.Regions()[0].Habits)
		form.Set("region", oneOf(c, []string{"us", "metric", "mars"}))
		for range 2 {
			form.Set(oneOf(c, h).Key, oneOf(c, typed))
		}
		f.post(t, "/habits", form)
	case 2:
		raw, err := d.Encode()
		if err != nil {
			t.Fatal(err)
		}
		if i := c.of(len(raw)); c.byte()%2 == 0 { // something else stands there
			raw = slices.Concat(raw[:i], []byte(oneOf(c, typed)), raw[min(len(raw), i+c.byte()%12):])
		}
		var b bytes.Buffer
		m := multipart.NewWriter(&b)
		w, err := m.CreateFormFile("file", "x.chamfer.json")
		if err == nil {
			_, err = w.Write(raw)
		}
		if err != nil || m.Close() != nil {
			t.Fatal(err)
		}
		f.send(t, "POST", "/import", m.FormDataContentType(), b.Bytes())
	}
}

// fill writes some random fields of an edit.
func (f *fuzzed) fill(c *choices, form url.Values, d *design.Design) {
	cat, err := catalog.ForRegion(d.Region)
	if err != nil {
		return
	}
	bed, err := d.Bed(form.Get("bed"))
	if err != nil {
		return
	}
	for range 1 + c.byte()%3 {
		value := oneOf(c, typed)
		if c.byte()%8 == 0 {
			value = c.text()
		}
		switch c.byte() % 16 {
		default:
			field := oneOf(c, design.FieldsOf(*bed))
			if list := field.Choices(cat, *bed); len(list) > 0 && c.byte()%4 > 0 {
				value = oneOf(c, list).Value
			}
			form.Set(field.Key, value)
		case 9:
			form.Add("set", oneOf(c, design.FieldsOf(*bed)).Key+"="+value)
		case 8:
			form.Set("outside:"+oneOf(c, []string{"length", "width", "soil", "", "x"}), value)
		case 10:
			form.Add(
				"set",
				oneOf(
					c,
					[]string{"b2>", ">", "b9>", ""},
				)+oneOf(
					c,
					[]string{
						"saw",
						"keep",
						"copy-bed",
						"remove-bed",
						"add-bed",
						"place:0",
						"place:99",
						"without:2x8/cedar/10 ft",
						"without:x",
						"name",
						"region",
						"plot:north",
					},
				)+"="+value,
			)
		case 11:
			form.Set(
				oneOf(
					c,
					[]string{
						"plot:width",
						"ground:earth",
						"ground:readings",
						"level:0",
						"r-peg",
						"plot:depth",
						"plot:north",
						"plot:passage",
						"plot:fences",
						"plot:x",
						"measured:2x8:width",
						"measured:150x38:thickness",
						"measured:2x8:x",
						"have:x",
						"have:fabric",
						"have:pond",
						"ground:even",
						"ground:edging",
						"ground:paths",
						"water:flow",
						"calendar:start",
						"calendar:sat",
						"calendar:away",
						"calendar:forecast",
						"calendar:people",
						"calendar:zone",
						"water:head",
						"price:2x8/cedar/10 ft",
						"price:x",
						"price:",
					},
				),
				value,
			)
		case 12:
			form.Set("beds", oneOf(c, []string{"copy", "add", "remove", "x"}))
			form.Set("add-system", oneOf(c, design.Systems()).Name)
		case 13:
			form.Set(oneOf(c, []string{"own-unit", "own-timber"}), value)
		case 14:
			form.Set(
				oneOf(c, []string{"nudge", "drag"}),
				oneOf(
					c,
					design.FieldsOf(*bed),
				).Key+":"+oneOf(
					c,
					[]string{"+", "-", "++", "--", "25", "-300", "1e300", "NaN", value},
				),
			)
		case 15:
			form.Set("stand", oneOf(c, []string{"b1:0", "b2:0", "b1:7", "x"}))
			form.Set(
				oneOf(c, []string{"how", "by", "x", "y"}),
				oneOf(c, append([]string{"turn", "free", "100;100", "-1e9;3", "NaN;0"}, typed...)),
			)
		}
	}
}

// holds checks that a project can be opened, exported, and taken back.
func (f *fuzzed) holds(t *testing.T, c *choices, id int64) {
	t.Helper()
	at := fmt.Sprintf("/p/%d/", id)
	stage := oneOf(c, stages).Key
	for _, path := range []string{at + stage, "/", "/deleted"} {
		if code, page := f.get(t, path); code != http.StatusOK {
			t.Fatalf("%s: status %d\n%.2000s", path, code, page)
		}
	}
	code, raw := f.get(t, at+"files/project.chamfer.json")
	if code != http.StatusOK {
		t.Fatalf("its export: status %d\n%s", code, raw)
	}
	file, err := export.ReadProject([]byte(raw))
	if err != nil {
		t.Fatalf("its export cannot be read: %v\n%s", err, raw)
	}
	shop, err := file.Shop()
	if err != nil {
		t.Fatal(err)
	}
	p, err := plan.Make(file.Design, shop)
	if err != nil {
		t.Fatalf("its export cannot be planned: %v\n%s", err, raw)
	}
	if n := p.Things(); n > plan.MostThings {
		t.Fatalf("%d things were accepted", n)
	}
	for range 3 {
		now, err := f.store.Project(t.Context(), id)
		if err != nil {
			t.Fatal(err)
		}
		if code, page := f.post(t, at+"undo", url.Values{"rev": {fmt.Sprint(now.Head)},
			"stage": {stage}}); code != http.StatusSeeOther {
			t.Fatalf("undo: status %d\n%.2000s", code, page)
		}
	}
	if code, page := f.get(t, at+"bed"); code != http.StatusOK {
		t.Fatalf("after undo: status %d\n%.2000s", code, page)
	}
	if f.faults.Len() > 0 && strings.Contains(f.faults.String(), "panic") {
		t.Fatalf("a panic was recovered:\n%s", f.faults)
	}
}
