package web

import (
	"bufio"
	"context"
	"fmt"
	"html"
	"io"
	"maps"
	"net/http"
	"net/url"
	"os"
	"path/filepath"
	"reflect"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/jmoiron/sqlx"

	"chamfer/core/catalog"
	"chamfer/core/cost"
	"chamfer/core/design"
	"chamfer/people"
	"chamfer/store"
)

const pass = "pear kettle hinge walnut"

// village is a site with two households. Of the first are an owner, a helper, a reader, a guest whom one project names,
// and one whom none does.
type village struct {
	*site
	hash string
	ids  map[string]int64
	theirs, shedBoard, shop,
	invitation int64 // of the other household
}

func newVillage(t testing.TB) *village {
	t.Helper()
	hash, err := people.Hash(pass)
	if err != nil {
		t.Fatal(err)
	}
	v := &village{site: newSite(t), hash: hash, ids: map[string]int64{}}
	v.ids["owner"] = v.joins(store.Link{Kind: store.First, Once: true}, "owner")
	house := store.Home
	for name, role := range map[string]people.Role{"helper": people.Helper, "reader": people.Reader, "named": people.Guest,
		"guest": people.Guest} {
		v.ids[name] = v.joins(store.Link{Kind: store.Invite, Household: &house, Role: role, Once: true}, name)
	}
	v.ids["other"] = v.joins(store.Link{Kind: store.Invite, Household: &house, Role: people.Guest, Once: true}, "other")
	there, err := v.store.FoundHousehold("The other lane", v.ids["other"])
	v.must(err)
	v.must(v.store.SetRole(store.Home, v.ids["other"], ""))
	v.must(v.store.SetProjectRole(1, v.ids["named"], people.Helper))
	v.theirs, err = v.store.Create(there, design.New(catalog.Regions()[0], "Theirs alone"), "started", store.Kept{})
	v.must(err)
	v.must(v.store.Stow(there, "us", catalog.Leftover{Profile: "2x6", Species: "cedar", Length: 41e7, Quantity: 2}))
	shed, err := v.store.Shed(t.Context(), there, "us")
	v.must(err)
	v.shedBoard = shed[0].ID
	v.shop, err = v.store.PutShop(there, "us", cost.Shop{Name: "Their yard"})
	v.must(err)
	v.must(v.store.NotePrices(there, "us", []cost.Priced{{At: "Their yard", Quote: cost.Quote{SKU: "cmu8", Price: 199,
		Left: 3, Seen: "2027-04-03"}}}))
	other := v.ids["other"]
	_, err = v.store.MakeLink(store.Link{Kind: store.Invite, Household: &there, By: &other, Role: people.Owner}, time.Hour)
	v.must(err)
	links, err := v.store.Links(t.Context(), there, 0)
	v.must(err)
	v.invitation = links[0].ID
	return v
}

func (v *village) must(err error) {
	v.t.Helper()
	if err != nil {
		v.t.Fatal(err)
	}
}

func (v *village) joins(l store.Link, name string) int64 {
	v.t.Helper()
	secret, err := v.store.MakeLink(l, time.Hour)
	v.must(err)
	l, err = v.store.Link(context.Background(), secret)
	v.must(err)
	id, err := v.store.Join(l, 0, name, v.hash)
	v.must(err)
	return id
}

// as is the site in the browser of somebody who has signed in.
func (v *village) as(name string) *site {
	v.t.Helper()
	s := v.another()
	if page, code := s.post("/sign-in", url.Values{"name": {name}, "password": {pass}}); code != 200 ||
		strings.Contains(page, `action="/sign-in"`) {
		v.t.Fatalf("%s cannot sign in: status %d", name, code)
	}
	return s
}

// by is the site in a browser that has opened a link.
func (v *village) by(l store.Link) *site {
	v.t.Helper()
	secret, err := v.store.MakeLink(l, time.Hour)
	v.must(err)
	s := v.another()
	if _, code := s.post("/in/"+secret, nil); code != 200 {
		v.t.Fatalf("a link of kind %s: status %d", l.Kind, code)
	}
	return s
}

