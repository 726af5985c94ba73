package web

import (
	"bytes"
	"context"
	"image"
	"net/http/httptest"
	"os"
	"strings"
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"

	"chamfer/core/plan"
	"chamfer/export"
)

// named opens the site by a name, as passkeys want it.
func (s *site) named(b *rod.Browser, path string, w, h int) *tab {
	o := *s
	o.Server = &httptest.Server{URL: strings.Replace(s.URL, "127.0.0.1", "localhost", 1)}
	return o.tab(b, path, w, h)
}

// clean checks a page by axe, and that nothing on it is wider than the window.
func (t *tab) clean(what string) {
	t.t.Helper()
	if bad := t.violations(); len(bad) > 0 {
		t.t.Errorf("%s: %v", what, bad)
	}
	if over := t.MustEval(`() => document.documentElement.scrollWidth - innerWidth`).Int(); over > 0 {
		t.t.Errorf("%s: %d px wider than the window", what, over)
	}
}

func (t *tab) account(name string) {
	t.t.Helper()
	t.fill("#in-name", name)
	t.fill("#in-password", pass)
	t.fill("#in-again", pass)
}

// go presses something that leads to another page.
func (t *tab) leads(selector string) {
	t.t.Helper()
	wait := t.MustWaitNavigation()
	t.MustElement(selector).MustClick()
	wait()
	t.until(`() => document.readyState === 'complete'`)
}

// In the browser: the first account, an invitation taken on a phone, a passkey kept and used, two people in one project
// and undo between them, a link that is shared and taken back. Every page of it clean by axe, at both widths.
func TestComeIn(t *testing.T) {
	b := browser(t)
	s := newSite(t)
	a := s.named(b, "/people", 1280, 800)
	if err := (proto.WebAuthnEnable{}).Call(a); err != nil {
		t.Fatal(err)
	}
	_, err := proto.WebAuthnAddVirtualAuthenticator{Options: &proto.WebAuthnVirtualAuthenticatorOptions{
		Protocol: proto.WebAuthnAuthenticatorProtocolCtap2, Transport: proto.WebAuthnAuthenticatorTransportInternal,
		HasResidentKey: true, HasUserVerification: true, IsUserVerified: true,
		AutomaticPresenceSimulation: true}}.Call(a)
	if err != nil {
		t.Fatal(err)
	}
	a.clean("who may come in, with nobody there")
	a.leads("form[action='/people/first'] button")
	a.account("Ottoline")
	a.clean("the first account")
	a.leads("main form button.main")
	if got := a.text(".top-links a[href='/you']"); got != "Ottoline" {
		t.Errorf("signed in as %q", got)
	}

	// A passkey, kept and used.
	a.open(strings.Replace(s.URL, "127.0.0.1", "localhost", 1) + "/you")
	a.clean("your account")
	a.leads("form[data-passkey] button")
	if got := a.text("main"); !strings.Contains(got, "at localhost, since") {
		t.Errorf("no passkey is kept: %s", got)
	}
	a.leads("form[action='/sign-out'] button")
	a.clean("sign in")
	a.leads("form[data-passkey] button")
	if got := a.text("h1"); got != "Your beds" {
		t.Errorf("the passkey leads to %q", got)
	}

	// An invitation, taken on a phone.
	a.open(strings.Replace(s.URL, "127.0.0.1", "localhost", 1) + "/people")
	a.fill("#inv-note", "Wren, from the lane")
	a.MustElement("#inv-role").MustSelect("owner")
	a.leads("form[action='/people/invite'] button")
	link := a.MustElement("input.link").MustProperty("value").String()
	a.clean("an invitation")
	phone := s.tab(b.MustIncognito(), strings.TrimPrefix(link, "http://"+strings.SplitN(strings.TrimPrefix(link,
		"http://"), "/", 2)[0]), 390, 844)
	phone.account("Wren")
	phone.clean("an invitation, on a phone")
	phone.leads("main form button.main")
	for _, path := range []string{"/", "/people", "/you", "/p/2/share", "/p/2/build"} {
		phone.open(s.URL + path)
		phone.clean(path + " on a phone")
	}

	// Two in one project.
	a.open(strings.Replace(s.URL, "127.0.0.1", "localhost", 1) + "/p/2/bed")
	a.ready("bed")
	phone.open(s.URL + "/p/2/bed")
	phone.ready("bed")
	a.until(`() => document.getElementById('there').textContent === 'Here: Ottoline, Wren'`)
	a.MustElement("#f-soil").MustFocus().MustSelectAllText()
	a.MustInsertText("13 in") // and not sent
	was := a.MustElement("#f-width").MustProperty("value").String()
	phone.saved(func() { phone.fill("#f-width", "3'"); phone.MustElement("#f-width").MustType(input.Enter) })
	a.until(`() => document.getElementById('news').textContent.startsWith('Wren: ') &&
		document.querySelector('#f-width').value === "3'"`)
	if got := a.MustElement("#f-soil").MustProperty("value").String(); got != "13 in" {
		t.Errorf("what was being typed reads %q", got)
	}
	a.saved(func() { a.MustElement("#f-soil").MustType(input.Enter) })
	phone.until(`() => document.querySelector('#f-soil').value === "1' 1\""`)
	phone.saved(func() { phone.MustElement("[data-act=undo] button").MustClick() })
	a.until(`(was) => document.querySelector('#f-width').value === was &&
		document.querySelector('#f-soil').value === "1' 1\""`, was)

	// A link to look, and to build; taken back while it is open.
	a.open(strings.Replace(s.URL, "127.0.0.1", "localhost", 1) + "/p/2/share")
	a.clean("share")
	if err := a.MustElement("#sh-what").Select([]string{"[value=build]"}, true, rod.SelectorTypeCSSSector); err != nil {
		t.Fatal(err)
	}
	a.leads("form[action='/p/2/share'] button")
	link = a.MustElement("input.link").MustProperty("value").String()
	raw, err := a.MustElement("svg.code").Screenshot(proto.PageCaptureScreenshotFormatPng, 0)
	if err != nil {
		t.Fatal(err)
	}
	img, _, err := image.Decode(bytes.NewReader(raw))
	if err != nil {
		t.Fatal(err)
	}
	if got := decoded(t, img); got != link {
		t.Errorf("the code says %q, the link %q", got, link)
	}
	guest := s.tab(b.MustIncognito(), link[strings.Index(link, "/in/"):], 390, 844)
	guest.clean("a shared link")
	guest.leads("main form button.main")
	guest.ready("build")
	guest.clean("build, by a link")
	guest.MustElement(".step form button.main").MustClick()
	guest.until(`() => document.querySelector('.steps .tick.done')`)
	guest.open(s.URL + "/p/2/bed")
	guest.ready("bed")
	guest.clean("the bed, by a link")
	n := guest.MustEval(`() => [...document.querySelectorAll('form[action$="/edit"]')]
		.filter(f => !f.inert).length`).Int()
	if n > 0 {
		t.Errorf("%d forms of the design can be sent by a link", n)
	}
	a.leads("form[action='/p/2/unshare'] button")
	guest.until(`() => document.getElementById('news').textContent.includes('may not look at this any more')`)
}

