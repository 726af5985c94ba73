package web

import (
	"io"
	"net"
	"net/url"
	"strings"
	"sync"
	"testing"
	"time"

	"chamfer/core/design"
	"chamfer/store"
)

// plug is a cable between a browser and the site, which can be pulled.
type plug struct {
	t    *testing.T
	to   string
	addr string
	l    net.Listener
	mu   sync.Mutex
	open []net.Conn
}

func (s *site) plug(t *testing.T) *plug {
	t.Helper()
	u, err := url.Parse(s.URL)
	if err != nil {
		t.Fatal(err)
	}
	p := &plug{t: t, to: u.Host, addr: "127.0.0.1:0"}
	p.in()
	t.Cleanup(p.out)
	return p
}

// in plugs it in, at the address it had.
func (p *plug) in() {
	l, err := net.Listen("tcp", p.addr)
	if err != nil {
		p.t.Fatal(err)
	}
	p.l, p.addr = l, l.Addr().String()
	go func() {
		for {
			a, err := l.Accept()
			if err != nil {
				return
			}
			b, err := net.Dial("tcp", p.to)
			if err != nil {
				_ = a.Close()
				continue
			}
			p.mu.Lock()
			p.open = append(p.open, a, b)
			p.mu.Unlock()
			go func() { _, _ = io.Copy(a, b); _ = a.Close() }()
			go func() { _, _ = io.Copy(b, a); _ = b.Close() }()
		}
	}()
}

// out pulls it: nobody answers there any more, and what was under way breaks off.
func (p *plug) out() {
	_ = p.l.Close()
	p.mu.Lock()
	defer p.mu.Unlock()
	for _, c := range p.open {
		_ = c.Close()
	}
	p.open = nil
}

// A job is built on a phone: the bar at the thumb goes through the steps, a wait counts from when its step was ticked,
// and with the cable pulled the pages that were taken along are there, a tick waits on the phone, goes on to the next
// step, and arrives when the network is back, with the time it was given; one that cannot be taken any more is told and
// stays until it is seen.
func TestBuildWithoutTheNetwork(t *testing.T) {
	b := browser(t)
	s := newSite(t)
	cable := s.plug(t)
	s.post("/p/2/edit", url.Values{"stage": {"fill"}, "mulch": {"straw"}})
	steps := s.planOf(2).Steps
	phone := s.tab(b, "/p/2/bed", 390, 844)
	phone.open("http://" + cable.addr + "/p/2/build")
	phone.ready("build")
	now := func() string { return phone.text(`.step h2`) }
	ticked := func(n int) bool {
		ticks, err := s.store.Ticks(t.Context(), 2)
		return err == nil && ticks["step:"+steps[n].ID].Done
	}
	if !strings.HasPrefix(now(), "1. ") {
		t.Fatalf("it begins with %s", now())
	}
	phone.clickOn(`.step-bar button.main`)
	phone.until(`() => document.querySelector('.step h2').textContent.startsWith('2.')`)
	if !ticked(0) {
		t.Error("the first is not ticked")
	}
	phone.clickOn(`[data-take]`)
	phone.until(`() => document.querySelector('.along-kept').textContent.startsWith('All ')`)

	cable.out()
	phone.clickOn(`.step-bar button.main`) // the second, without a network
	phone.until(`() => document.querySelector('.step h2').textContent.startsWith('3.')`)
	phone.until(`() => document.querySelector('.along-waits').textContent.startsWith('One tick waits')`)
	if done := phone.text(`[data-count]`); done != "2" || ticked(1) {
		t.Errorf("%s are done on the phone, and on the machine: %v", done, ticked(1))
	}
	phone.clickOn(`.step-bar button.main`) // and the third
	phone.until(`() => document.querySelector('.step h2').textContent.startsWith('4.')`)
	phone.MustNavigate("http://" + cable.addr + "/p/2/cuts")
	phone.until(`() => document.querySelectorAll('.cut-board').length > 0`)
	phone.MustNavigate("http://" + cable.addr + "/p/2/cautions")
	phone.until(`() => document.body.textContent.includes('back at you')`)
	phone.MustNavigate("http://" + cable.addr + "/p/2/build?step=" + steps[3].ID)
	phone.until(`() => document.querySelector('.along-waits')?.textContent.startsWith('2 ticks wait')`)
	if _, err := s.store.Ticks(t.Context(), 2); err != nil || ticked(1) {
		t.Error("a tick came through a cable that is pulled")
	}
	// Meanwhile a step goes from the design; its tick waits on the phone.
	cap := -1
	for i, st := range steps {
		if strings.Contains(st.ID, "fix-cap") {
			cap = i
		}
	}
	phone.MustNavigate("http://" + cable.addr + "/p/2/build?step=" + steps[cap].ID)
	phone.until(`() => document.querySelector('.step h2')?.textContent.includes('cap')`)
	phone.clickOn(`.step-bar button.main`)
	phone.until(`() => document.querySelector('.along-waits')?.textContent.startsWith('3 ticks wait')`)
	s.post("/p/2/edit", url.Values{"stage": {"frame"}, "cap": {string(design.NoCap)}})

	cable.in()
	phone.MustNavigate("http://" + cable.addr + "/p/2/build")
	phone.until(`() => document.querySelector('.along-waits')?.textContent === '' &&
		document.querySelector('.along-refused')?.textContent.includes('There is no such step')`)
	if !ticked(1) || !ticked(2) {
		t.Error("the ticks have not arrived")
	}
	phone.MustNavigate("http://" + cable.addr + "/p/2/build")
	phone.until(`() => !!document.querySelector('.along-refused button')`)
	phone.clickOn(`.along-refused button`)
	phone.until(`() => !document.querySelector('.along-refused button')`)

	s.post("/p/2/tick", url.Values{"tick": {"settle"}, "done": {"yes"}, "at": {
		time.Now().Add(-36 * time.Hour).UTC().Format(time.RFC3339)}})
	phone.MustNavigate("http://" + cable.addr + "/p/2/build?step=mulch")
	phone.until(`() => !!document.querySelector('.waits time')?.textContent.match(/in (11|12) h/)`) // 48 less 36
	phone.clean("a step on a phone")
	s.post("/p/2/tick", url.Values{"tick": {"settle"}, "done": {"yes"}, "at": {"2099-01-01T00:00:00Z"}})
	if ticks, err := s.store.Ticks(t.Context(), 2); err != nil || strings.HasPrefix(ticks["step:settle"].At, "2099") {
		t.Errorf("a tick from the future: %v, %v", ticks["step:settle"], err)
	}
}

