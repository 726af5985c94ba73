package web

import (
	"fmt"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/draw"
	"chamfer/long"
	"chamfer/store"
)

// Every page shows every system alone, and every two of them together, in both regions;
// a tenth of the pairs where tests are not run whole.
func TestPagesOfAllSystems(t *testing.T) {
	f := &fuzzed{}
	f.fresh(t, t.TempDir())
	t.Cleanup(func() { f.store.Close() })
	shows := func(d design.Design, pages ...string) {
		t.Helper()
		id, err := f.store.Create(store.Home, d, "started", store.Kept{})
		if err != nil {
			t.Fatal(err)
		}
		for _, page := range pages {
			if code, body := f.get(t, fmt.Sprintf("/p/%d/%s", id, page)); code != http.StatusOK ||
				strings.Contains(body, "%!") {
				t.Errorf("%s %s, %s: status %d", d.Region, d.Name, page, code)
			}
		}
		if code, body := f.get(t, "/"); code != http.StatusOK ||
			!strings.Contains(body, fmt.Sprintf("/p/%d/bed", id)) ||
			strings.Contains(body, "Go back to the last good") {
			t.Errorf("%s %s: the list has status %d", d.Region, d.Name, code)
		}
		if code, _ := f.post(t, fmt.Sprintf("/p/%d/delete", id), nil); code != http.StatusSeeOther {
			t.Fatalf("delete: status %d", code)
		}
	}
	var all, some []string
	for _, st := range stages {
		all = append(all, st.Key)
	}
	for _, v := range draw.Views {
		all = append(all, "frame?view="+string(v.View), "files/drawing-"+string(v.View)+".svg")
	}
	all = append(
		all,
		"set-out",
		"decisions?q=cap",
		"cautions",
		"turned?turn=40",
		"text",
		"files/project.chamfer.json",
		"files/plan.json",
		"files/cut-list.csv",
		"files/shopping-list.csv",
		"files/plot.svg",
		"frame?view=apart&acts=3",
		"bed?hand=soil",
		"drag/preview?field=length&mm=40",
	)
	some = []string{
		"site",
		"site?bed=b2",
		"bed?bed=b2",
		"cuts",
		"fixings?bed=b2",
		"ground",
		"fill?bed=b2",
		"bill",
		"build",
		"set-out?bed=b2",
		"cautions",
		"files/plot.svg",
		"files/plan.json",
	}
	pairs, n := 0, 0
	for _, cat := range catalog.Regions() {
		for i, a := range design.Systems() {
			d, err := design.Apply(design.New(cat, a.Name), cat, design.Edit{Bed: "b1", Field: "system", Value: a.Name})
			if err != nil {
				t.Fatal(err)
			}
			switch {
			case long.Whole(), i%4 == 0 && cat.ID == "us", i%4 == 2 && cat.ID == "metric":
				shows(d, all...)
			case i%4 == 1 && cat.ID == "us", i%4 == 3 && cat.ID == "metric":
				shows(d, some...)
			}
			for _, b := range design.Systems()[i:] {
				if n++; !long.Whole() && n%50 != 0 {
					continue
				}
				both, err := design.Apply(
					d,
					cat,
					design.Edit{Field: "add-bed", Value: b.Name},
					design.Edit{Field: "name", Value: a.Name + " and " + b.Name},
				)
				if err != nil {
					t.Fatal(err)
				}
				pairs++
				shows(both, some...)
			}
		}
	}
	if systems := len(design.Systems()); n != systems*(systems+1) {
		t.Errorf("%d pairs of %d systems in two regions", n, systems)
	}
	t.Logf("%d pairs", pairs)
}

// HEAD is answered like GET without a body, a wrong method says which there are, folders
// are not listed, and what every browser and every watcher asks for is there.
func TestMethods(t *testing.T) {
	s := newSite(t)
	for _, path := range []string{"/", "/p/1/bed", "/p/99/bed", "/static/app.css", "/static/", "/health", "/nowhere",
		"/p/1/files/plot.svg"} {
		get, err := s.Client().Get(s.URL + path)
		if err != nil {
			t.Fatal(err)
		}
		body, _ := s.read(get)
		head, err := s.Client().Head(s.URL + path)
		if err != nil {
			t.Fatal(err)
		}
		if empty, _ := s.read(head); head.StatusCode != get.StatusCode ||
			head.Header.Get("Content-Type") != get.Header.Get("Content-Type") ||
			empty != "" ||
			body == "" {
			t.Errorf(
				"%s: GET %d %s, HEAD %d %s and %d bytes",
				path,
				get.StatusCode,
				get.Header.Get("Content-Type"),
				head.StatusCode,
				head.Header.Get("Content-Type"),
				len(empty),
			)
		}
	}
	for path, want := range map[string]int{"/static/": 404, "/static/fonts": 404, "/static/fonts/": 404,
		"/static/../server.go": 404, "/favicon.ico": 200, "/robots.txt": 200, "/health": 200} {
		if body, code := s.get(path); code != want || strings.Contains(body, "<pre>") {
			t.Errorf("%s: %d", path, code)
		}
	}
	for path, allow := range map[string]string{"/p/1/edit": "POST", "/p/1/undo": "POST", "/p/1/longer": "POST",
		"/p/1/bed": "GET", "/projects": "POST", "/": "GET"} {
		method := map[string]string{"POST": "GET", "GET": "POST"}[allow]
		r, err := http.NewRequest(method, s.URL+path, nil)
		if err != nil {
			t.Fatal(err)
		}
		a, err := s.Client().Do(r)
		if err != nil {
			t.Fatal(err)
		}
		if page, code := s.read(a); code != http.StatusMethodNotAllowed ||
			!strings.Contains(a.Header.Get("Allow"), allow) ||
			!strings.Contains(page, "It takes ") {
			t.Errorf("%s %s: %d, allowed is %q", method, path, code, a.Header.Get("Allow"))
		}
	}
}