// turned sends a request without following where it leads, and tells its status and whether it was turned away.
func (s *site) turnedAway(method, path string, form url.Values) (code int, away bool) {
	s.t.Helper()
	ctx, done := context.WithTimeout(context.Background(), 30*time.Second)
	defer done()
	r, err := http.NewRequestWithContext(ctx, method, s.URL+path, strings.NewReader(form.Encode()))
	if err != nil {
		s.t.Fatal(err)
	}
	if method == http.MethodPost {
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	}
	client := *s.Client()
	client.CheckRedirect = func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }
	a, err := client.Do(r)
	if err != nil {
		s.t.Fatal(err)
	}
	defer a.Body.Close()
	body := ""
	if !strings.HasSuffix(path, "/events") || a.StatusCode != http.StatusOK {
		raw, err := io.ReadAll(a.Body)
		if err != nil {
			s.t.Fatal(err)
		}
		body = string(raw)
	}
	away = a.StatusCode == 401 || a.StatusCode == 403 || strings.HasPrefix(a.Header.Get("Location"), "/sign-in") ||
		a.StatusCode == 404 && strings.Contains(body, "There is no such project.")
	return a.StatusCode, away
}

// Who may take which way in. What begins with p is of project 1.
const (
	everybody = "owner helper reader named guest other nobody readlink buildlink phone"
	persons   = "owner helper reader named guest other"
	owners    = "owner other"
	pLook     = "owner helper reader named readlink buildlink phone"
	pDown     = "owner helper named buildlink phone"
	pOwner    = "owner"
)

// waysIn is every route there is, with who may take it. A new one is written down here, or this test fails.
var waysIn = map[string]string{
	"GET /static/*path": everybody, "GET /sw.js": everybody, "GET /favicon.ico": everybody,
	"GET /robots.txt": everybody, "GET /health": everybody, "GET /healthz": everybody,
	"GET /readyz": everybody,
	"GET /phone":  everybody, "GET /phone/authority.crt": everybody, "GET /sources": everybody, "GET /words": everybody,
	"GET /chamfer-1.schema.json": everybody, "GET /chamfer-plan-1.schema.json": everybody,
	"GET /chamfer-region-1.schema.json": everybody, "POST /sunlight": everybody,
	"GET /sign-in": everybody, "POST /sign-in": everybody, "POST /sign-in/passkey": everybody,
	"POST /sign-in/with-passkey": everybody, "POST /sign-out": "", "GET /in/:secret": everybody,
	"POST /in/:secret": everybody,
	"GET /you":         persons, "GET /you/kept.json": persons, "POST /you/name": persons, "POST /you/password": persons,
	"POST /you/signed-in": persons, "POST /you/leave": persons, "POST /you/passkey": persons,
	"POST /you/keep-passkey": persons, "POST /you/drop-passkey": persons,
	"GET /": persons, "GET /people": persons, "POST /people/first": "-", "POST /people/household": persons,
	"POST /people/invite": owners, "POST /people/uninvite": owners, "POST /people/role": owners, "GET /deleted": owners,
	"GET /copies": owners, "POST /copies": owners, "GET /copies/everything.zip": owners,
	"POST /projects": owners, "GET /kinds": owners, "POST /import": owners,
	"GET /habits": "owner helper reader other", "POST /habits": owners,
	"GET /shops": "owner helper reader other", "GET /shops/prices.csv": "owner helper reader other",
	"POST /shops": "owner helper other", "GET /p/:id/where": "owner helper reader", "POST /p/:id/buy": pOwner,
	"POST /p/:id/quote": pOwner,
	"GET /p/:id":        pLook, "GET /p/:id/:stage": pLook, "GET /p/:id/set-out": pLook, "GET /p/:id/decisions": pLook,
	"GET /p/:id/cautions": pLook, "GET /p/:id/compare": pLook,
	"GET /p/:id/seek": pLook, "POST /p/:id/seek": pLook, "POST /p/:id/pin": pOwner, "GET /p/:id/drag/preview": pLook,
	"GET /p/:id/turned": pLook,
	"GET /p/:id/events": pLook, "GET /p/:id/text": pLook, "GET /p/:id/files/:file": pLook,
	"GET /p/:id/photo/:photo": pLook, "GET /p/:id/version/:rev": pLook,
	"POST /p/:id/cart": pDown, "POST /p/:id/spoilt": pDown, "POST /p/:id/differs": pDown, "POST /p/:id/left": pDown,
	"POST /p/:id/learn": "owner", "POST /p/:id/photos": pDown,
	"POST /p/:id/edit": pDown, "POST /p/:id/readings": pOwner, "POST /p/:id/crops": pOwner,
	"POST /p/:id/level": pOwner, "POST /p/:id/garden": pDown,
	"POST /p/:id/undo": pDown, "POST /p/:id/redo": pDown, "POST /p/:id/goto": pOwner, "POST /p/:id/mend": pOwner,
	"POST /p/:id/tick": pDown, "POST /p/:id/ticks": pDown, "POST /p/:id/saw": pDown, "POST /p/:id/longer": pDown,
	"POST /p/:id/shed": "owner helper", "POST /p/:id/away": pDown, "POST /p/:id/duplicate": "owner",
	"POST /p/:id/rename": pOwner, "POST /p/:id/delete": pOwner, "POST /p/:id/restore": pOwner, "POST /p/:id/purge": pOwner,
	"GET /p/:id/share": pOwner, "POST /p/:id/share": pOwner, "POST /p/:id/unshare": pOwner, "POST /p/:id/role": pOwner,
	"POST /p/:id/phone": "owner helper reader named",
}