// What a step took is written down beside it, refused with what can be read, stands against what was planned on the
// Log, and what is learnt of it is offered with its reason and only counted on when it is taken; it goes with the
// project's file.
func TestRecord(t *testing.T) {
	b := browser(t)
	s := newSite(t)
	s.post("/p/2/edit", url.Values{"calendar:start": {"2027-04-03"}, "was:calendar:start": {""}, "stage": {"calendar"}})
	page, _ := s.get("/p/2/log")
	has(t, page, "What steps took is written down")
	p := s.tab(b, "/p/2/build?step=cut", 390, 844)
	p.ready("build")
	p.clickOn(`.took summary`)
	p.MustElement(`#took`).MustInput("a while")
	p.MustElement(`#note`).MustInput("blunt blade")
	p.clickOn(`.took button`)
	p.until(`() => document.getElementById('err-took')?.textContent.includes('1.5 h by 2')`)
	if got := p.MustElement(`#note`).MustProperty("value").String(); got != "blunt blade" {
		t.Errorf("the note became %q", got)
	}
	p.MustElement(`#took`).MustSelectAllText().MustInput("8 h by 2")
	p.clickOn(`.took button`)
	p.until(`() => document.querySelector('[data-step=cut] .tick').classList.contains('done')`)
	p.clean("writing down what it took")
	before, _ := s.get("/p/2/calendar")
	page, _ = s.get("/p/2/log")
	has(t, page, "blunt blade", "8 h by 2", "The published rates, which say 1", "The calendar counts on 1.00")
	p.open(s.URL + "/p/2/log")
	p.ready("log")
	p.saved(func() { p.clickOn(`.record form button`) })
	if offered := p.MustHas(`.record form button`); offered {
		t.Error("what is counted on already is offered")
	}
	after, _ := s.get("/p/2/calendar")
	done := func(page string) string { _, rest, _ := strings.Cut(page, `<p>About `); return rest[:60] }
	if done(before) == done(after) {
		t.Errorf("with longer times it takes just the same: %s", done(after))
	}
	raw, _ := s.get("/p/2/files/project.chamfer.json")
	if !strings.Contains(raw, `"minutes": 480`) || !strings.Contains(raw, `"times": `) {
		t.Errorf("the file says nothing of it: %.400s", raw)
	}
	s.upload("again.chamfer.json", []byte(raw))
	list, err := s.store.List(t.Context(), store.Scope{Household: store.Home}, store.After{}, "", 10)
	if err != nil {
		t.Fatal(err)
	}
	if kept, err := s.store.Takings(t.Context(), list[0].ID); err != nil || len(kept) != 1 || kept[0].People != 2 ||
		kept[0].Note != "blunt blade" {
		t.Errorf("read back it is %v, %v", kept, err)
	}
	s.post("/p/2/tick", url.Values{"tick": {"cut"}, "done": {"yes"}, "took": {""}, "note": {""}})
	if kept, _ := s.store.Takings(t.Context(), 2); len(kept) != 0 {
		t.Errorf("taken out it is still there: %v", kept)
	}
}
