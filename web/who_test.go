package web

import (
	"crypto/tls"
	"fmt"
	"net/http"
	"net/http/httptest"
	"net/netip"
	"net/url"
	"strings"
	"testing"
	"time"

	"chamfer/core/design"
	"chamfer/people"
	"chamfer/store"
)

// cookie is what a browser holds under a name for the site.
func (s *site) cookie(name string) *http.Cookie {
	s.t.Helper()
	at, err := url.Parse(s.URL)
	if err != nil {
		s.t.Fatal(err)
	}
	for _, c := range s.Client().Jar.Cookies(at) {
		if c.Name == name {
			return c
		}
	}
	return nil
}

// On loopback nothing asks who it is until there is an account; from the next request on everything does.
func TestFirstAccount(t *testing.T) {
	s := newSite(t)
	if _, code := s.get("/p/1/bed"); code != 200 {
		t.Fatalf("status %d", code)
	}
	if s.cookie("chamfer") != nil {
		t.Error("a cookie is set where nobody signs in")
	}
	secret, err := s.store.MakeLink(store.Link{Kind: store.First, Once: true}, time.Hour)
	if err != nil {
		t.Fatal(err)
	}
	bad, code := s.post("/in/"+secret, url.Values{"name": {"Ada"}, "password": {"password1234"},
		"again": {"password1234"}})
	has(t, bad, "first that are tried")
	if code != http.StatusUnprocessableEntity || field("name", bad) != "Ada" || strings.Contains(bad, "password1234") {
		t.Errorf("status %d; the name is lost, or the password comes back", code)
	}
	other := s.another()
	page, code := s.post("/in/"+secret, url.Values{"name": {"Ada"}, "password": {pass}, "again": {pass}})
	has(t, page, "Your beds", "Our household", "The corner by the lane")
	if code != 200 {
		t.Errorf("status %d", code)
	}
	if page, _ := other.get("/p/1/bed"); !strings.Contains(page, `name="to" value="/p/1/bed"`) {
		t.Error("whoever has no account gets in")
	}
	if _, code := other.post("/in/"+secret, url.Values{"name": {"Eve"}, "password": {pass},
		"again": {pass}}); code != 404 {
		t.Errorf("the first link works twice: status %d", code)
	}
	page, _ = other.post("/sign-in", url.Values{"name": {"ada"}, "password": {pass}, "to": {"/p/1/bill?bed=b1"}})
	has(t, page, "Bill")
	for _, to := range []string{"//evil.example/", "https://evil.example/", "/\\evil.example", "javascript:alert(1)",
		"/sign-in?to=/sign-in", "\t//evil.example"} {
		if got := inside(to); got != "/" {
			t.Errorf("after sign-in it goes on to %q", got)
		}
	}
}