// The build sheet is one file: opened from the disk with no network it keeps its ticks, and the code and the file it
// gives bring them back; a slip in the code is told.
func TestBuildSheet(t *testing.T) {
	b := browser(t)
	s := newSite(t)
	raw, code := s.get("/p/2/files/build-sheet.html")
	if code != 200 {
		t.Fatalf("status %d", code)
	}
	path := t.TempDir() + "/sheet.html"
	if err := os.WriteFile(path, []byte(raw), 0o600); err != nil {
		t.Fatal(err)
	}
	pg, err := b.MustIncognito().Page(proto.TargetCreateTarget{URL: "about:blank"})
	if err != nil {
		t.Fatal(err)
	}
	pg.MustSetViewport(390, 844, 1, true)
	p := &tab{pg, t}
	if err := (proto.NetworkEnable{}).Call(p); err != nil {
		t.Fatal(err)
	}
	if err := (proto.NetworkEmulateNetworkConditions{Offline: true, DownloadThroughput: -1,
		UploadThroughput: -1}).Call(p); err != nil {
		t.Fatal(err)
	}
	p.open("file://" + path)
	p.clean("the build sheet")
	tick := func(n int) {
		p.MustEval(`(n) => document.querySelectorAll('.step')[n].scrollIntoView({ block: 'center' })`, n)
		p.clickOn(`.step:nth-of-type(` + string(rune('1'+n)) + `) input`)
	}
	tick(0)
	tick(2)
	p.until(`() => document.getElementById('count').textContent.startsWith('2 of ')`)
	open := p.MustEval(`() => [...document.querySelectorAll('.step')]
		.findIndex(s => s.querySelector('details').open)`).Int()
	if open != 1 {
		t.Errorf("step %d is open, not the first that is not done", open)
	}
	p.MustReload()
	p.until(`() => document.getElementById('count')?.textContent.startsWith('2 of ')`)
	said := p.text("#code")
	pl := s.planOf(2)
	want := map[string]bool{pl.Steps[0].ID: true, pl.Steps[2].ID: true}
	if code := export.TicksCode(pl, want); code != said {
		t.Errorf("the sheet says %s, the program %s", said, code)
	}
	for i, r := range said { // any one letter that is another
		if r != '-' {
			other := "0"
			if r == '0' {
				other = "Z"
			}
			if _, err := export.ReadTicks(pl, said[:i]+other+said[i+1:]); err == nil {
				t.Errorf("a slip at letter %d is taken", i)
			}
		}
	}
	page, status := s.post("/p/2/ticks", map[string][]string{"code": {"ABCD-EFGH"}})
	has(t, page, "There is a slip in this code")
	if status != 422 || !strings.Contains(page, `value="ABCD-EFGH"`) {
		t.Errorf("status %d, or what was typed is lost", status)
	}
	page, _ = s.post("/p/2/ticks", map[string][]string{"code": {strings.ToLower(strings.ReplaceAll(said, "-", " "))}})
	has(t, page, "2 of ")
	if ticks, err := s.store.Ticks(t.Context(), 2); err != nil || len(ticks) != 2 || !ticks["step:"+pl.Steps[2].ID].Done {
		t.Errorf("%v %v", ticks, err)
	}
	if _, err := export.ReadTicks(s.planOf(3), said); err == nil {
		t.Error("the code of another project is taken")
	}
	s.post("/p/2/ticks", map[string][]string{"code": {`{"format":"chamfer-ticks-1","done":["` + pl.Steps[1].ID +
		`","gone"]}`}})
	if ticks, _ := s.store.Ticks(t.Context(), 2); len(ticks) != 1 || !ticks["step:"+pl.Steps[1].ID].Done {
		t.Errorf("the file brings %v", ticks)
	}
}

// planOf is a project's plan, as the pages make it.
func (s *site) planOf(id int64) *plan.Plan {
	s.t.Helper()
	p, err := s.store.Project(context.Background(), id)
	if err != nil {
		s.t.Fatal(err)
	}
	shop, _, err := s.h.shopFor(context.Background(), p.Household, p.Design.Region, id)
	if err != nil {
		s.t.Fatal(err)
	}
	pl, err := plan.Make(p.Design, shop)
	if err != nil {
		s.t.Fatal(err)
	}
	return pl
}