// sent is what is posted where an empty form would do too much or too little.
var sent = map[string]url.Values{
	"POST /sign-in":          {"name": {"nobody"}, "password": {"not the one of anybody"}},
	"POST /you/signed-in":    {"signin": {"999999"}},
	"POST /people/invite":    {"role": {"reader"}},
	"POST /people/role":      {"who": {"999999"}, "role": {"reader"}},
	"POST /people/household": {"how": {"go"}, "household": {"0"}},
	"POST /p/:id/edit":       {"price:none": {"1.00"}},
	"POST /p/:id/longer":     {"group": {"0"}, "how": {"watch"}},
	"POST /p/:id/share":      {"what": {"read"}, "days": {"7"}},
	"POST /p/:id/garden":     {"how": {"probe"}},
	"POST /shops":            {"how": {"price"}, "shop": {"1"}, "item": {"cmu8"}, "price": {"2.50"}},
	"POST /p/:id/shed":       {"leftover": {"nonsense"}},
}

// Every way in, by everybody there is, of two households: who may is let in, who may not is turned away, and then
// nothing has been written.
func TestEveryRouteEveryRole(t *testing.T) {
	v := newVillage(t)
	one, owner, helper := int64(1), v.ids["owner"], v.ids["helper"]
	share := func(r people.Role) *site {
		return v.by(store.Link{Kind: store.Share, Project: &one, By: &owner, Role: r})
	}
	visitors := map[string]*site{"nobody": v.another(), "readlink": share(people.Reader),
		"buildlink": share(people.Helper),
		"phone":     v.by(store.Link{Kind: store.Phone, Project: &one, Account: &helper, By: &helper, Once: true})}
	for name := range v.ids {
		visitors[name] = v.as(name)
	}
	watch, err := sqlx.Open("sqlite", v.path)
	v.must(err)
	defer watch.Close()
	watch.SetMaxOpenConns(1)
	version := func() (n int) {
		v.must(watch.Get(&n, "PRAGMA data_version"))
		return n
	}
	seen := map[string]bool{}
	tried := 0
	for _, w := range v.h.ways() {
		key := w.method + " " + w.path
		who, known := waysIn[key]
		if seen[key] = true; !known {
			t.Errorf("%s: nobody has said who may take it", key)
			continue
		}
		of := strings.HasPrefix(w.path, "/p/:id")
		for _, name := range slices.Sorted(maps.Keys(visitors)) {
			s := visitors[name]
			for _, project := range []int64{1, v.theirs, 4040} {
				if !of && project != 1 {
					continue
				}
				path := strings.NewReplacer(":id", fmt.Sprint(project), ":stage", "bill", ":file", "cut-list.csv", "*path",
					"app.css", ":secret", "x").Replace(w.path)
				form := url.Values{}
				for k, val := range sent[key] {
					form[k] = val
				}
				if h, err := v.store.Standing(t.Context(), project); err == nil {
					form.Set("rev", fmt.Sprint(h.Head))
				}
				may := strings.Contains(" "+who+" ", " "+name+" ")
				if of && project == v.theirs {
					may = name == "other" && who != ""
				}
				if who == "" {
					continue
				}
				if project == 4040 {
					may = false
				}
				before := version()
				code, away := s.turnedAway(w.method, path, form)
				tried++
				switch {
				case may && away, !may && !away:
					t.Errorf("%s by %s (project %d): status %d, want let in %v", key, name, project, code, may)
				case code >= 500:
					t.Errorf("%s by %s: status %d", key, name, code)
				case !may && version() != before:
					t.Errorf("%s by %s was turned away, and something was written", key, name)
				}
				if may && of {
					v.must(v.store.Restore(project))
				}
			}
		}
	}
	for key := range waysIn {
		if !seen[key] {
			t.Errorf("%s is there no more", key)
		}
	}
	t.Logf("%d requests", tried)
}