// A session that somebody planted is worth nothing once its victim signs in, and one that was read before is not
// after a password is set; a cookie is for this site alone, out of scripts' reach, and over https never sent without.
func TestSessions(t *testing.T) {
	v := newVillage(t)
	one, owner := int64(1), v.ids["owner"]
	planted := v.by(store.Link{Kind: store.Share, Project: &one, By: &owner, Role: people.Reader})
	before := planted.cookie("chamfer").Value
	planted.post("/sign-in", url.Values{"name": {"helper"}, "password": {pass}})
	after := planted.cookie("chamfer").Value
	if before == after {
		t.Error("the session keeps its token through a sign-in")
	}
	ask := func(token string) int {
		r, _ := http.NewRequest(http.MethodGet, v.URL+"/you", nil)
		r.AddCookie(&http.Cookie{Name: "chamfer", Value: token})
		a, err := (&http.Client{CheckRedirect: func(*http.Request, []*http.Request) error {
			return http.ErrUseLastResponse
		}}).Do(r)
		v.must(err)
		a.Body.Close()
		return a.StatusCode
	}
	if ask(after) != 200 || ask(before) != 303 || ask("") != 303 || ask(strings.Repeat("A", 43)) != 303 {
		t.Errorf("%d %d", ask(after), ask(before))
	}
	var kept int
	v.must(v.raw().Get(&kept, "SELECT count(*) FROM sessions WHERE token = ? OR data LIKE ?", after, "%"+after+"%"))
	if kept != 0 {
		t.Error("a session's token is in the file as it is")
	}
	elsewhere := v.as("helper")
	planted.post("/you/password", url.Values{"now": {pass}, "password": {"another kettle of walnut hinges"},
		"again": {"another kettle of walnut hinges"}})
	if ask(after) != 303 || ask(planted.cookie("chamfer").Value) != 200 {
		t.Error("the token stays the same through a new password")
	}
	if _, away := elsewhere.turnedAway("GET", "/you", nil); !away {
		t.Error("elsewhere it is signed in still")
	}
	token := planted.cookie("chamfer").Value
	planted.post("/sign-out", nil)
	if ask(token) != 303 {
		t.Error("a session holds after its sign-out")
	}

	secure := httptest.NewTLSServer(v.h)
	defer secure.Close()
	client := secure.Client()
	client.CheckRedirect = func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }
	a, err := client.PostForm(secure.URL+"/sign-in", url.Values{"name": {"reader"}, "password": {pass}})
	v.must(err)
	a.Body.Close()
	names := map[string]bool{}
	for _, c := range a.Cookies() {
		names[c.Name] = true
		if !c.Secure || !c.HttpOnly || c.SameSite != http.SameSiteLaxMode || c.Path != "/" || c.Domain != "" {
			t.Errorf("the cookie %s is %+v", c.Name, c)
		}
	}
	if !names["__Host-chamfer"] || !names[deviceCookie] {
		t.Errorf("cookies %v", names)
	}
	_ = tls.VersionTLS13
}

// Floods of sign-ins, from one place and from everywhere, lock nobody out who has been here before; whoever floods
// waits, and what they learn of a name that is there is what they learn of one that is not.
func TestFlood(t *testing.T) {
	v := newVillage(t)
	known := v.as("owner")
	known.post("/sign-out", nil)
	flood := v.another()
	var first [2]string
	for i := range 25 {
		for k, name := range []string{"owner", "nobody of that name"} {
			page, code := flood.post("/sign-in", url.Values{"name": {name}, "password": {fmt.Sprint("a wrong password ", i)}})
			if i == 0 {
				first[k] = strings.ReplaceAll(page, name, "NAME")
			}
			if i < 10 && code != 422 || i > 20 && code != 429 {
				t.Fatalf("try %d of %s: status %d", i, name, code)
			}
		}
	}
	if first[0] != first[1] {
		t.Error("the answer tells whether there is such a name")
	}
	if _, code := v.another().post("/sign-in", url.Values{"name": {"owner"}, "password": {pass}}); code != 429 {
		t.Errorf("another browser at the same place: status %d", code)
	}
	page, code := known.post("/sign-in", url.Values{"name": {"owner"}, "password": {pass}})
	if has(t, page, "Your beds"); code != 200 {
		t.Errorf("the owner's own browser is locked out: status %d", code)
	}
	// From everywhere, and the way back by the machine's own link.
	for i := range 300 {
		v.h.tries.Failed(fmt.Sprintf("198.51.100.%d", i), "owner", "")
	}
	owner := v.ids["owner"]
	secret, err := v.store.MakeLink(store.Link{Kind: store.Recover, Account: &owner, Once: true}, time.Hour)
	v.must(err)
	fresh := v.another()
	page, code = fresh.post("/in/"+secret, url.Values{"password": {"another kettle of walnut hinges"},
		"again": {"another kettle of walnut hinges"}})
	if has(t, page, "Your beds"); code != 200 {
		t.Errorf("the machine's own link does not let its owner in: status %d", code)
	}
	if _, away := known.turnedAway("GET", "/", nil); !away {
		t.Error("after a recovery another browser is signed in still")
	}
}

