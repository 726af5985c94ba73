package web

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"html"
	"io"
	"log/slog"
	"net"
	"net/http"
	"net/http/httptest"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/gin-gonic/gin"

	"chamfer/core/aside"
	"chamfer/core/design"
	"chamfer/core/plan"
	"chamfer/store"
)

// Forms that are too large, of another kind, or broken are refused by name, and nothing
// of them is done.
func TestForms(t *testing.T) {
	s := newSite(t)
	s.post("/p/2/edit", url.Values{"bed": {"b1"}, "stage": {"bed"}, "soil": {"14 in"}})
	was := s.head(2)
	large := strings.Repeat("2x4 cedar 40 in;", 25_000)
	rev := fmt.Sprint(was.Head)
	for _, c := range []struct {
		path, kind, body string
		want             int
	}{
		{"/p/2/shed", "application/x-www-form-urlencoded", url.Values{"leftover": {large}}.Encode(),
			http.StatusRequestEntityTooLarge},
		{"/p/2/undo", "application/x-www-form-urlencoded", url.Values{"rev": {rev}, "x": {large}}.Encode(),
			http.StatusRequestEntityTooLarge},
		{"/p/2/undo", "application/x-www-form-urlencoded", "rev=" + rev + "&x=%zz", http.StatusBadRequest},
		{"/p/2/undo", "application/json", `{"rev":` + rev + `}`, http.StatusBadRequest},
		{"/p/2/undo", "", "rev=" + rev, http.StatusBadRequest},
		{"/p/2/undo", "multipart/form-data; boundary=x", "--x\r\nbroken", http.StatusBadRequest},
		{"/p/2/delete", "application/x-www-form-urlencoded", "a=%", http.StatusBadRequest},
		{"/habits", "application/x-www-form-urlencoded", url.Values{"region": {"us"}, "kerf": {large}}.Encode(),
			http.StatusRequestEntityTooLarge},
		{"/projects", "application/x-www-form-urlencoded", url.Values{"region": {"us"}, "name": {large}}.Encode(),
			http.StatusRequestEntityTooLarge},
	} {
		r, err := http.NewRequest("POST", s.URL+c.path, strings.NewReader(c.body))
		if err != nil {
			t.Fatal(err)
		}
		if c.kind != "" {
			r.Header.Set("Content-Type", c.kind)
		}
		a, err := s.Client().Do(r)
		if err != nil {
			t.Fatal(err)
		}
		if page, code := s.read(a); code != c.want || !strings.Contains(page, "Nothing was changed") {
			t.Errorf("%s %s of %d bytes: status %d", c.path, c.kind, len(c.body), code)
		}
	}
	if now := s.head(2); now.Head != was.Head || now.Deleted != nil {
		t.Error("something was done all the same")
	}
	if shed, _ := s.store.Shed(t.Context(), store.Home, "us"); len(shed) > 0 {
		t.Errorf("%d boards were put in the shed", len(shed))
	}
}

// A body that ends too early is not acted on.
func TestHalfBody(t *testing.T) {
	s := newSite(t)
	conn, err := net.Dial("tcp", strings.TrimPrefix(s.URL, "http://"))
	if err != nil {
		t.Fatal(err)
	}
	defer conn.Close()
	rev := s.head(2).Head
	fmt.Fprintf(
		conn,
		"POST /p/2/undo HTTP/1.1\r\nHost: localhost\r\nContent-Type:"+
			" application/x-www-form-urlencoded\r\nContent-Length: 40\r\n\r\nrev=%d",
		rev,
	)
	if err := conn.(*net.TCPConn).CloseWrite(); err != nil { // the rest will not come
		t.Fatal(err)
	}
	reply, err := io.ReadAll(conn)
	if err != nil || !bytes.Contains(reply, []byte(" 400 ")) && !bytes.Contains(reply, []byte(" 408 ")) {
		t.Errorf("%v: %.200s", err, reply)
	}
	if s.head(2).Head != rev {
		t.Error("half a form was acted on")
	}
}