// What somebody may do in their own household reaches nothing of another's, by whatever number.
func TestNumbersOfOthers(t *testing.T) {
	v := newVillage(t)
	o := v.as("owner")
	before := v.dump()
	for _, c := range []struct {
		path string
		form url.Values
	}{
		{"/p/1/shed", url.Values{"take": {fmt.Sprint(v.shedBoard)}}},
		{"/people/uninvite", url.Values{"link": {fmt.Sprint(v.invitation)}}},
		{"/people/role", url.Values{"who": {fmt.Sprint(v.ids["other"])}, "role": {"out"}}},
		{"/p/1/role", url.Values{"who": {fmt.Sprint(v.ids["other"])}, "role": {"owner"}}},
		{"/p/1/unshare", url.Values{"link": {fmt.Sprint(v.invitation)}}},
		{"/projects", url.Values{"name": {"x"}, "region": {"us"}, "copy": {fmt.Sprintf("%d:b1", v.theirs)}}},
		{"/people/household", url.Values{"how": {"go"}, "household": {"2"}}},
		{"/p/1/goto", url.Values{"revision": {fmt.Sprint(v.head(v.theirs).Head)}}},
		{"/shops", url.Values{"region": {"us"}, "how": {"shop"}, "shop": {fmt.Sprint(v.shop)}, "name": {"Mine now"}}},
		{"/shops", url.Values{"region": {"us"}, "how": {"price"}, "shop": {fmt.Sprint(v.shop)}, "item": {"cmu8"},
			"price": {"1"}}},
		{"/shops", url.Values{"region": {"us"}, "how": {"drop-price"}, "shop": {fmt.Sprint(v.shop)}, "item": {"cmu8"}}},
		{"/shops", url.Values{"region": {"us"}, "how": {"drop-shop"}, "shop": {fmt.Sprint(v.shop)}}},
		{fmt.Sprintf("/p/%d/restore", v.theirs), nil},
		{fmt.Sprintf("/p/%d/purge", v.theirs), nil},
	} {
		o.post(c.path, c.form)
		if after := v.dump(); after != before {
			t.Errorf("%s %v reached another household: %s, was %s", c.path, c.form, after, before)
			before = after
		}
	}
	for _, path := range []string{"/", "/?deleted=5", "/deleted", "/people", "/habits"} {
		if page, _ := o.get(path); strings.Contains(page, "Theirs alone") || strings.Contains(page, "The other lane") {
			t.Errorf("%s tells of another household", path)
		}
	}
}

// dump is what the other household has.
func (v *village) dump() string {
	v.t.Helper()
	db := v.raw()
	var all []string
	for _, q := range []string{"SELECT coalesce(sum(quantity), 0) FROM shed WHERE household_id = 2",
		"SELECT count(*) FROM links WHERE household_id = 2", "SELECT count(*) FROM members WHERE household_id = 2",
		"SELECT count(*) FROM projects WHERE deleted_at IS NULL", "SELECT count(*) FROM project_roles",
		"SELECT sum(head) FROM projects", "SELECT count(*) FROM shops WHERE household_id = 2 AND name = 'Their yard'",
		"SELECT sum(price) FROM quotes"} {
		var n int
		v.must(db.Get(&n, q))
		all = append(all, fmt.Sprint(n))
	}
	return strings.Join(all, " ")
}