// Behind a proxy that was named everyone signs in, also before there is an account; places are told apart by what it
// says, and by nothing that others say. Another site's name is answered nothing, its forms nothing either.
func TestProxiesAndNames(t *testing.T) {
	s := newSiteBehind(t, Door{Accounts: true, Proxies: []netip.Prefix{netip.MustParsePrefix("127.0.0.0/8")},
		Hosts: []string{"beds.example"}})
	if page, _ := s.get("/p/1/bed"); !strings.Contains(page, "Sign in") {
		t.Error("whoever comes by the proxy gets in")
	}
	ask := func(change func(*http.Request)) (*http.Response, string) {
		t.Helper()
		r, _ := http.NewRequest(http.MethodPost, s.URL+"/sign-in", strings.NewReader("name=ada&password=wrong+wrong+wrong"))
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		change(r)
		a, err := http.DefaultTransport.RoundTrip(r)
		if err != nil {
			t.Fatal(err)
		}
		a.Body.Close()
		return a, fmt.Sprint(a.StatusCode)
	}
	if _, code := ask(func(r *http.Request) { r.Host = "evil.example" }); code != "421" {
		t.Errorf("under another name: status %s", code)
	}
	if _, code := ask(func(r *http.Request) { r.Header.Set("Origin", "https://evil.example") }); code != "403" {
		t.Errorf("a form of another site: status %s", code)
	}
	place := func(from, forwarded string) string {
		r := httptest.NewRequest(http.MethodGet, "/", nil)
		r.RemoteAddr = from
		if forwarded != "" {
			r.Header.Set("X-Forwarded-For", forwarded)
		}
		return s.h.place(r)
	}
	for _, c := range [][3]string{
		{"127.0.0.1:9", "203.0.113.9", "203.0.113.9"},
		{"127.0.0.1:9", "198.51.100.7, 203.0.113.9", "203.0.113.9"}, // what a client made up comes first
		{"127.0.0.1:9", "203.0.113.9, 127.0.0.2", "203.0.113.9"},    // two proxies that were named
		{"127.0.0.1:9", "nonsense", "127.0.0.1"},
		{"203.0.113.5:9", "198.51.100.7", "203.0.113.5"}, // no proxy of ours
		{"[2001:db8::5]:9", "", "2001:db8::/64"},
	} {
		if got := place(c[0], c[1]); got != c[2] {
			t.Errorf("%s forwarded for %q counts as %s, want %s", c[0], c[1], got, c[2])
		}
	}
	over := func(from string) bool {
		r := httptest.NewRequest(http.MethodGet, "/", nil)
		r.RemoteAddr = from
		r.Header.Set("X-Forwarded-Proto", "https")
		return s.h.overHTTPS(r)
	}
	if !over("127.0.0.1:9") || over("203.0.113.5:9") {
		t.Error("https is believed of whom it should not, or not of the proxy")
	}
	first, err := s.h.FirstLink()
	if err != nil || !strings.HasPrefix(first, "/in/") {
		t.Fatalf("%q %v", first, err)
	}
	page, _ := s.post(first, url.Values{"name": {"Ada"}, "password": {pass}, "again": {pass}})
	has(t, page, "Your beds")
	if again, err := s.h.FirstLink(); again != "" || err != nil {
		t.Errorf("a first link with somebody there: %q %v", again, err)
	}
}

