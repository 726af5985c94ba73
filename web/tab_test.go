package web

import (
	_ "embed"
	"os"
	"os/exec"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/launcher"
	"github.com/go-rod/rod/lib/proto"
)

//go:embed testdata/axe.min.js
var axe string

// browser starts Debian's Chromium, or skips with the reason.
func browser(t testing.TB) *rod.Browser {
	t.Helper()
	bin, err := exec.LookPath("chromium")
	if err != nil {
		t.Skip("Chromium is not installed: apt-get install chromium")
	}
	l := launcher.New().Bin(bin).Leakless(false).NoSandbox(true).Headless(true).
		Set("disable-gpu").Set("disable-quic").Set("no-first-run").Set("disable-background-networking").
		Set("disable-component-update").Set("disable-sync").Set("hide-scrollbars").UserDataDir(t.TempDir())
	url, err := l.Launch()
	if err != nil {
		t.Fatal(err)
	}
	b := rod.New().ControlURL(url)
	if err := b.Connect(); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() {
		_ = b.Close()
		l.Kill()
		l.Cleanup()
	})
	return b
}

// tab is a page with the helpers the tests need.
type tab struct {
	*rod.Page
	t testing.TB
}

func (s *site) tab(b *rod.Browser, path string, w, h int) *tab {
	s.t.Helper()
	p, err := b.Page(proto.TargetCreateTarget{URL: "about:blank"})
	if err != nil {
		s.t.Fatal(err)
	}
	p = p.Timeout(5 * time.Minute)
	p.MustSetViewport(w, h, 1, w < 600)
	t := &tab{p, s.t}
	t.open(s.URL + path)
	return t
}

func (t *tab) open(url string) {
	t.t.Helper()
	t.MustNavigate(url)
	t.until(`() => document.readyState === 'complete'`)
}

func (t *tab) text(selector string) string {
	t.t.Helper()
	return strings.TrimSpace(t.MustElement(selector).MustProperty("textContent").String())
}

// prints checks that a page comes out as a PDF.
func (t *tab) prints() {
	t.t.Helper()
	raw, err := t.PDF(&proto.PagePrintToPDF{PrintBackground: true})
	if err != nil {
		t.t.Fatal(err)
	}
	pdf := make([]byte, 5)
	if _, err := raw.Read(pdf); err != nil || string(pdf) != "%PDF-" {
		t.t.Errorf("%q %v", pdf, err)
	}
}

// clickOn presses the middle of an element, a part of a drawing too.
func (t *tab) clickOn(selector string) {
	t.t.Helper()
	at := t.MustEval(
		`(s) => { const e = document.querySelector(s); e.scrollIntoView({ block: 'center' }); const r = `+
			`e.getBoundingClientRect(); return { x: r.left + r.width / 2, y: r.top + r.height / 2 } }`,
		selector,
	)
	t.Mouse.MustMoveTo(at.Get("x").Num(), at.Get("y").Num()).MustClick(proto.InputMouseButtonLeft)
}

// figure is the number of the tally with a key, without its change.
func (t *tab) figure(key string) string {
	t.t.Helper()
	return t.MustEval(`(k) => document.querySelector('.figure-' + k + ' .value').textContent.trim()`, key).String()
}

// until waits for a condition of the page, written in JavaScript.
func (t *tab) until(js string, args ...any) {
	t.t.Helper()
	if err := t.Page.Timeout(20 * time.Second).Wait(rod.Eval("(...a) => Boolean(("+js+")(...a))",
		args...)); err != nil {
		_ = os.MkdirAll("testdata/failed", 0o755)
		t.MustScreenshot("testdata/failed/" + t.t.Name() + ".png")
		t.t.Fatalf("%s %v: %v; testdata/failed has a picture", js, args, err)
	}
}

// saved waits until a change has been taken: the revision has moved on.
func (t *tab) saved(do func()) {
	t.t.Helper()
	before := t.rev()
	do()
	t.until(`(r) => {
		const e = document.querySelector('input[name=rev]')
		return e && e.value !== r && !document.documentElement.hasAttribute('data-sending')
	}`, before)
}

func (t *tab) rev() string {
	return t.MustEval(`() => document.querySelector('input[name=rev]').value`).String()
}

// stage goes to a stage by its link and waits until the script has taken over.
func (t *tab) stage(key string) {
	t.t.Helper()
	t.MustElement(".path a[href*='/" + key + "']").MustClick()
	t.ready(key)
}

func (t *tab) ready(key string) {
	t.t.Helper()
	t.until(
		`(k) => document.documentElement.classList.contains('js') && document.readyState === 'complete' && `+
			`document.getElementById('bench')?.dataset.stage === k`,
		key,
	)
}

func (t *tab) fill(selector, text string) {
	t.t.Helper()
	t.MustElement(selector).MustSelectAllText().MustInput(text)
}

func (t *tab) press(keys ...input.Key) {
	t.t.Helper()
	if err := t.Keyboard.Type(keys...); err != nil {
		t.t.Fatal(err)
	}
}
