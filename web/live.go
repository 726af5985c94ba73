package web

import (
	"encoding/json"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"sync"
	"time"

	"github.com/gin-gonic/gin"

	"chamfer/people"
	"chamfer/store"
)

// live tells the open pages of a project what others change in it, and who is there.
type live struct {
	mu    sync.Mutex
	pages map[*page]bool
	ended bool
}

// page is one open page of a project.
type page struct {
	project, household int64
	tab                string // what the page calls itself
	name               string // of whoever looks, "" where nobody is known
	news               chan news
	look               chan struct{} // may it still?
}

// news is what an open page is told.
type news struct {
	Kind string   `json:"-"`
	By   string   `json:"by,omitempty"`
	What string   `json:"what,omitempty"`
	Who  []string `json:"who,omitempty"`
}

const (
	mostPages  = 200 // open at once
	heartbeat  = 20 * time.Second
	newsQueued = 16
)

func (l *live) open(p *page) bool {
	l.mu.Lock()
	defer l.mu.Unlock()
	if l.ended || len(l.pages) >= mostPages {
		return false
	}
	if l.pages == nil {
		l.pages = map[*page]bool{}
	}
	l.pages[p] = true
	l.whoIsThere(p.project)
	return true
}

func (l *live) close(p *page) {
	l.mu.Lock()
	defer l.mu.Unlock()
	if l.pages[p] {
		delete(l.pages, p)
		l.whoIsThere(p.project)
	}
}

// whoIsThere tells all pages of a project who looks at it.
func (l *live) whoIsThere(project int64) {
	var who []string
	for p := range l.pages {
		if p.project == project && p.name != "" && !slices.Contains(who, p.name) {
			who = append(who, p.name)
		}
	}
	slices.Sort(who)
	l.tell(func(p *page) bool { return p.project == project }, news{Kind: "who", Who: who})
}

// tell puts news into the queue of some pages. One that does not keep up is left out: the next it gets makes it look
// anew all the same.
func (l *live) tell(to func(*page) bool, n news) {
	for p := range l.pages {
		if to(p) {
			select {
			case p.news <- n:
			default:
			}
		}
	}
}

// changed tells the pages of a project, but for the one that did it.
func (l *live) changed(project int64, tab, by, what string) {
	l.mu.Lock()
	defer l.mu.Unlock()
	l.tell(func(p *page) bool { return p.project == project && (tab == "" || p.tab != tab) },
		news{Kind: "changed", By: by, What: what})
}

// shared tells the pages of a household that what all its projects share has changed.
func (l *live) shared(household int64, but int64, by, what string) {
	l.mu.Lock()
	defer l.mu.Unlock()
	l.tell(func(p *page) bool { return p.household == household && p.project != but }, news{Kind: "changed", By: by,
		What: what})
}

// check lets every page see whether it may still look.
func (l *live) check() {
	l.mu.Lock()
	defer l.mu.Unlock()
	for p := range l.pages {
		select {
		case p.look <- struct{}{}:
		default:
		}
	}
}

// end closes all of them, and opens no more.
func (l *live) end() {
	l.mu.Lock()
	defer l.mu.Unlock()
	l.ended = true
	for p := range l.pages {
		close(p.news)
		delete(l.pages, p)
	}
}

// events streams what happens in a project to an open page, for as long as whoever looks may.
func (s *Server) events(c *gin.Context) {
	h, ok := s.head(c)
	if !ok {
		return
	}
	v := visitorOf(c)
	p := &page{project: h.ID, household: h.Household, tab: c.Query("tab"), name: v.Name, news: make(chan news, newsQueued),
		look: make(chan struct{}, 1)}
	if len(p.tab) > 40 {
		p.tab = p.tab[:40]
	}
	if len(v.Shares) > 0 && v.Account == 0 {
		p.name = "a guest"
	}
	out := http.NewResponseController(c.Writer)
	if !s.live.open(p) {
		c.Status(http.StatusNoContent) // a browser asks no more
		return
	}
	defer s.live.close(p)
	c.Header("Content-Type", "text/event-stream")
	c.Header("Cache-Control", "no-store")
	c.Header("X-Accel-Buffering", "no")
	write := func(text string) bool {
		_ = out.SetWriteDeadline(time.Now().Add(heartbeat))
		_, err := fmt.Fprint(c.Writer, text)
		return err == nil && out.Flush() == nil
	}
	if !write("retry: 3000\n\n") {
		return
	}
	beat := time.NewTicker(heartbeat)
	defer beat.Stop()
	for {
		text := ": still here\n\n"
		select {
		case <-c.Request.Context().Done():
			return
		case n, on := <-p.news:
			if !on {
				return
			}
			raw, err := json.Marshal(n)
			if err != nil {
				return
			}
			text = "event: " + n.Kind + "\ndata: " + string(raw) + "\n\n"
		case <-p.look:
		case <-beat.C:
		}
		if !s.still(c, h) {
			_ = write("event: out\ndata: {}\n\n")
			return
		}
		if !write(text) {
			return
		}
	}
}

// still reports whether whoever opened a page may look at its project now.
func (s *Server) still(c *gin.Context, h store.Standing) bool {
	token := ""
	m := s.sessionsOf(c.Request)
	if k, err := c.Request.Cookie(m.Cookie.Name); err == nil {
		token = k.Value
	}
	ctx, err := m.Load(c.Request.Context(), token)
	if err != nil {
		return false
	}
	now := c.Copy()
	now.Request = c.Request.WithContext(ctx)
	v, err := s.visitor(now)
	if err != nil {
		return false
	}
	role, err := s.roleIn(ctx, v, h)
	return err == nil && role.May(people.Look)
}

// telling tells the open pages of a project of what was done to it.
func (s *Server) telling(c *gin.Context) {
	c.Next()
	if c.Request.Method != http.MethodPost || c.Writer.Status() >= http.StatusBadRequest {
		return
	}
	what := c.GetString(doneKey)
	if what == "" {
		return
	}
	project, by := s.number(c), visitorOf(c).Name
	s.live.changed(project, c.GetHeader("X-Chamfer-Tab"), by, what)
	if !c.GetBool(sharedKey) {
		return
	}
	if h, err := s.store.Standing(asked(c), project); err == nil {
		s.live.shared(h.Household, project, by, what)
	}
}

// doneKey is what was done in a request, for those who look on; sharedKey says that it is of the household.
const doneKey, sharedKey = "done", "shared"

// number is that of the project in the address, 0 for none.
func (s *Server) number(c *gin.Context) int64 {
	n, err := strconv.ParseInt(c.Param("id"), 10, 64)
	if err != nil {
		return 0
	}
	return n
}
