package web

import (
	"bytes"
	"math/rand/v2"
	"mime/multipart"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"

	"chamfer/sim"
)

// The ground is read at the kitchen table: pegs at the corners that are suggested, heights typed,
// the bed stood where cut equals fill, the section's end dragged and moved by the arrows and its
// twin typed; what cannot be read stays as it was typed, with the reason.
func TestGroundRead(t *testing.T) {
	b := browser(t)
	s := newSite(t)
	p := s.tab(b, "/p/2/ground", 1280, 900)
	p.ready("ground")
	cells := func(name string, values ...string) {
		all := p.MustElements(`.book-table input[name=` + name + `]`)
		for i, v := range values {
			all[i].MustSelectAllText().MustInput(v)
		}
	}
	work := func() { p.MustElement(`.book-form button`).MustClick() }
	text := p.text
	if p.MustHas(`.d-contour`) || !p.MustHas(`.drawing.wide .d-lawn`) {
		t.Error("ground that was not read has contours, or no drawing")
	}
	cells("r-height", "0", "1 in", "5 in", "four")
	work()
	p.until(`() => document.getElementById('book-err')?.textContent.includes('line 5, column 4 (height)')`)
	if got := p.MustElements(`.book-table input[name=r-height]`)[3].MustProperty("value").String(); got != "four" {
		t.Errorf("what was refused is %q", got)
	}
	p.saved(func() { cells("r-height", "0", "1 in", "5 in", "4 in"); work() })
	if !p.MustHas(`.drawing.wide .d-contour`) || !strings.Contains(text(`.side`), "The plot falls 1 in") {
		t.Error("no contours, or no fall")
	}
	if got := text(`.book-table tbody tr:nth-child(3) td:last-child`); got != "5 in" {
		t.Errorf("the third peg comes to %q", got)
	}
	p.saved(func() { p.clickOn(`input[name="level:0"][value=balanced]`) })
	if got := text(`.drawing.wide .d-section`); !strings.Contains(got, "dig") || !strings.Contains(got, "fill") {
		t.Errorf("where cut equals fill the section says %q", got)
	}
	p.saved(func() {
		p.MustElement(`#level-0-typed`).MustSelectAllText().MustInput("3 in")
		p.MustElement(`#level-0-typed`).MustType(input.Enter)
	})
	if got := p.MustElement(`#level-0-typed`).MustProperty("value").String(); got != "3 in" {
		t.Errorf("a height that was typed is %q", got)
	}
	// the section
	was := text(`.drawing.wide .d-section`)
	at := p.MustEval(`() => { const g = document.querySelector('.drawing.wide .d-cut-end[data-end="0"]')
		g.scrollIntoView({ block: 'center' }); const r = g.querySelector('.d-peg-dot').getBoundingClientRect()
		return { x: r.left + r.width / 2, y: r.top + r.height / 2 } }`)
	x, y := at.Get("x").Num(), at.Get("y").Num()
	p.Mouse.MustMoveTo(x, y).MustDown(proto.InputMouseButtonLeft)
	p.Mouse.MustMoveTo(x+20, y-10)
	p.Mouse.MustMoveTo(x+60, y-20)
	p.Mouse.MustUp(proto.InputMouseButtonLeft)
	p.until(`(was) => location.search.includes('cut=') &&
		document.querySelector('.drawing.wide .d-section').textContent !== was`, was)
	typed := p.MustElement(`input[name=cut-right]`).MustProperty("value").String()
	p.MustElement(`.drawing.wide .d-cut-end[data-end="0"]`).MustFocus()
	p.Keyboard.MustType(input.ArrowRight)
	p.until(`(was) => document.querySelector('input[name=cut-right]').value !== was &&
		document.activeElement.classList.contains('d-cut-end')`, typed)
	if body, code := s.get("/p/2/ground?cut-right=0&cut-out=3ft&cut-to-right=10ft&cut-to-out=3ft"); code != 200 ||
		!strings.Contains(body, "section P to Q, 10&#39;") {
		t.Errorf("a section that was typed: status %d", code)
	}
}