// Only hosts that were told are answered, and only proxies that were named may pass
// requests on; nothing is done for the others.
func TestDoor(t *testing.T) {
	s := newSite(t)
	d := Door{Hosts: []string{"beds.example"}}
	for host, want := range map[string]bool{
		"localhost": true, "localhost:8420": true, "LOCALHOST.": true, "127.0.0.1:99": true, "127.8.9.1": true,
		"[::1]:8420": true, "::1": true, "[::ffff:127.0.0.1]": true,
		"beds.example": true, "Beds.Example:80": true,
		"": false, "evil.example": false, "evil.example:8420": false, "localhost.evil.example": false,
		"127.0.0.1.evil.example": false, "10.0.0.7": false, "0.0.0.0": false,
		"[::]": false, "localhost@evil.example": false, "1": false,
	} {
		if d.Answers(host) != want {
			t.Errorf("%q is answered: %v", host, !want)
		}
	}
	ask := func(method, path, host string, header http.Header) int {
		r := httptest.NewRequest(method, s.URL+path, strings.NewReader(url.Values{"rev": {"1"}}.Encode()))
		r.RequestURI, r.Host = "", host
		r.Header = header.Clone()
		if r.Header == nil {
			r.Header = http.Header{}
		}
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		r.Header.Set("Accept-Encoding", "identity")
		a, err := s.Client().Do(r)
		if err != nil {
			t.Fatal(err)
		}
		_, code := s.read(a)
		return code
	}
	for _, path := range []string{"/", "/p/1/bed", "/p/1/files/project.chamfer.json", "/static/app.css", "/health"} {
		if code := ask("GET", path, "evil.example", nil); code != http.StatusMisdirectedRequest {
			t.Errorf("%s for another name: %d", path, code)
		}
		for _, h := range passedOn {
			said := http.Header{http.CanonicalHeaderKey(h): {"1.2.3.4"}}
			if code := ask("GET", path, "localhost", said); code != http.StatusForbidden {
				t.Errorf("%s passed on with %s: %d", path, h, code)
			}
		}
	}
	if code := ask("POST", "/p/1/delete", "evil.example", nil); code != http.StatusMisdirectedRequest {
		t.Errorf("delete for another name: %d", code)
	}
	if p, err := s.store.Standing(t.Context(), 1); err != nil || p.Deleted != nil {
		t.Error("it was deleted all the same")
	}
	if code := ask("POST", "/p/1/delete", "localhost", http.Header{"Origin": {"http://evil.example"},
		"Sec-Fetch-Site": {"cross-site"}}); code != http.StatusForbidden {
		t.Errorf("delete from another site: %d", code)
	}
	if page, _ := s.get("/"); strings.Contains(page, "Open to this network") {
		t.Error("loopback pages say they are open to the network")
	}
}

// Whatever an address asks for, it is answered: every page with every one of its words
// missing, foreign, huge or broken.
func TestAddresses(t *testing.T) {
	f := &fuzzed{}
	f.fresh(t, t.TempDir())
	t.Cleanup(func() { f.store.Close() })
	cat := catalog.Regions()[0]
	d, err := design.Apply(
		design.New(cat, "asked for"),
		cat,
		design.Edit{Field: "add-bed", Value: "ring"},
		design.Edit{Field: "add-bed", Value: "legged"},
	)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := f.store.Create(store.Home, d, "started", store.Kept{}); err != nil {
		t.Fatal(err)
	}
	pages := []string{
		"/",
		"/deleted", "/copies",
		"/habits",
		"/p/1",
		"/p/1/set-out",
		"/p/1/cautions",
		"/p/1/turned",
		"/p/1/drag/preview",
		"/p/1/text",
		"/p/1/files/plan.json",
		"/p/1/files/plot.svg",
		"/p/1/files/drawing-solid.svg",
		"/p/1/files/drawing-x.svg",
		"/p/1/files/x",
		"/p/x/bed",
		"/p/99/bed",
		"/p/-1/bed",
		"/p/9999999999999999999/bed",
	}
	for _, st := range stages {
		pages = append(pages, "/p/1/"+st.Key)
	}
	values := []string{
		"",
		"x",
		"-1",
		"99999999999999999999",
		"b2",
		"b9",
		"apart",
		"solid",
		"NaN",
		"1e309",
		"%00",
		"%ff",
		"%3Cscript%3E",
		strings.Repeat("9", 5000),
		"2026-01-01,1",
		"b1.side.1",
	}
	words := []string{
		"bed",
		"view",
		"hand",
		"step",
		"part",
		"acts",
		"turn",
		"tilt",
		"since",
		"field",
		"mm",
		"wide",
		"after",
		"find",
		"deleted",
		"rename",
		"kept",
	}
	n := 0
	for _, page := range pages {
		for i, word := range words {
			for k, value := range values {
				if n++; !long.Whole() && n%10 != 0 {
					continue
				}
				query := word + "=" + value
				if word == "mm" {
					query += "&field=length"
				}
				if word == "hand" || word == "part" { // with another view
					query += "&view=" + []string{"above", "front", "end", "solid", "apart"}[(i+k)%5]
				}
				f.get(t, page+"?"+query)
			}
		}
	}
	if f.faults.Len() > 0 {
		t.Errorf("logged: %s", f.faults)
	}
}
