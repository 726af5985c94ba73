package web

import (
	"bytes"
	"context"
	"io"
	"log/slog"
	"maps"
	"mime/multipart"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/url"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"chamfer/demo"
	"chamfer/store"
)

// Thousands of pages are opened here: their rules show fewer sizes.
func init() { nearEach = 14 }

// site is a server on this machine with a store of its own.
type site struct {
	*httptest.Server
	store *store.Store
	path  string
	t     testing.TB
	h     *Server
	who   *http.Client // whose requests these are
}

// Client is whoever asks.
func (s *site) Client() *http.Client {
	if s.who != nil {
		return s.who
	}
	return s.Server.Client()
}

// another is the same site from another browser.
func (s *site) another() *site {
	o := *s
	jar, err := cookiejar.New(nil)
	if err != nil {
		s.t.Fatal(err)
	}
	o.who = &http.Client{Transport: s.Server.Client().Transport, Jar: jar}
	return &o
}

func newSite(t testing.TB) *site {
	t.Helper()
	return newSiteBehind(t, Door{})
}

func newSiteBehind(t testing.TB, door Door) *site {
	t.Helper()
	path := filepath.Join(t.TempDir(), "beds.db")
	s, err := store.Open(path)
	if err != nil {
		t.Fatal(err)
	}
	if err := demo.Fill(s); err != nil {
		t.Fatal(err)
	}
	h, err := New(s, slog.New(slog.NewTextHandler(io.Discard, nil)), door)
	if err != nil {
		t.Fatal(err)
	}
	server := httptest.NewServer(h)
	server.Client().Jar, _ = cookiejar.New(nil)
	t.Cleanup(func() {
		h.End()
		server.Close()
		s.Close()
	})
	return &site{Server: server, store: s, path: path, t: t, h: h}
}

var ofProject = regexp.MustCompile(`^/p/(\d+)/`)

// get and post return the page that is shown in the end, and its status.
func (s *site) get(path string) (string, int) {
	s.t.Helper()
	r, err := s.Client().Get(s.URL + path)
	if err != nil {
		s.t.Fatal(err)
	}
	return s.read(r)
}

func (s *site) post(path string, form url.Values) (string, int) {
	s.t.Helper()
	if m := ofProject.FindStringSubmatch(path); m != nil && !form.Has("rev") { // as the page has it
		id, _ := strconv.ParseInt(m[1], 10, 64)
		if p, err := s.store.Standing(context.Background(), id); err == nil {
			form = maps.Clone(form)
			if form == nil {
				form = url.Values{}
			}
			form.Set("rev", strconv.FormatInt(p.Head, 10))
		}
	}
	r, err := s.Client().PostForm(s.URL+path, form)
	if err != nil {
		s.t.Fatal(err)
	}
	return s.read(r)
}

func (s *site) read(r *http.Response) (string, int) {
	s.t.Helper()
	defer r.Body.Close()
	raw, err := io.ReadAll(r.Body)
	if err != nil {
		s.t.Fatal(err)
	}
	return string(raw), r.StatusCode
}

func (s *site) upload(name string, raw []byte) (string, int) {
	s.t.Helper()
	var b bytes.Buffer
	w := multipart.NewWriter(&b)
	f, err := w.CreateFormFile("file", name)
	if err == nil {
		_, err = f.Write(raw)
	}
	if err != nil || w.Close() != nil {
		s.t.Fatal(err)
	}
	r, err := s.Client().Post(s.URL+"/import", w.FormDataContentType(), &b)
	if err != nil {
		s.t.Fatal(err)
	}
	return s.read(r)
}

func has(t *testing.T, page string, words ...string) {
	t.Helper()
	page = strings.Join(strings.Fields(page), " ") // as a reader sees it: a line's end is a space
	plain := regexp.MustCompile(`<[^>]+>`).ReplaceAllString(page, "")
	plain = strings.NewReplacer("&#39;", "'", "&#34;", `"`, "&#43;", "+").Replace(plain)
	for _, w := range words {
		if !strings.Contains(plain, w) && !strings.Contains(page, w) {
			t.Errorf("the page does not say %q", w)
		}
	}
}

func field(name, page string) string {
	m := regexp.MustCompile(`name="` + regexp.QuoteMeta(name) + `"\s+value="([^"]*)"`).FindStringSubmatch(page)
	if m == nil {
		return ""
	}
	return strings.NewReplacer("&#39;", "'", "&#34;", `"`).Replace(m[1])
}