// Readings come from a file and go to one as they were; a file with a fault is refused by line and
// column; the level that is plugged in is read and booked, and says what is wrong when it cannot.
func TestGroundFromElsewhere(t *testing.T) {
	s := newSite(t)
	csv := "peg,right,out,height,back,between,fore,from,there,here\n" +
		"A,0 in,0 in,,55 in,,,,,\nB,96 in,0 in,,,54 1/2 in,,,,\nC,96 in,48 in,,,51 in,,,,\nD,0 in,48 in,,,,52 in,,,\n"
	send := func(text string) (string, int) {
		page, _ := s.get("/p/2/ground")
		rev := page[strings.Index(page, `name="rev" value="`)+18:]
		var body bytes.Buffer
		w := multipart.NewWriter(&body)
		_ = w.WriteField("rev", rev[:strings.Index(rev, `"`)])
		_ = w.WriteField("stage", "ground")
		f, _ := w.CreateFormFile("file", "readings.csv")
		_, _ = f.Write([]byte(text))
		_ = w.Close()
		r, err := s.Client().Post(s.URL+"/p/2/readings", w.FormDataContentType(), &body)
		if err != nil {
			t.Fatal(err)
		}
		return s.read(r)
	}
	if page, code := send(csv); code != 200 || !strings.Contains(page, "It is open") {
		t.Fatalf("a file: status %d", code)
	}
	if got, code := s.get("/p/2/files/readings.csv"); code != 200 || got != csv {
		t.Errorf("status %d, it comes back as %q", code, got)
	}
	for bad, words := range map[string]string{
		"peg,hight\nA,1\n":                         "line 1, column 2",
		"peg,height (m)\nA,0.1\nB,x\n":             "line 3, column 2 (height)",
		"peg,right,height\nA,0,1\n":                "line 1, A: a place is so far",
		"peg,fore\nA,1\n":                          "first sights back",
		"peg,right,out,height\nA,1,1,0\nB,1,1,0\n": "where peg",
	} {
		if page, code := send(bad); code != http.StatusUnprocessableEntity || !strings.Contains(page, words) {
			t.Errorf("%q: status %d, without %q", bad, code, words)
		}
	}
	form := url.Values{"stage": {"ground"}, "sight-peg": {"E"}, "sight-right": {"6 ft"}, "sight-out": {"3 ft"},
		"sight": {"between"}}
	if page, code := s.post("/p/2/level", form); code != http.StatusUnprocessableEntity ||
		!strings.Contains(page, "No level is plugged in") {
		t.Errorf("without a level: status %d", code)
	}
	handler := s.Config.Handler.(*Server)
	handler.Read(Instruments{Level: "127.0.0.1:1"})
	if page, code := s.post("/p/2/level", form); code != http.StatusUnprocessableEntity ||
		!strings.Contains(page, "switched on") || !strings.Contains(page, `name="sight-peg" value="E"`) {
		t.Errorf("with nothing at its address: status %d", code)
	}
	at, unplug, err := sim.Start("127.0.0.1:0", &sim.Level{Up: 1.5, Ground: sim.Garden, Noise: 0.2,
		Rand: rand.New(rand.NewPCG(1, 1))}, sim.Faults{Garble: 5})
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = unplug() }()
	handler.Read(Instruments{Level: at})
	form.Set("sight", "back")
	if page, code := s.post("/p/2/level", form); code != 200 || !strings.Contains(page, `value="E"`) {
		t.Errorf("read: status %d", code)
	}
	got, _ := s.get("/p/2/files/readings.csv")
	lines := strings.Split(strings.TrimSpace(got), "\n")
	if last := lines[len(lines)-1]; len(lines) != 6 || !strings.HasPrefix(last, "E,72 in,36 in,,14") {
		t.Errorf("booked as %q", last)
	}
}
