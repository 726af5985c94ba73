package web

import (
	"container/list"
	"fmt"
	"net/http"
	"sync"
	"time"

	"github.com/gin-gonic/gin"
)

// shownPages are pages as they were shown, for whoever asks again while nothing has changed: what they rest on is the
// file of projects, which counts its changes, and who asks for what. They are bounded by their bytes, and the ones that
// were asked for longest ago go first.
type shownPages struct {
	mu    sync.Mutex
	by    map[string]*list.Element
	order list.List // of shownPage, the newest first
	bytes int
}

type shownPage struct {
	key  string
	body []byte
	at   time.Time
}

// Bounds of what is kept: a page of six beds is some 200 kB; what is told of the day changes within a minute.
const (
	mostShown = 48 << 20
	shownFor  = time.Minute
)

func (p *shownPages) get(key string) ([]byte, bool) {
	p.mu.Lock()
	defer p.mu.Unlock()
	e, ok := p.by[key]
	if !ok {
		return nil, false
	}
	page := e.Value.(shownPage)
	if time.Since(page.at) > shownFor {
		p.drop(e)
		return nil, false
	}
	p.order.MoveToFront(e)
	return page.body, true
}

func (p *shownPages) put(key string, body []byte) {
	p.mu.Lock()
	defer p.mu.Unlock()
	if p.by == nil {
		p.by = map[string]*list.Element{}
	}
	if e, ok := p.by[key]; ok {
		p.drop(e)
	}
	p.by[key] = p.order.PushFront(shownPage{key, body, time.Now()})
	for p.bytes += len(body); p.bytes > mostShown; {
		p.drop(p.order.Back())
	}
}

func (p *shownPages) drop(e *list.Element) {
	page := p.order.Remove(e).(shownPage)
	delete(p.by, page.key)
	p.bytes -= len(page.body)
}

// shownKey is where the key of a page that may be shown again is kept, while it is made.
const shownKey = "shown"

// shownAgain answers with a page as it was shown before, where nothing has changed since. What is told of a search that
// goes on is in no file.
func (s *Server) shownAgain(c *gin.Context, stage string) bool {
	if stage == cutsStage.Key {
		return false
	}
	version, err := s.store.Version(asked(c))
	if err != nil {
		return false
	}
	_, sunlit := c.Cookie(sunlightCookie)
	role, _ := c.Get(roleKey)
	key := fmt.Sprintf("%d\n%s\n%v %v %v\n%+v", version, c.Request.URL.RequestURI(), scripted(c), sunlit == nil, role,
		visitorOf(c))
	c.Set(shownKey, key)
	body, ok := s.shown.get(key)
	if ok {
		c.Header("Cache-Control", "no-store")
		c.Data(http.StatusOK, "text/html; charset=utf-8", body)
	}
	return ok
}