// A panic costs one answer, is logged with where it was, and its page says that nothing
// has been lost.
func TestPanic(t *testing.T) {
	var logged bytes.Buffer
	site := newSite(t)
	srv := &Server{store: site.store, log: slog.New(slog.NewTextHandler(&logged, nil)), door: Door{Network: true}}
	var err error
	if srv.pages, err = parsePages(files); err != nil {
		t.Fatal(err)
	}
	r := gin.New()
	r.Use(srv.recovered)
	r.GET("/panic", func(*gin.Context) { panic("nobody foresaw it") })
	r.GET("/aside", func(*gin.Context) {
		for _, fault := range aside.Do(1, func(int) { panic("nor that") }) {
			panic(fault)
		}
	})
	f := &fuzzed{handler: r}
	for path, reason := range map[string]string{"/panic": "nobody foresaw it", "/aside": "nor that"} {
		w := httptest.NewRecorder()
		f.handler.ServeHTTP(w, httptest.NewRequest("GET", path, nil))
		if page := w.Body.String(); w.Code != 500 || !strings.Contains(page, "Nothing has been lost") ||
			!strings.Contains(page, `href="/"`) ||
			!strings.Contains(page, "Open to this network") {
			t.Errorf("%s: status %d\n%s", path, w.Code, page)
		}
		if !strings.Contains(logged.String(), reason) || !strings.Contains(logged.String(), "forms_test.go") {
			t.Errorf("%s: the log has no stack: %s", path, &logged)
		}
	}
	// Planning that panics refuses the edit, and one what-if is one answer.
	shop, err := plan.ShopFor("us")
	if err != nil {
		t.Fatal(err)
	}
	d := design.New(shop.Catalog, "one")
	broken := shop
	broken.Catalog = nil
	var fault *aside.Fault
	if _, _, err := srv.admit(d, broken); !errors.As(err, &fault) {
		t.Errorf("planning without a catalogue: %v", err)
	}
	pl, err := plan.Make(d, shop)
	if err != nil {
		t.Fatal(err)
	}
	pl.Frames = nil // so that what builds on them fails
	pl.Shop.Catalog = nil
	if o := plan.WhatIfs(context.Background(), pl, [][]design.Edit{{{Bed: "b1", Field: "soil",
		Value: "9 in"}}})[0]; !errors.As(
		o.Err,
		&fault,
	) {
		t.Errorf("a what-if without a catalogue: %v", o.Err)
	}
}

// Prices with the currency's sign are taken; what is no price stays in its field with
// the reason.
func TestPrices(t *testing.T) {
	s := newSite(t)
	price := func(value string) (string, int) {
		return s.post(
			"/p/2/edit",
			url.Values{
				"bed":                   {"b1"},
				"stage":                 {"bill"},
				"price:2x8/cedar/10 ft": {value},
				"was:2x8/cedar/10 ft":   {"24.58"},
			},
		)
	}
	for _, value := range []string{"$12.50", "12.50", " 12,50 $"} {
		s.post(
			"/p/2/edit",
			url.Values{"bed": {"b1"}, "stage": {"bill"}, "price:2x8/cedar/10 ft": {""}, "was:2x8/cedar/10 ft": {"x"}},
		)
		if _, code := price(value); code != 200 {
			t.Errorf("%q: status %d", value, code)
		}
		if p, _ := s.store.Project(t.Context(), 2); p.Design.Prices["2x8/cedar/10 ft"] != 1250 {
			t.Errorf("%q is %v", value, p.Design.Prices)
		}
	}
	for _, value := range []string{"abc", "-3", "1,250", "1e3"} {
		page, code := price(value)
		if code != http.StatusUnprocessableEntity || field("price:2x8/cedar/10 ft", page) != value ||
			!strings.Contains(page, `id="price-err-2x8/cedar/10 ft"`) {
			t.Errorf("%q: status %d, the field has %q", value, code, field("price:2x8/cedar/10 ft", page))
		}
	}
	if page, code := s.post("/p/2/edit", url.Values{"bed": {"b1"}, "stage": {"bill"},
		"price:moonstone": {"3"}}); code != http.StatusUnprocessableEntity ||
		!strings.Contains(page, "Nothing with this number is sold") {
		t.Errorf("a price of nothing: status %d", code)
	}
}

