package web

import (
	"fmt"
	"net/http"
	"time"

	"github.com/gin-gonic/gin"
)

// shownPages are pages as they were shown, for whoever asks again while nothing has changed: what they rest on is the
// file of projects, which counts its changes, and who asks for what.
type shownPages struct{ shelf[string, shownPage] }

type shownPage struct {
	body []byte
	at   time.Time
}

// Bounds of what is kept: a page of six beds is some 200 kB; what is told of the day changes within a minute.
const (
	mostShown = 48 << 20
	shownFor  = time.Minute
)

func (p *shownPages) of(key string) ([]byte, bool) {
	page, ok := p.get(key, func(page shownPage) bool { return time.Since(page.at) <= shownFor })
	return page.body, ok
}

func (p *shownPages) keep(key string, body []byte) {
	p.put(key, shownPage{body, time.Now()}, len(body), mostShown, nil)
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
	body, ok := s.shown.of(key)
	if ok {
		reckoned(c)
		c.Header("Cache-Control", "no-store")
		c.Data(http.StatusOK, "text/html; charset=utf-8", body)
	}
	return ok
}