// Two people in one project: what they change in different places both holds, of the same the later is told whose is
// there; each undoes their own, the other's edits done anew, and where that cannot be it is said whose stands in the
// way.
func TestTogether(t *testing.T) {
	v := newVillage(t)
	house := store.Home
	v.ids["second"] = v.joins(store.Link{Kind: store.Invite, Household: &house, Role: people.Owner, Once: true}, "second")
	a, b := v.as("owner"), v.as("second")
	rev := func() string { return fmt.Sprint(v.head(2).Head) }
	edit := func(s *site, rev string, form url.Values) (string, int) {
		t.Helper()
		form.Set("rev", rev)
		form.Set("stage", "bed")
		form.Set("bed", "b1")
		return s.post("/p/2/edit", form)
	}
	now := func() design.Bed {
		p, err := v.store.Project(t.Context(), 2)
		v.must(err)
		return p.Design.Beds[0]
	}
	start := now()
	base := rev()
	shown, _ := b.get("/p/2/bed")
	if _, code := edit(a, base, url.Values{"length": {"10'"}}); code != 200 {
		t.Fatalf("status %d", code)
	}
	// Made from the page before it: all its fields are sent, as that page had them.
	_, code := edit(b, base, url.Values{"width": {"3'"}, "length": {field("length", shown)}})
	if code != 200 || now().Length.String() == start.Length.String() || now().Width.String() == start.Width.String() {
		t.Errorf("status %d: %v by %v", code, now().Length, now().Width)
	}
	page, code := edit(b, base, url.Values{"length": {"6'"}})
	has(t, page, "owner: ", "10'", "Nothing was overwritten")
	if code != http.StatusConflict || field("length", page) != "6'" {
		t.Errorf("status %d, the field reads %q", code, field("length", page))
	}
	long, narrow := now().Length, now().Width

	// The first undoes their own, under the other's.
	_, code = a.post("/p/2/undo", url.Values{"stage": {"bed"}})
	if code != 200 || now().Length != start.Length || now().Width != narrow {
		t.Errorf("status %d: %v by %v, want %v by %v", code, now().Length, now().Width, start.Length, narrow)
	}
	page, _ = a.get("/p/2/log")
	has(t, page, "undone: ", "second")
	a.post("/p/2/redo", url.Values{"stage": {"bed"}})
	if now().Length != long || now().Width != narrow {
		t.Errorf("redone: %v by %v, want %v by %v", now().Length, now().Width, long, narrow)
	}
	// What stands in the way says whose it is.
	edit(b, rev(), url.Values{"length": {"11'"}})
	page, code = a.post("/p/2/undo", url.Values{"stage": {"bed"}})
	has(t, page, "second’s edit", "stands in the way", "it is about the same")
	if code != http.StatusConflict {
		t.Errorf("status %d", code)
	}
	// Nobody undoes another's.
	b.post("/p/2/undo", url.Values{"stage": {"bed"}})
	b.post("/p/2/undo", url.Values{"stage": {"bed"}})
	page, code = b.post("/p/2/undo", url.Values{"stage": {"bed"}})
	if has(t, page, "nothing of yours"); code != http.StatusConflict || now().Length != long ||
		now().Width != start.Width {
		t.Errorf("status %d: %v by %v", code, now().Length, now().Width)
	}
	// A helper writes down a price, and no more; what was done before anybody had an account is the owners' to take back.
	h := v.as("helper")
	d, err := v.store.Project(t.Context(), 3)
	v.must(err)
	d.Design.Beds[0].Soil += 25_400_000
	v.must(v.store.Save(3, d.Head, d.Design, "by nobody", store.Kept{Edit: store.Edit{
		Edits: []design.Edit{{Bed: "b1", Field: "soil", Value: d.Design.Beds[0].Soil.String()}}}}))
	deep := v.head(3).Head
	page, code = h.post("/p/3/undo", url.Values{"stage": {"bed"}})
	if has(t, page, "nothing of yours"); code != http.StatusConflict || v.head(3).Head != deep {
		t.Errorf("a helper takes back a design: status %d", code)
	}
	if _, code = a.post("/p/3/undo", url.Values{"stage": {"bed"}}); code != 200 || v.head(3).Head != d.Head {
		t.Errorf("an owner cannot: status %d", code)
	}
	if _, code := h.post("/p/2/edit", url.Values{"stage": {"bill"}, "bed": {"b1"}, "price:2x8/cedar/10 ft": {"20"},
		"was:price:2x8/cedar/10 ft": {"24.58"}}); code != 200 {
		t.Errorf("a helper cannot write down a price: status %d", code)
	}
	for _, form := range []url.Values{{"soil": {"14 in"}}, {"set": {"cap=mitred"}},
		{"set": {"price:2x8/cedar/10 ft=19", "cap=mitred"}}, {"nudge": {"length:+"}}, {"drag": {"length:100"}},
		{"keep": {"side-bows"}}, {"beds": {"copy"}}, {"own-unit": {"Lane stone 12 in x 8 in x 4 in, joint 3/8 in"}}} {
		was := rev()
		form.Set("bed", "b1")
		if page, code := h.post("/p/2/edit", form); code != http.StatusForbidden || rev() != was {
			t.Errorf("a helper changed the design with %v: status %d", form, code)
			_ = page
		}
	}
	page, _ = h.get("/p/2/bed")
	has(t, page, "You are a helper here")
	if strings.Contains(page, `<form method="post" action="/p/2/edit"`) {
		t.Error("a helper is shown a form they may not send")
	}
	if page, _ := h.get("/p/2/bill"); !strings.Contains(page, `<form method="post" action="/p/2/edit"`) {
		t.Error("a helper is shown no form for prices")
	}
}