// Undo and redo are from the revision that is shown, and edits say theirs; another
// window's work is not taken back unseen.
func TestRevisionsOfForms(t *testing.T) {
	s := newSite(t)
	shown := s.head(2).Head
	s.post("/p/2/edit", url.Values{"bed": {"b1"}, "stage": {"bed"}, "soil": {"14 in"}}) // the other window
	now := s.head(2).Head
	stale := fmt.Sprint(shown)
	for path, form := range map[string]url.Values{
		"undo": {"rev": {stale}}, "redo": {"rev": {stale}}, "goto": {"rev": {stale}, "revision": {stale}},
		"mend":   {"rev": {stale}},
		"rename": {"rev": {stale}, "name": {"Other"}}, "edit": {"rev": {stale}, "bed": {"b1"}, "soil": {"15 in"}},
	} {
		page, code := s.post("/p/2/"+path, form)
		if code != http.StatusConflict || s.head(2).Head != now ||
			!strings.Contains(page, "changed in another window") {
			t.Errorf("%s of an older revision: status %d", path, code)
		}
	}
	for _, path := range []string{"undo", "redo", "goto", "mend", "rename", "edit", "saw"} {
		for _, rev := range []string{"", "x", "-1"} {
			page, code := s.post(
				"/p/2/"+path,
				url.Values{"rev": {rev}, "bed": {"b1"}, "soil": {"15 in"}, "name": {"Other"}, "revision": {stale}},
			)
			if code != http.StatusBadRequest || s.head(2).Head != now || !strings.Contains(page, "which revision") {
				t.Errorf("%s of revision %q: status %d", path, rev, code)
			}
		}
	}
	if page, code := s.post("/p/2/goto", url.Values{"revision": {"99999"}}); code != http.StatusNotFound ||
		!strings.Contains(page, "no such revision") {
		t.Errorf("a revision that is not there: status %d", code)
	}
}

// What is refused stays in its field, and sent again from the page that says so it is
// refused again: it is never taken for a field that was not touched.
func TestRefusedTwice(t *testing.T) {
	s := newSite(t)
	was := regexp.MustCompile(`name="was:([^"]+)"\s+value="([^"]*)"`)
	tried := 0
	for _, stage := range []string{"site", "bed", "frame", "fixings", "bill"} {
		page, _ := s.get("/p/2/" + stage)
		for _, m := range was.FindAllStringSubmatch(page, -1) {
			key := html.UnescapeString(m[1])
			if stage == "bill" && !strings.HasPrefix(key, "have:") {
				key = "price:" + key
			}
			if field(key, page) == "" && !strings.Contains(page, `name="`+m[1]+`"`) || key == "plot:fences" ||
				strings.HasPrefix(key, "plot:passage") {
				continue // boxes and choices: nothing is typed there
			}
			form := url.Values{"bed": {"b1"}, "stage": {stage}, key: {"a few"}, "was:" + m[1]: {m[2]}}
			for range 2 {
				tried++
				answer, code := s.post("/p/2/edit", form)
				if code != http.StatusUnprocessableEntity || field(key, answer) != "a few" {
					t.Errorf("%s, %s: %d, its field says %q", stage, key, code, field(key, answer))
				}
				form.Set("was:"+m[1], field("was:"+m[1], answer))
			}
		}
	}
	if tried < 20 {
		t.Errorf("%d fields tried", tried)
	}
}