// Of the shed, who came to one project only sees what that project counts on, and nobody's name.
func TestShedOfTheHousehold(t *testing.T) {
	v := newVillage(t)
	const note = "behind Ottoline's bench"
	v.must(v.store.Stow(store.Home, "us", catalog.Leftover{Profile: "4x4", Species: "redwood", Length: 41e7, Quantity: 2,
		Note: note}))
	v.must(v.store.SetProjectRole(2, v.ids["named"], people.Helper))
	v.as("owner").post("/p/2/edit", url.Values{"bed": {"b1"}, "stage": {"bed"}, "soil": {"10 in"}})
	one, owner, helper := int64(2), v.ids["owner"], v.ids["helper"]
	link := v.by(store.Link{Kind: store.Share, Project: &one, By: &owner, Role: people.Helper})
	phone := v.by(store.Link{Kind: store.Phone, Project: &one, Account: &helper, By: &helper, Once: true})
	for name, c := range map[string]struct {
		s    *site
		sees bool
	}{"owner": {v.as("owner"), true}, "helper": {v.as("helper"), true}, "reader": {v.as("reader"), true},
		"a guest who is named": {v.as("named"), false}, "a link": {link, false}, "a phone": {phone, false}} {
		page, _ := c.s.get("/p/2/cuts")
		if sees := strings.Contains(html.UnescapeString(page), note); sees != c.sees {
			t.Errorf("%s sees the shed: %v", name, sees)
		}
		if page, _ := c.s.get("/p/2/log"); name == "a link" && strings.Contains(page, "owner<") {
			t.Error("a link tells names")
		}
	}
}

// By a link to copy, somebody of another household takes the project over into their own beds, as it stands.
func TestCopyByLink(t *testing.T) {
	v := newVillage(t)
	two, owner := int64(2), v.ids["owner"]
	s := v.by(store.Link{Kind: store.Share, Project: &two, By: &owner, Role: people.Reader, Note: copyPurpose})
	page, _ := s.get("/p/2/bed")
	has(t, page, "to copy it to beds of your own", "save the copy")
	if _, code := s.post("/p/2/duplicate", nil); code != http.StatusForbidden {
		t.Errorf("nobody's copy: status %d", code)
	}
	page, _ = s.post("/sign-in", url.Values{"name": {"other"}, "password": {pass}, "to": {"/p/2/bed"}})
	has(t, page, "Copy it to your beds")
	page, code := s.post("/p/2/duplicate", nil)
	if has(t, page, "The other lane", "Wren's bean bed, plot 14, copy"); code != 200 {
		t.Errorf("status %d", code)
	}
	list, err := v.store.List(t.Context(), store.Scope{Household: 2}, store.After{}, "copy", 10)
	v.must(err)
	here, err := v.store.Project(t.Context(), 2)
	v.must(err)
	there, err := v.store.Project(t.Context(), list[0].ID)
	v.must(err)
	there.Design.Name = here.Design.Name
	if len(list) != 1 || !reflect.DeepEqual(there.Design, here.Design) {
		t.Error("the copy is another design")
	}
}

// stream opens the stream of a project and hands over its lines.
func (s *site) stream(project int64) (lines chan string, code int) {
	s.t.Helper()
	ctx, done := context.WithCancel(context.Background())
	s.t.Cleanup(done)
	r, err := http.NewRequestWithContext(ctx, http.MethodGet, fmt.Sprintf("%s/p/%d/events?tab=x", s.URL, project), nil)
	if err != nil {
		s.t.Fatal(err)
	}
	a, err := s.Client().Do(r)
	if err != nil {
		s.t.Fatal(err)
	}
	lines = make(chan string, 100)
	go func() {
		defer close(lines)
		defer a.Body.Close()
		in := bufio.NewScanner(a.Body)
		for in.Scan() {
			lines <- in.Text()
		}
	}()
	return lines, a.StatusCode
}

// until waits for a line that holds words; "" where the stream has ended before.
func until(t *testing.T, lines chan string, words string) string {
	t.Helper()
	late := time.After(20 * time.Second)
	for {
		select {
		case line, on := <-lines:
			if !on || strings.Contains(line, words) {
				return line
			}
		case <-late:
			t.Fatalf("nothing says %q", words)
		}
	}
}

// Revoked in the middle of a build: whatever lets somebody in, its end ends what is open at once, and the next press is
// turned away with what was done before still there.
func TestRevoked(t *testing.T) {
	v := newVillage(t)
	one, owner, helper := int64(1), v.ids["owner"], v.ids["helper"]
	o := v.as("owner")
	share := func() (*site, func()) {
		s := v.by(store.Link{Kind: store.Share, Project: &one, By: &owner, Role: people.Helper})
		return s, func() {
			list, err := v.store.Links(t.Context(), 0, 1)
			v.must(err)
			o.post("/p/1/unshare", url.Values{"link": {fmt.Sprint(list[0].ID)}})
		}
	}
	link, endLink := share()
	for name, c := range map[string]struct {
		s   *site
		end func()
	}{
		"a link that is taken back": {link, endLink},
		"a role that is taken back": {v.as("named"), func() {
			o.post("/p/1/role", url.Values{"who": {fmt.Sprint(v.ids["named"])}, "role": {"as"}})
		}},
		"a phone that is signed out": {v.by(store.Link{Kind: store.Phone, Project: &one, Account: &helper, By: &helper,
			Once: true}), func() { v.as("helper").post("/you/signed-in", url.Values{"signin": {"0"}}) }},
		"a password that is set anew": {v.as("reader"), func() {
			v.as("reader").post("/you/password", url.Values{"now": {pass}, "password": {"another kettle of walnut hinges"},
				"again": {"another kettle of walnut hinges"}})
		}},
	} {
		lines, code := c.s.stream(1)
		if code != 200 {
			t.Fatalf("%s: status %d", name, code)
		}
		until(t, lines, "event: who")
		o.post("/p/1/tick", url.Values{"tick": {"buy"}, "done": {"yes"}})
		if line := until(t, lines, `"what"`); !strings.Contains(line, `"by":"owner","what":"a step was ticked"`) {
			t.Errorf("%s: it is told %q", name, line)
		}
		c.end()
		if line := until(t, lines, "event: out"); line == "" {
			t.Errorf("%s: the stream ends without a word", name)
		}
		until(t, lines, "nothing more comes")
		if _, away := c.s.turnedAway("POST", "/p/1/tick", url.Values{"tick": {"buy"}, "done": {"no"}}); !away {
			t.Errorf("%s: ticks on", name)
		}
		if ticks, err := v.store.Ticks(t.Context(), 1); err != nil || !ticks["step:buy"].Done {
			t.Errorf("%s: what was done is lost: %v %v", name, ticks, err)
		}
	}
}

// Every test that docs/security.md names is there.
func TestSecurityNamesTests(t *testing.T) {
	doc, err := os.ReadFile("../docs/security.md")
	if err != nil {
		t.Fatal(err)
	}
	var code strings.Builder
	for _, pattern := range []string{"*_test.go", "../store/*_test.go", "../people/*_test.go", "../cmd/chamfer/*_test.go",
		"../export/*_test.go", "../stream/*_test.go"} {
		files, err := filepath.Glob(pattern)
		if err != nil || len(files) == 0 {
			t.Fatalf("%s: %v", pattern, err)
		}
		for _, f := range files {
			raw, err := os.ReadFile(f)
			if err != nil {
				t.Fatal(err)
			}
			code.Write(raw)
		}
	}
	named := regexp.MustCompile("`((?:Test|Fuzz)\\w+)`").FindAllStringSubmatch(string(doc), -1)
	for _, m := range named {
		if !strings.Contains(code.String(), "func "+m[1]+"(") {
			t.Errorf("there is no %s", m[1])
		}
	}
	if len(named) < 30 {
		t.Errorf("%d tests are named", len(named))
	}
}
